"""The canvases in the middle: which one is shown, what it points at, and how it is drawn."""

from collections.abc import Callable
from datetime import UTC, datetime
from functools import partial
from typing import TYPE_CHECKING

from tenaz.core.base.loop import Station
from tenaz.core.knobs.clock_tree import best_stand, clocks_in_brief, clocks_in_words, stand
from tenaz.core.knobs.readings import show_sources
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.plans import Planned
from tenaz.core.searches.search import NIGHT
from tenaz.core.trials.in_force import cleared
from tenaz.core.trials.trial import Trial
from tenaz.orders import BringNight
from tenaz.pictures.book.cells import draw_book
from tenaz.pictures.climb.cells import draw_climb, draw_no_climb
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.cycle.cells import draw_cycle
from tenaz.pictures.cycle.model import CyclePicture, cycle_picture
from tenaz.pictures.day.build import day_picture
from tenaz.pictures.day.cells import draw_day
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.field.cells import draw_field
from tenaz.pictures.find.cells import draw_find, draw_working
from tenaz.pictures.load.cells import draw_load
from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins
from tenaz.pictures.margins.model import MarginsPicture
from tenaz.pictures.memory.cells import draw_memory
from tenaz.pictures.memory.model import MemoryPicture
from tenaz.pictures.night.cells import draw_night
from tenaz.pictures.night.model import NightPicture
from tenaz.pictures.plan.build import plan_picture
from tenaz.pictures.plan.cells import PlanPicture, draw_plan
from tenaz.pictures.prints.cells import draw_prints
from tenaz.pictures.rig.cells import draw_rig, pointed_out
from tenaz.pictures.scores.cells import draw_scores
from tenaz.pictures.sheet.cells import Ticks, draw_sheet
from tenaz.pictures.sheet.model import SheetPicture, sheet_picture
from tenaz.tui.canvases.book_view import BookView
from tenaz.tui.canvases.field_view import FieldView
from tenaz.tui.canvases.find_view import FindView
from tenaz.tui.canvases.load_view import LoadView
from tenaz.tui.canvases.names import NAMES
from tenaz.tui.canvases.scores_view import ScoresView
from tenaz.tui.canvases.search_view import SearchView
from tenaz.workshop.looking.session_paper import day_ground, plan_ground

if TYPE_CHECKING:
    from tenaz.tui.base.dial import Dial
    from tenaz.workshop.looking.view import View

Drawing = Callable[[int, int], Cells]

OF_A_TRIAL = ("load", "prints")
"""Canvases that show what the book kept of one trial's load."""
SCROLL_LINES = 3


