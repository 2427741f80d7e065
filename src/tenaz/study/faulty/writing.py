"""Writes what was learnt of faults as the file that comes along."""

import json
from dataclasses import asdict

from tenaz.finding.learnt import Learnt
from tenaz.finding.prints.suspicion import PrintTable
from tenaz.study.faulty.table import FaultTable


def as_json(found: Learnt) -> str:
    """One line a number or table, so that a difference can be read."""
    data = found.model_dump(mode="json")
    lines = json.dumps(data, indent=1, sort_keys=True)
    return lines + "\n"


def table_as_json(table: FaultTable) -> str:
    """A study as JSON values."""
    return json.dumps({**asdict(table), "part_of_practice": table.part_of_practice}, indent=1) + "\n"


def prints_as_json(found: PrintTable) -> str:
    """What causes leave, as its file stands."""
    return json.dumps(found.model_dump(mode="json"), indent=1, sort_keys=True) + "\n"
