"""What every key works on: view, dial, canvases; how orders are given and panels brought up to date."""

from typing import TYPE_CHECKING

from tenaz.charts.climb import ClimbPicture
from tenaz.charts.evidence_cells import draw_evidence
from tenaz.charts.log_cells import draw_log
from tenaz.charts.track import tracks_of
from tenaz.charts.tracks_cells import draw_tracks
from tenaz.core.evidence import evidence_at
from tenaz.core.loading import LoadKind, LoadPlan
from tenaz.core.parsing import USUAL_DURATION_S
from tenaz.core.rigs import BenchKind
from tenaz.core.setpoints import Setpoint
from tenaz.tui.canvases import CLOCK_KNOBS, OF_A_TRIAL, Canvases, clocks_line
from tenaz.tui.desk import Desk, Order
from tenaz.tui.dial import Dial
from tenaz.tui.suggestions import Suggestion, next_step
from tenaz.tui.widgets.keys import KeyBar
from tenaz.tui.widgets.next_step import NextStep
from tenaz.tui.widgets.rail import Rail
from tenaz.tui.widgets.sheet import Sheet
from tenaz.workshop.pictures import picture_of_line

if TYPE_CHECKING:
    from tenaz.tui.app import Workbench
    from tenaz.workshop.view import View

PACES: tuple[tuple[float | None, str], ...] = (
    (600.0, "an hour in 6 s"),
    (60.0, "an hour in a minute"),
    (1.0, "as it is"),
    (None, "in a moment"),
)

USUAL_LOAD = LoadPlan(LoadKind.MARCH, duration_s=USUAL_DURATION_S)
"""On a rig or bench on which none was chosen yet."""

LOOK_EVERY_S = 2.0
"""Who may only read sees what the other writes, this often."""


class SessionBase:
    """The state of a session, and what its parts share."""

    def __init__(self, app: "Workbench", desk: Desk, view: "View") -> None:
        self._app = app
        self._desk = desk
        self._view = view
        self._dial = Dial(view.rig, view.in_force, view.in_force)
        self._cursor: int | None = None
        self._plan = USUAL_LOAD
        self._pace = 0
        self._carried_from: Setpoint | None = None
        self._canvases = Canvases(view.rig)
        self._filter = ""
        self.busy = False
        self._suggestion = Suggestion("", "")
        self._left_unknown: set[str] = set()
        """Values that the technician does not know either; asked for once."""
        self._rail, self._next = app.query_one(Rail), app.query_one(NextStep)
        self._rail.show_rig(view.rig.name, view.bench)
        self.view_again(view)
        if view.unread:
            self._next.complain(
                f"{len(view.unread)} damaged row{'s' if len(view.unread) != 1 else ''} of the book cannot be read and "
                f"were passed over, like {view.unread[0]}. All others are here; tenaz book names each."
            )
        if view.read_only:
            app.set_interval(LOOK_EVERY_S, desk.look)

    def view_again(self, view: "View") -> None:
        """Show a fresh view."""
        before, self._view = self._view, view
        if before.rig.name != view.rig.name or before.bench is not view.bench:
            self._dial = Dial(view.rig, view.in_force, view.in_force)
            self._cursor, self._plan = None, USUAL_LOAD
            self._canvases = Canvases(view.rig, self._canvases.name)
            self._rail.show_rig(view.rig.name, view.bench)
        else:
            self._dial.follow(view.in_force)
        if not self.busy:
            self._rail.show_trial(None)
            self._next.ask(None if view.read_only else view.unfinished_question)
        self._show()

    def _may_start(self) -> bool:
        """Whether orders can be given now; says why not."""
        if self.busy:
            self._next.complain("A trial is under way: stop it first with s.")
        elif self._view.read_only:
            self._next.complain(f"Read-only: {self._view.read_only}")
        else:
            return True
        return False

    def _idle(self, what: str) -> bool:
        """Whether nothing runs that forbids it; says so when not."""
        if self.busy:
            self._next.complain(f"A trial is under way: stop it with s before you {what}.")
        return not self.busy

    def _order(self, order: Order) -> None:
        self._next.complain("")
        self._desk.order(order)

    def _picture(self) -> ClimbPicture | None:
        """The climb under way along the knob in hand, else its line through the dialled values, else its last climb."""
        view, knob = self._view, self._dial.knob
        newest = view.pictures.get(knob.name)
        if newest is not None and (newest.advice is None or self.busy):
            return newest
        prefer = newest.kind if newest is not None and newest.kind is not None else self._plan.kind
        line = picture_of_line(view.rig, knob, self._dial.setpoint, view.trials, prefer)
        if line is None or newest is None or line.points[-1].number <= newest.points[-1].number:
            return newest or line
        return line

    def _show(self) -> None:
        """Bring every panel up to date with view and dial."""
        view, rig, dialled, knob = self._view, self._view.rig, self._dial.setpoint, self._dial.knob
        selected = self._dial.selected
        guard = rig.purpose.guard_band_steps
        tracks = tracks_of(rig.knobs, dialled, view.in_force, rig.stock, view.trials, guard)
        clocks = clocks_line(rig, dialled, brief=True) if knob.name in CLOCK_KNOBS else ""
        self._sheet("tracks").show(lambda width, height: draw_tracks(tracks, selected, width, height, clocks))
        self._sheet("canvas").show(self._canvases.drawing(view, self._dial, self._picture(), self._cursor))
        evidence = evidence_at(dialled, view.trials, rig.purpose)
        apart = {change.knob for base in (rig.stock, view.in_force) for change in dialled.changes_from(base)}
        values = tuple(
            (f"{k.label} {k.show(dialled[k.name])}", dialled[k.name] != view.in_force[k.name])
            for k in rig.knobs
            if k.name in apart or k.name == "data_rate_mts"
        )
        self._sheet("evidence").show(lambda width, height: draw_evidence(evidence, rig.purpose, values, width, height))
        log = tuple(line for line in view.log if self._filter.lower() in " ".join(line).lower())
        self._sheet("log").show(lambda width, height: draw_log(log, width, height))
        self._suggestion = next_step(view, dialled, knob, self.busy)
        self._next.suggest(self._suggestion.headline, self._suggestion.reason)
        pace = f" · pace: {PACES[self._pace][1]}" if view.bench is BenchKind.SIM else ""
        self._rail.show_idle("READ-ONLY" if view.read_only else f"next load: {self._plan.show()}{pace}")
        self._app.query_one(KeyBar).show_state(self.busy)

    def _show_load(self) -> None:
        if self._canvases.name in OF_A_TRIAL:
            self._sheet("canvas").show(self._canvases.drawing(self._view, self._dial, None, None))

    def _sheet(self, name: str) -> Sheet:
        return self._app.query_one(f"#{name}", Sheet)
