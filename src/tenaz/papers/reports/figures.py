"""A report for other programs: every figure with what it rests on, or the client's page line by line."""

import csv
import io
import json
from collections.abc import Iterable
from typing import Any

from tenaz.papers.harmless import as_text as cell_text
from tenaz.papers.reports.report import Report, to_json
from tenaz.press.leaf import Leaf, Say, Table

FACT_COLUMNS = ("report", "section", "name", "value", "unit", "trials")
FORM = {"format": "tenaz/report", "version": 1}
LINE_COLUMNS = ("report", "heading", "what", "said")


def as_json_text(report: Report) -> str:
    """Facts as they are, and by section."""
    data: dict[str, Any] = {**FORM, **json.loads(to_json(report)), "proven": report.proven}
    return json.dumps(data, indent=1) + "\n"


def archive_csv(report: Report) -> str:
    """A row a fact."""
    rows = ((one.section, one.name, one.value, one.unit, " ".join(one.trials)) for one in report.facts)
    return _written(report, FACT_COLUMNS, rows)


def client_csv(report: Report, leaf: Leaf) -> str:
    """A row a paragraph or a line of a table, as they stand on the client's page."""
    rows = [("", "", leaf.verdict)]
    for block in leaf.blocks:
        match block:
            case Say(heading=heading, text=text):
                rows += [(heading, "", line) for line in text.split("\n")]
            case Table(heading=heading, rows=cells):
                rows += [(heading, row[0], " · ".join(cell for cell in row[1:] if cell)) for row in cells]
            case _:
                pass
    return _written(report, LINE_COLUMNS, rows)


def _written(report: Report, columns: tuple[str, ...], rows: Iterable[tuple[str, ...]]) -> str:
    """What a spreadsheet would take for a formula is kept from being one."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(columns)
    for row in rows:
        writer.writerow((report.number, *map(cell_text, row)))
    return text.getvalue()
