"""A whole session on paper: the day, what was climbed, margins, the row cycle, the sheet, the plan, and every trial."""

from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Protocol

from tenaz.advice.known import Searches
from tenaz.catalogues.writing import write_whole
from tenaz.core.trials.stands import Stands
from tenaz.core.trials.trial import Trial
from tenaz.pictures.book.trial import ended_words, values_off_stock
from tenaz.pictures.climb.cells import draw_climb
from tenaz.pictures.cycle.cells import draw_cycle
from tenaz.pictures.cycle.model import cycle_picture
from tenaz.pictures.day.build import DayGround, day_picture
from tenaz.pictures.day.cells import draw_day
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.cells_paper import export_cells
from tenaz.pictures.drawing.inked import inked
from tenaz.pictures.drawing.paper import check_path
from tenaz.pictures.drawing.paper_head import PaperHead, head_at, headed_leaf
from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins_on_paper
from tenaz.pictures.plan.build import PlanGround, plan_picture
from tenaz.pictures.plan.cells import draw_plan
from tenaz.pictures.sheet.model import sheet_picture
from tenaz.pictures.sheet.paper import sheet_table
from tenaz.press.leaf import Block, Drawing, Table
from tenaz.press.size import PaperSize
from tenaz.press.typeset import as_pdf
from tenaz.search.registry import strategy_of
from tenaz.workshop.looking.view import Kept

COLUMNS, ROWS, CHART_ROWS, CYCLE_ROWS = 128, 62, 44, 34
LIST_PARTS = (0.5, 1.6, 2.2, 2.2, 2.6, 2.6)


@dataclass(frozen=True, slots=True)
class SessionPaper:
    """What is written to one PDF under one head."""

    head: PaperHead
    blocks: tuple[Block, ...]

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write it."""
        check_path(path, (".pdf",))
        write_whole(path, as_pdf(headed_leaf(self.head, self.blocks, self.head.rig, across=False), size))


@dataclass(frozen=True, slots=True)
class DayPaper:
    """The day, or with it the whole session."""

    cells: Cells
    head: PaperHead
    session: "Session"

    def write(self, path: Path, size: PaperSize = PaperSize.A4) -> None:
        """Write the page as SVG, or everything as PDF."""
        if path.suffix.lower() == ".pdf":
            session_paper(self.session).write(path, size)
        else:
            export_cells(self.cells, self.head, path, size)


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

    def drawn(title: str, cells: Cells) -> Drawing:
        return inked(title, cells, f"{title} of {rig.name}, as it stood on the screen")

    blocks: list[Block] = [drawn("the day", draw_day(day_picture(ground_of(seen)), COLUMNS, ROWS))]
    for climb in seen.searches.pictures.values():
        blocks.append(drawn(f"climb of {climb.knob.label}", draw_climb(climb, COLUMNS, CHART_ROWS, listed=False)))
    margins = margins_picture(rig, in_force, stands.index)
    if margins.rows:
        blocks.append(drawn("margins", draw_margins_on_paper(margins, COLUMNS)))
    cycle = cycle_picture(rig, in_force, rig.knobs[0].name, None, "")
    if cycle is not None:
        blocks.append(drawn("one row cycle", draw_cycle(cycle, COLUMNS, CYCLE_ROWS)))
    if kept.planned or kept.plan_run is not None:
        plan = plan_picture(plan_ground(stands, kept, seen.searches), now)
        blocks.append(drawn("the plan", draw_plan(plan, COLUMNS, ROWS)))
    sheet = sheet_picture(rig, in_force, rig.stock, notes=kept.notes)
    blocks += [sheet_table(sheet, "stock"), _list(stands)]
    return SessionPaper(head_at("a session", stands, now), tuple(blocks))


def _list(stands: Stands) -> Table:
    """Every trial, the newest first."""
    rows = tuple(
        (str(one.number), f"{one.begun_utc:%d %b %Y %H:%M}", ended_words(one), one.plan.show(),
         values_off_stock(one.setpoint, stands.rig), one.note)
        for one in reversed(stands.trials)
    )  # fmt: skip
    return Table("trials", ("no.", "begun, UTC", "ended", "load", "set", "note"), rows, LIST_PARTS, wide=True)