class Canvases:
    """Which canvas is shown, and what each remembers while others are."""

    def __init__(self, rig: Rig, name: str = NAMES[0]) -> None:
        self.load_view = LoadView(rig.purpose, rig.stock)
        self._at = NAMES.index(name)
        self._lent_from: int | None = None
        self._skipped = 0
        self._compared: str | None = None
        self._only_differing = False
        self._ticked: list[str] = []
        self._ticking: int | None = None
        self._margins: tuple[object, MarginsPicture] | None = None
        self.book = BookView()
        self.plan_at = 0
        self.find = FindView()
        self.scores = ScoresView()
        self.field = FieldView()
        self.night: SearchView[NightPicture, BringNight] = SearchView(NIGHT, BringNight)
        self.memory: MemoryPicture | None = None
        self.memory_known: tuple[str, int] | None = None
        """Of which rig, and after which change of its trials, the memory was asked for."""

    @property
    def name(self) -> str:
        """Which one is shown."""
        return NAMES[self._at]

    def turn(self, step: int) -> None:
        """The next canvas, or the one before."""
        self._at, self._lent_from = (self._at + step) % len(NAMES), None

    def show(self, name: str) -> None:
        """Show a canvas by its name."""
        self._at = NAMES.index(name)

    def lend(self, name: str) -> None:
        """Show a canvas for as long as it is needed."""
        if self._lent_from is None:
            self._lent_from = self._at
        self.show(name)

    def give_back(self) -> None:
        """Show again what was shown before, unless somebody went elsewhere meanwhile."""
        if self._lent_from is not None:
            self._at, self._lent_from = self._lent_from, None

    def scroll(self, step: int, view: "View", width: int) -> None:
        """Scroll what the Rig canvas points out, or the knobs of the Margins canvas."""
        if self.name == "margins":
            self._skipped = max(0, min(len(self.margins(view).rows) - 1, self._skipped + step))
            return
        if self.name == "scores":
            self.scores.scroll(step)
            return
        if self.find.shown(view):
            self.find.skip = max(0, self.find.skip + SCROLL_LINES * step)
            return
        most = len(pointed_out(view.rig, width))
        self._skipped = max(0, min(most, self._skipped + SCROLL_LINES * step))

    # -- comparing ----------------------------------------

    def compare_next(self, view: "View") -> None:
        """Compare with the next saved setpoint, in turn; after the last with none."""
        names = [None, *(saved.name for saved in view.saved)]
        at = names.index(self._compared) if self._compared in names else 0
        self._compared = names[(at + 1) % len(names)]

    def only_differing(self) -> None:
        """On the sheet: all lines, or only those that differ."""
        self._only_differing = not self._only_differing

    def compared(self, view: "View", dialled: Setpoint) -> tuple[str, Setpoint] | None:
        """What the dialled setpoint is compared with: one that was chosen, else what is in force, else stock."""
        for saved in view.saved:
            if saved.name == self._compared:
                return saved.name, saved.setpoint
        if view.in_force != dialled:
            return "in force", view.in_force
        return ("stock", view.rig.stock) if view.rig.stock != dialled else None

    # -- typing in ----------------------------------------

    def tick(self, view: "View") -> bool:
        """Tick the next line that is to be typed in; False when none is."""
        trial = entering(view)
        following = self._ticks(view).next if trial else None
        if following is None:
            return False
        self._ticked.append(following)
        return True

    def untick(self) -> None:
        """Take the last tick back."""
        if self._ticked:
            self._ticked.pop()

    def _ticks(self, view: "View") -> Ticks:
        trial = entering(view)
        if trial is None:
            return Ticks()
        if self._ticking != trial.id:
            self._ticking, self._ticked = trial.id, []
        return Ticks(lines_to_type(view, trial), tuple(self._ticked))

    # -- drawing ----------------------------------------

    def drawing(self, view: "View", dial: "Dial", climb: ClimbPicture | None, cursor: int | None) -> Drawing:
        """What the canvas shows now."""
        rig, knob, skip = view.rig, dial.knob, self._skipped
        drawings: dict[str, Callable[[], Drawing]] = {
            "climb": lambda: partial(draw_climb, climb, cursor=cursor) if climb else partial(draw_no_climb, knob),
            "margins": lambda: partial(draw_margins, self.margins(view), in_hand=knob.name, skip=skip),
            "cycle": lambda: partial(draw_cycle, self.cycle(view, dial), clocks_line=clocks_line(rig, dial.setpoint)),
            "sheet": lambda: partial(draw_sheet, self.sheet(view, dial), selected=knob.name, ticks=self._ticks(view)),
            "load": lambda: self._of_trial(view),
            "prints": lambda: self._of_trial(view),
            "memory": lambda: partial(draw_memory, self.memory_of(view)),
            "scores": lambda: partial(draw_scores, self.scores.picture(view), skip=self.scores.skip),
            "field": lambda: self._field(view, dial),
            "night": lambda: partial(draw_night, self.night.picture(view)),
            "rig": lambda: self._rig(view),
            "plan": lambda: partial(draw_plan, self.plan(view)),
            "book": lambda: partial(draw_book, self.book.picture(view)),
            "day": lambda: partial(draw_day, day_picture(day_ground(view))),
        }
        return drawings[self.name]()

    def _rig(self, view: "View") -> Drawing:
        """The question path, or what is known of the rig."""
        find = self.find
        if find.shown(view):
            if find.picture is not None and find.picture.rig.name == view.rig.name:
                return partial(draw_find, find.picture, pointed=find.pointed, skip=find.skip)
            return draw_working
        return partial(draw_rig, view.rig, skip=self._skipped)

    def _field(self, view: "View", dial: "Dial") -> Drawing:
        picture, cell = self.field.picture(view), self.field.cell(view, dial.setpoint)
        return partial(draw_field, picture, dialled=cell)

    def memory_of(self, view: "View") -> MemoryPicture:
        """What came of the rig's memory; an empty picture until it has."""
        if self.memory is not None and self.memory_known is not None and self.memory_known[0] == view.rig.name:
            return self.memory
        return MemoryPicture(f"physical memory: {view.rig.name}", None, (), ("looking it up …",))

    def _of_trial(self, view: "View") -> Drawing:
        """The load of a trial, or the print of what was wrong in it."""
        shown = self.load_view.trial_id
        trial = None if shown is None else view.index.one(shown)
        if self.name == "prints":
            prints = self.load_view.prints(trial)
            return lambda width, height: draw_prints(prints, width, height)
        picture = self.load_view.picture(trial)
        return lambda width, height: draw_load(picture, width, height)

    def margins(self, view: "View") -> MarginsPicture:
        """The Margins picture at what is in force; judged anew only when a trial or a value has changed."""
        known = (view.rig, view.in_force, view.change, view.bench)
        if self._margins is None or self._margins[0] != known:
            self._margins = known, margins_picture(view.rig, view.in_force, view.index)
        return self._margins[1]

    def plan(self, view: "View") -> PlanPicture:
        """The Plan picture, with the account of the newest run."""
        return plan_picture(plan_ground(view), datetime.now(UTC), self.plan_at)

    def planned_at(self, view: "View") -> Planned | None:
        """The planned trial pointed at."""
        return view.planned[min(self.plan_at, len(view.planned) - 1)] if view.planned else None

    def cycle(self, view: "View", dial: "Dial") -> CyclePicture | None:
        """The Cycle picture of what is dialled."""
        name, compared = self.compared(view, dial.setpoint) or ("", None)
        return cycle_picture(view.rig, dial.setpoint, dial.knob.name, compared, name)

    def sheet(self, view: "View", dial: "Dial") -> SheetPicture:
        """The sheet: of the trial that is being typed in, else of what is dialled."""
        trial = entering(view)
        if trial is not None:
            title = f"type in for trial {trial.number}:"
            return sheet_picture(view.rig, trial.asked, view.in_force, title, notes=view.notes)
        beside = []
        if self._compared is not None:
            beside = [("in force", view.in_force)]
            beside += [(saved.name, saved.setpoint) for saved in view.saved if saved.name == self._compared]
        title = f"the sheet as dialled{_known(view)}"
        picture = sheet_picture(view.rig, dial.setpoint, view.in_force, title, beside, view.notes, dial.out_of_reach)
        if self._only_differing:
            return picture.only([row.name for row in picture.rows if row.changed or row.differs])
        return picture


