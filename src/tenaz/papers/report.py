"""A report as it was given out: what it says, each figure with the trials that it rests on. It stays as it is."""

import csv
import io
import json
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum
from typing import TYPE_CHECKING, Any

from pydantic import TypeAdapter

from tenaz.papers.harmless import as_text as cell_text
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role

if TYPE_CHECKING:
    from collections.abc import Sequence

MOST_TRIALS_NAMED = 12
ENDINGS = (".pdf", ".html", ".csv", ".json", ".txt")


class Edition(StrEnum):
    """For whom: a page in plain words, or all of it."""

    CLIENT = "client"
    SHELF = "shelf"


@dataclass(frozen=True, slots=True)
class Fact:
    """One figure: where it stands, what it is called, its value and unit, and the numbers of the trials (or measures,
    as ``m3``) that it rests on.
    """

    section: str
    name: str
    value: str
    unit: str = ""
    trials: tuple[str, ...] = ()

    @property
    def rests_on(self) -> str:
        """The trials, in words."""
        named = ", ".join(self.trials[:MOST_TRIALS_NAMED])
        more = len(self.trials) - MOST_TRIALS_NAMED
        return named + (f" and {more} more" if more > 0 else "")


@dataclass(frozen=True, slots=True)
class Words:
    """A paragraph under a heading (empty: it goes on); ``red`` is what must not be overlooked."""

    heading: str
    text: str
    red: bool = False


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture as it stood then: runs of text with their roles, row by row."""

    title: str
    rows: tuple[tuple[tuple[str, Role], ...], ...]

    @property
    def cells(self) -> Cells:
        """To be drawn again."""
        width = max((sum(len(text) for text, _ in row) for row in self.rows), default=0)
        cells = Cells(width, len(self.rows))
        for at, row in enumerate(self.rows):
            column = 0
            for text, role in row:
                cells.put(column, at, text, role)
                column += len(text)
        return cells


def picture_of(title: str, cells: Cells) -> Picture:
    """A drawing kept as it is; empty rows at its end are left out."""
    rows = [tuple((run.text, run.role) for run in row) for row in cells.rows()]
    while rows and not any(text.strip() for text, _ in rows[-1]):
        rows.pop()
    return Picture(title, tuple(rows))


@dataclass(frozen=True, slots=True)
class Report:
    """``owed`` is what must still be shown (empty: proven); ``client`` what is said in plain words; ``since`` what
    changed against the report before. ``setpoint`` is a sheet to be typed in again, as TOML.
    """

    number: int
    rig: str
    owner: str
    at_utc: datetime
    made_with: str
    simulated: bool
    owed: tuple[str, ...]
    client: tuple[Words, ...]
    facts: tuple[Fact, ...]
    pictures: tuple[Picture, ...] = ()
    setpoint: str = ""
    since: tuple[str, ...] = ()

    @property
    def proven(self) -> bool:
        """Whether all that the purpose asks for was shown."""
        return not self.owed

    @property
    def title(self) -> str:
        """Its first line."""
        return f"{self.rig}{f', of {self.owner}' if self.owner else ''}: report {self.number}"

    @property
    def dated(self) -> str:
        """Its second line."""
        told = "SIMULATED RIG: says nothing of a real one · " if self.simulated else ""
        return f"{told}{self.at_utc:%d %b %Y %H:%M} UTC · {self.made_with}"

    @property
    def sections(self) -> tuple[str, ...]:
        """In the order of the facts."""
        return tuple(dict.fromkeys(fact.section for fact in self.facts))

    def of(self, section: str) -> tuple[Fact, ...]:
        """The facts of a section."""
        return tuple(fact for fact in self.facts if fact.section == section)

    def same_as(self, other: "Report") -> bool:
        """Whether it says the same, whenever that was."""
        return replace(self, number=0, at_utc=other.at_utc, since=()) == replace(other, number=0, since=())

    def since_report(self, before: "Report") -> "Report":
        """The same, saying what changed against one before."""
        return replace(self, since=changes_since(before, self))


def changes_since(before: Report, now: Report) -> tuple[str, ...]:
    """What a newer report says otherwise."""
    was = {(fact.section, fact.name): fact for fact in before.facts}
    here = {(fact.section, fact.name): fact for fact in now.facts}
    found = []
    if before.proven is not now.proven:
        found.append("now proven, it was not" if now.proven else "no longer proven, it was")
    for key, fact in here.items():
        old = was.get(key)
        if old is None:
            found.append(f"{fact.section}: {fact.name} is new ({_value(fact)})")
        elif old.value != fact.value:
            found.append(f"{fact.section}: {fact.name} was {_value(old)}, is {_value(fact)}")
    gone = [fact for key, fact in was.items() if key not in here]
    found += [f"{fact.section}: {fact.name} is gone (was {_value(fact)})" for fact in gone]
    return tuple(found)


def _value(fact: Fact) -> str:
    return f"{fact.value} {fact.unit}".strip()


_adapter = TypeAdapter(Report)


def to_json(report: Report) -> bytes:
    """All of it, to be kept or read elsewhere."""
    return _adapter.dump_json(report)


def from_json(data: bytes) -> Report:
    """The opposite of :func:`to_json`."""
    return _adapter.validate_json(data)


def as_json_text(report: Report) -> str:
    """For other programs: facts as they are, and by section."""
    data: dict[str, Any] = {**json.loads(to_json(report)), "proven": report.proven}
    return json.dumps(data, indent=1, ensure_ascii=False) + "\n"


def as_csv(report: Report) -> str:
    """A row a fact; what a spreadsheet would take for a formula is kept from being one."""
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(("report", "section", "name", "value", "unit", "trials"))
    for fact in report.facts:
        cells = (fact.section, fact.name, fact.value, fact.unit, " ".join(fact.trials))
        writer.writerow((report.number, *map(cell_text, cells)))
    return text.getvalue()


def blocks(report: Report, edition: Edition) -> "Sequence[Words | Picture | tuple[str, tuple[Fact, ...]]]":
    """What an edition is made of, in order: paragraphs, tables by section, pictures."""
    proven = Words("", "Everything that was asked for has been shown at these settings.")
    if edition is Edition.CLIENT:
        plain = "NOT YET PROVEN: not everything that was asked for has been shown at these settings."
        return (proven if report.proven else Words("", plain, red=True), *report.client)
    still = f"NOT YET PROVEN, not to be handed over. Still to run: {'; '.join(report.owed)}."
    verdict = proven if report.proven else Words("", still, red=True)
    since = (Words("since the report before", "; ".join(report.since)),) if report.since else ()
    tables = tuple((section, report.of(section)) for section in report.sections)
    sheet = (Words("the sheet, to be typed in or read again", report.setpoint),) if report.setpoint else ()
    return (verdict, *since, *tables, *report.pictures, *sheet)
