"""A whole session on paper: the day, what was climbed, margins, the row cycle, the sheet, the plan, and every trial."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from tenaz.core.evidence.shown import evidence_at
from tenaz.pictures.book.cells import BookPicture, draw_book
from tenaz.pictures.climb.cells import draw_climb
from tenaz.pictures.cycle.cells import draw_cycle
from tenaz.pictures.cycle.model import cycle_picture
from tenaz.pictures.day.build import DayGround, day_picture
from tenaz.pictures.day.cells import draw_day
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.cells_paper import export_pages
from tenaz.pictures.drawing.paper_head import PaperHead, paper_head
from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins
from tenaz.pictures.plan.build import PlanGround, plan_picture
from tenaz.pictures.plan.cells import draw_plan
from tenaz.pictures.sheet.cells import draw_sheet
from tenaz.pictures.sheet.model import sheet_picture
from tenaz.workshop.looking.view import View

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


def day_ground(view: View) -> DayGround:
    """What the day is drawn from."""
    return DayGround(
        view.rig,
        view.index,
        view.in_force,
        view.pictures,
        view.planned,
        view.plan_run,
        view.notes,
        view.story,
        view.unfinished,
    )


def plan_ground(view: View) -> PlanGround:
    """What the plan is drawn from."""
    return PlanGround(
        view.rig,
        view.index,
        view.in_force,
        view.planned,
        view.climbs,
        view.plan_run,
        view.notes,
        view.bench,
    )


def session_paper(view: View) -> SessionPaper:
    """All of a rig's session on a bench, as it stands now."""
    now, rig = datetime.now(UTC), view.rig
    shown = evidence_at(view.in_force, view.index, rig)

    def headed(title: str, cells: Cells) -> Page:
        return cells, paper_head(title, rig, view.in_force, shown, now, not view.bench.real)

    pages = [headed("the day", draw_day(day_picture(day_ground(view)), COLUMNS, ROWS))]
    for climb in view.pictures.values():
        pages.append(headed(f"climb of {climb.knob.label}", draw_climb(climb, COLUMNS, ROWS)))
    margins = margins_picture(rig, view.in_force, view.index)
    if margins.rows:
        pages.append(headed("margins", draw_margins(margins, COLUMNS, ROWS)))
    cycle = cycle_picture(rig, view.in_force, rig.knobs[0].name, None, "")
    if cycle is not None:
        pages.append(headed("one row cycle", draw_cycle(cycle, COLUMNS, ROWS)))
    sheet = sheet_picture(rig, view.in_force, rig.stock, "the sheet in force, against stock", notes=view.notes)
    long = len(sheet.rows) + len({row.group for row in sheet.rows}) + 4
    pages.append(headed("the sheet", draw_sheet(sheet, COLUMNS, max(ROWS, long))))
    if view.planned or view.plan_run is not None:
        pages.append(headed("the plan", draw_plan(plan_picture(plan_ground(view), now), COLUMNS, ROWS)))
    pages += [headed("trials", page) for page in _lists(view)]
    return SessionPaper(tuple(pages))


def _lists(view: View) -> Sequence[Cells]:
    """Every trial, the newest first, a page full at a time."""
    rows = tuple((trial, view.rig) for trial in reversed(view.trials))[:MOST_LISTED]
    parts = [rows[first : first + LIST_ROWS] for first in range(0, len(rows), LIST_ROWS)]
    return [draw_book(BookPicture("", part, at=-1, more=len(view.trials) - len(part)), COLUMNS, ROWS) for part in parts]
