"""A whole session on paper: the day, what was climbed, margins, the row cycle, the sheet, the plan, and every trial."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Protocol

from tenaz.advice.known import Searches
from tenaz.core.trials.stands import Stands
from tenaz.core.trials.trial import Trial
from tenaz.pictures.book.cells import BookPicture, draw_book
from tenaz.pictures.climb.cells import draw_climb
from tenaz.pictures.cycle.cells import draw_cycle
from tenaz.pictures.cycle.model import cycle_picture
from tenaz.pictures.day.build import DayGround, day_picture
from tenaz.pictures.day.cells import draw_day
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.cells_paper import export_cells, export_pages
from tenaz.pictures.drawing.paper_head import PaperHead, head_at
from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins
from tenaz.pictures.plan.build import PlanGround, plan_picture
from tenaz.pictures.plan.cells import draw_plan
from tenaz.pictures.sheet.cells import draw_sheet
from tenaz.pictures.sheet.model import sheet_picture
from tenaz.search.registry import strategy_of
from tenaz.workshop.looking.view import Kept

COLUMNS, ROWS = 128, 62
LIST_ROWS = ROWS - 4
MOST_LISTED = 2000
"""Trials that are printed; whoever has more takes the file of all."""

Page = tuple[Cells, PaperHead]


@dataclass(frozen=True, slots=True)
class SessionPaper:
    """Pages that are written to one PDF."""

    pages: tuple[Page, ...]

    def write(self, path: Path) -> None:
        """Write them."""
        export_pages(self.pages, path)


@dataclass(frozen=True, slots=True)
class DayPaper:
    """The day, or with it the whole session."""

    cells: Cells
    head: PaperHead
    session: "Session"

    def write(self, path: Path) -> None:
        """Write the page as SVG, or everything as PDF."""
        if path.suffix.lower() == ".pdf":
            session_paper(self.session).write(path)
        else:
            export_cells(self.cells, self.head, path)


class Session(Protocol):
    """What a session on paper is made of: parts of a view."""

    @property
    def stands(self) -> Stands:
        """What stands."""
        ...

    @property
    def searches(self) -> Searches:
        """Where searches stand."""
        ...

    @property
    def kept(self) -> Kept:
        """What is kept beside trials."""
        ...

    @property
    def story(self) -> str:
        """What brought the rig here."""
        ...

    @property
    def unfinished(self) -> Trial | None:
        """A trial that nobody judged."""
        ...


def ground_of(seen: Session) -> DayGround:
    """What the day is drawn from."""
    stands, kept = seen.stands, seen.kept
    return DayGround(
        stands.rig, stands.index, stands.in_force, seen.searches.pictures, kept.planned, kept.plan_run, kept.notes,
        seen.story, seen.unfinished, _night(seen.searches),
    )  # fmt: skip


def _night(searches: Searches) -> str:
    """What a night came to."""
    if searches.ended is None:
        return ""
    plan, advice = searches.ended
    return f"night: {advice.reason}" if strategy_of(plan.strategy).alone else ""


def plan_ground(stands: Stands, kept: Kept, searches: Searches) -> PlanGround:
    """What the plan is drawn from."""
    return PlanGround(
        stands.rig, stands.index, stands.in_force, kept.planned, searches.every, kept.plan_run, kept.notes,
        stands.bench,
    )  # fmt: skip


def session_paper(seen: Session) -> SessionPaper:
    """All of a rig's session on a bench, as it stands now."""
    now, stands, kept = datetime.now(UTC), seen.stands, seen.kept
    rig, in_force = stands.rig, stands.in_force
    head = head_at("", stands, now)

    def headed(title: str, cells: Cells) -> Page:
        return cells, replace(head, title=title)

    pages = [headed("the day", draw_day(day_picture(ground_of(seen)), COLUMNS, ROWS))]
    for climb in seen.searches.pictures.values():
        pages.append(headed(f"climb of {climb.knob.label}", draw_climb(climb, COLUMNS, ROWS)))
    margins = margins_picture(rig, in_force, stands.index)
    if margins.rows:
        pages.append(headed("margins", draw_margins(margins, COLUMNS, ROWS)))
    cycle = cycle_picture(rig, in_force, rig.knobs[0].name, None, "")
    if cycle is not None:
        pages.append(headed("one row cycle", draw_cycle(cycle, COLUMNS, ROWS)))
    sheet = sheet_picture(rig, in_force, rig.stock, "the sheet as set now, against stock", notes=kept.notes)
    long = len(sheet.rows) + len({row.group for row in sheet.rows}) + 4
    pages.append(headed("the sheet", draw_sheet(sheet, COLUMNS, max(ROWS, long))))
    if kept.planned or kept.plan_run is not None:
        pages.append(
            headed("the plan", draw_plan(plan_picture(plan_ground(stands, kept, seen.searches), now), COLUMNS, ROWS))
        )
    pages += [headed("trials", page) for page in _lists(stands)]
    return SessionPaper(tuple(pages))


def _lists(stands: Stands) -> Sequence[Cells]:
    """Every trial, the newest first, a page full at a time."""
    rows = tuple((trial, stands.rig) for trial in reversed(stands.trials))[:MOST_LISTED]
    parts = [rows[first : first + LIST_ROWS] for first in range(0, len(rows), LIST_ROWS)]
    return [
        draw_book(BookPicture("", part, at=-1, more=len(stands.trials) - len(part)), COLUMNS, ROWS) for part in parts
    ]
