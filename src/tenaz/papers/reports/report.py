"""A report as it was given out: what it says, each figure with the trials that it rests on. It stays as it is."""

from dataclasses import dataclass, field, replace
from datetime import datetime
from enum import StrEnum

from pydantic import TypeAdapter

from tenaz.papers.reports.said import Chapter
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role
from tenaz.press.leaf import Letterhead, Table

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
        """The trials, all of them; neighbours as 3–7."""
        spans: list[tuple[str, int, int]] = []
        for kind, number in sorted({(one.rstrip("0123456789"), int(one.lstrip("m") or 0)) for one in self.trials}):
            if spans and spans[-1][0] == kind and spans[-1][2] == number - 1:
                spans[-1] = (kind, spans[-1][1], number)
            else:
                spans.append((kind, number, number))
        return ", ".join(f"{kind}{first}" + (f"–{kind}{last}" if last > first else "") for kind, first, last in spans)


@dataclass(frozen=True, slots=True)
class Words:
    """A paragraph of the client's page as reports before 0.17 kept it, in English."""

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
    """``owed`` is what must still be shown (empty: proven); ``told`` what is said in plain words, in no language yet
    (``client``: what older reports kept of it); ``since`` what changed against the report before. ``setpoint`` is a
    sheet to be read in again, as TOML; ``moved`` what differs from stock, ``sheet`` all that is set; ``head`` whose
    paper it was.
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
    told: tuple[Chapter, ...] = ()
    moved: Table | None = None
    sheet: Table | None = None
    head: Letterhead = field(default_factory=Letterhead)

    @property
    def proven(self) -> bool:
        """Whether all that the purpose asks for was shown."""
        return not self.owed

    @property
    def title(self) -> str:
        """In a line."""
        return f"{self.rig}{f', of {self.owner}' if self.owner else ''}: report {self.number}"

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