def _known(view: "View") -> str:
    """How it is known what is in force; empty where nothing was set yet."""
    last = view.index.set_by
    words = show_sources(last.sources) if last is not None else ""
    return f" · in force: {words}" if words else ""


def entering(view: "View") -> Trial | None:
    """The trial whose values are being brought into the rig now, by hand."""
    if not view.trials:
        return None
    trial = view.trials[-1]
    return trial if trial.open and trial.station is Station.SET and trial.bench.real else None


def lines_to_type(view: "View", trial: Trial) -> tuple[str, ...]:
    """What is to be typed in: what changes; after settings were cleared, every line that is no longer at auto."""
    before = view.trials[-2] if len(view.trials) > 1 else None
    was_cleared = before is not None and cleared(before)
    changed = {change.knob for change in trial.asked.changes_from(view.in_force)}
    numbers = trial.asked.numbers()
    return tuple(knob.name for knob in view.rig.knobs if knob.name in changed or (was_cleared and knob.name in numbers))


CLOCK_KNOBS = ("data_rate_mts", "controller_ratio", "fabric_mhz")


def clocks_line(rig: Rig, setpoint: Setpoint, brief: bool = False) -> str:
    """How the clock tree stands at a setpoint, in one line; empty where the platform is not known."""
    values = setpoint.numbers()
    rate = values.get("data_rate_mts")
    if rig.platform is None or rate is None:
        return ""
    ratio, fabric = values.get("controller_ratio"), values.get("fabric_mhz")
    here = best_stand(rig.platform, rate) if ratio is None else stand(rig.platform, rate, ratio, fabric)
    words = clocks_in_brief if brief else clocks_in_words
    return words(rig.platform, here, rig.knob("data_rate_mts").grid.values())
