"""Working on a view: what is dialled, what is pointed at, and the orders that follow from keys."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.charts.climb import ClimbPicture
from tenaz.charts.climb_cells import draw_climb, draw_no_climb
from tenaz.charts.evidence_cells import draw_evidence
from tenaz.charts.load_cells import draw_load
from tenaz.charts.log_cells import draw_log
from tenaz.charts.paper import export_climb
from tenaz.charts.rig_cells import draw_rig, pointed_out
from tenaz.charts.track import track_of
from tenaz.charts.tracks_cells import draw_tracks
from tenaz.core.errors import Refused
from tenaz.core.events import Asked, Happened, LoadProgressed, RunEnded, Sampled, TrialMoved
from tenaz.core.evidence import evidence_at
from tenaz.core.knobs import NeedsReason
from tenaz.core.loading import LoadKind, LoadPlan
from tenaz.core.loop import Move
from tenaz.core.outcomes import Outcome
from tenaz.core.parsing import parse_load
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.trials import Trial
from tenaz.tui.bridge import Told
from tenaz.tui.desk import Brought, Desk, Order
from tenaz.tui.dial import Dial
from tenaz.tui.load_view import LoadView
from tenaz.tui.prompts import (
    export_prompt,
    filter_prompt,
    load_prompt,
    new_rig_from,
    new_rig_prompt,
    note_prompt,
    reason_prompt,
    value_prompt,
)
from tenaz.tui.screens.confirm import Confirm
from tenaz.tui.screens.rig_form import RigForm
from tenaz.tui.suggestions import next_step
from tenaz.tui.widgets.keys import KeyBar
from tenaz.tui.widgets.next_step import NextStep
from tenaz.tui.widgets.rail import Rail
from tenaz.tui.widgets.sheet import Sheet
from tenaz.workshop.pictures import picture_of_line

if TYPE_CHECKING:
    from tenaz.tui.app import Workbench
    from tenaz.workshop.load_pictures import KnownOfLoad
    from tenaz.workshop.shop import Workshop
    from tenaz.workshop.view import View

PACES: tuple[tuple[float | None, str], ...] = (
    (600.0, "an hour in 6 s"),
    (60.0, "an hour in a minute"),
    (1.0, "as it is"),
    (None, "in a moment"),
)

CANVASES = ("climb", "load", "rig")

SCROLL_LINES = 3

LOOK_EVERY_S = 2.0
"""Who may only read sees what the other writes, this often."""


class Session:
    """What the technician does with the book that is open. Methods that a key calls are named as in the commands."""

    def __init__(self, app: "Workbench", desk: Desk, view: "View") -> None:
        self._app = app
        self._desk = desk
        self._view = view
        self._dial = Dial(view.rig, view.in_force, view.in_force)
        self._cursor: int | None = None
        self._plan = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
        self._pace = 0
        self._canvas = 0
        self._skipped = 0
        self._load_view = LoadView(view.rig.purpose)
        self._filter = ""
        self.busy = False
        self._rail, self._next = app.query_one(Rail), app.query_one(NextStep)
        self._rail.show_rig(view.rig.name, view.bench)
        self.view_again(view)
        if view.read_only:
            app.set_interval(LOOK_EVERY_S, desk.look)

    def view_again(self, view: "View") -> None:
        """Show a fresh view."""
        before, self._view = self._view, view
        if before.rig.name != view.rig.name or before.bench is not view.bench:
            self._dial = Dial(view.rig, view.in_force, view.in_force)
            self._cursor = None
            self._load_view = LoadView(view.rig.purpose)
            self._rail.show_rig(view.rig.name, view.bench)
        else:
            self._dial.follow(view.in_force)
        if not self.busy:
            self._rail.show_trial(None)
            self._next.ask(None if view.read_only else view.unfinished_question)
        self._show()

    def hear(self, event: object) -> None:
        """Something happened in the engine."""
        match event:
            case LoadProgressed():
                self._rail.show_progress(event)
                self._load_view.take_progress(event.trial_id, event.progress)
                self._show_load()
                return
            case Sampled():
                self._load_view.take_sample(event.trial_id, event.sensors, event.sample)
                return
            case Happened():
                self._load_view.take_said(event.trial_id, event.said)
                return
            case TrialMoved(trial=trial) if self.busy:
                self._rail.show_trial(trial if trial.open else None)
                came = trial.outcome or trial.station
                self._app.title_terminal(f"Tenaz: {trial.rig}, trial {trial.number}: {came}")
            case Asked(question=question):
                self._next.ask(question)
                self._rail.show_waiting(question is not None)
                return
            case RunEnded(trouble=trouble, advice=advice):
                self.busy = False
                self._next.ask(None)
                self._rail.show_waiting(False)
                if trouble:
                    self._next.complain(trouble)
                if advice:
                    self._app.notify(advice, title="climb done")
                self._app.bell()
        self._desk.look()

    def answered(self, answer: Move | Outcome) -> None:
        """The technician answered: the run's question, or the one about an unfinished trial."""
        unfinished = self._view.unfinished
        if self.busy:
            self._desk.order(lambda workshop: workshop.answer(answer))
        elif unfinished is not None:
            self._next.ask(None)
            if isinstance(answer, Outcome):
                self._order(lambda workshop: workshop.explain(unfinished, answer) and None)
            else:
                self._start(lambda workshop: workshop.take_up(unfinished))

    # -- dialling ----------------------------------------

    def select(self, step: int) -> None:
        """Take another knob in hand."""
        self._dial.select(step)
        self._cursor = None
        self._show()

    def dial(self, steps: int) -> None:
        """Turn the knob in hand along its grid."""
        self._dial.turn(steps)
        self._show()

    def type_value(self, typed: str = "") -> None:
        """Type a value."""
        dial, knob = self._dial, self._dial.knob

        def take(text: str | None) -> None:
            if text is not None:
                dial.take(knob.parse(text))
                self._show()

        self._app.push_screen(value_prompt(knob, dial.value, typed), take)

    def undial(self) -> None:
        """Back to what is in force."""
        self._dial.setpoint = self._dial.in_force
        self._show()

    def stock(self) -> None:
        """Back to stock."""
        self._dial.setpoint = self._dial.rig.stock
        self._show()

    # -- the loop ----------------------------------------

    def trial(self) -> None:
        """Start one trial at the dialled values; above an advised ceiling a reason is asked for."""
        plan, setpoint = self._plan, self._dial.setpoint
        if self._may_start():
            self._with_reason(lambda reason: self._start(lambda w: w.start_trial(setpoint, plan, reason)))

    def climb(self) -> None:
        """Begin a climb along the knob in hand, or go on with the one begun."""
        if not self._may_start():
            return
        one_step = self._view.bench is not BenchKind.SIM
        going, plan = self._view.climb, self._plan
        if going is not None:
            self._start(lambda workshop: workshop.start_climb(going, one_step))
            return
        knob, base = self._dial.knob.name, self._dial.setpoint
        self._with_reason(
            lambda reason: self._start(lambda w: w.start_climb(w.plan_climb(knob, base, plan, reason), one_step))
        )

    def abandon(self) -> None:
        """End the climb under way where it stands."""
        if self._view.climb and self._may_start():
            self._app.push_screen(
                Confirm("End the climb here? Its trials stay in the book.", "end it", "keep it"),
                lambda yes: self._order(lambda workshop: workshop.abandon_climb()) if yes else None,
            )

    def stop(self) -> None:
        """Stop what runs."""
        if self.busy:
            self._desk.order(lambda workshop: workshop.stop())

    def load(self) -> None:
        """Choose the load."""

        def take(text: str | None) -> None:
            if text is not None:
                self._plan = parse_load(text, self._plan)
                self._show()

        self._app.push_screen(load_prompt(self._plan), take)

    def _with_reason(self, go: Callable[[str], None]) -> None:
        """Go on with the dialled values, with a typed reason when one lies above its advised ceiling."""
        rig, setpoint = self._dial.rig, self._dial.setpoint
        try:
            rig.check(setpoint)
        except NeedsReason as needed:
            self._app.push_screen(
                reason_prompt(rig, setpoint, needed), lambda reason: go(reason) if reason is not None else None
            )
        except Refused as refused:
            self._next.complain(str(refused))
        else:
            go("")

    def _may_start(self) -> bool:
        """Whether orders can be given now; says why not."""
        if self.busy:
            self._next.complain("A trial is under way: stop it first with s.")
        elif self._view.read_only:
            self._next.complain(f"Read-only: {self._view.read_only}")
        else:
            return True
        return False

    def _start(self, order: Order) -> None:
        """Give an order that starts a run; on trouble nothing runs after all."""
        self.busy = True
        self._next.complain("")
        pace = PACES[self._pace][0]

        def starting(workshop: "Workshop") -> None:
            workshop.pace = pace
            try:
                order(workshop)
            except BaseException:
                self._app.post_message(Told(RunEnded()))
                raise

        self._desk.order(starting)
        self._show()

    def _order(self, order: Order) -> None:
        self._next.complain("")
        self._desk.order(order)

    # -- bench and book ----------------------------------------

    def bench(self) -> None:
        """The next bench."""
        if not self.busy:
            self._order(lambda workshop: workshop.next_bench())

    def rig(self) -> None:
        """The next rig."""
        if not self.busy:
            self._order(lambda workshop: workshop.next_rig())

    def pace(self) -> None:
        """The next pace of simulated time."""
        if not self.busy:
            self._pace = (self._pace + 1) % len(PACES)
            self._show()

    def cursor(self, step: int) -> None:
        """Point at another trial."""
        trials = self._pointable()
        if trials:
            at = len(trials) - 1 if self._cursor is None else self._cursor + step
            self._cursor = max(0, min(len(trials) - 1, at))
            self._bring_load()
            self._show()

    def undo(self) -> None:
        """Take back the newest record."""
        if self._may_start():
            self._order(lambda workshop: workshop.undo() and None)

    def note(self) -> None:
        """Note on the trial pointed at, or the newest."""
        trials = self._pointable()
        if not trials or self._view.read_only:
            self._next.complain("There is no trial to put a note on here.")
            return
        trial = trials[-1 if self._cursor is None else min(self._cursor, len(trials) - 1)]
        self._app.push_screen(
            note_prompt(trial),
            lambda text: self._order(lambda w: w.note(trial, text)) if text is not None else None,
        )

    def export(self) -> None:
        """Write the shown climb."""
        picture = self._picture()
        if picture is None:
            self._next.complain("There is no climb along this knob to export yet.")
            return

        def write(text: str) -> str:
            path = Path(text).expanduser()
            export_climb(picture, path)
            return f"written: {path.absolute()}"

        self._app.push_screen(
            export_prompt(picture),
            lambda text: self._order(lambda _: write(text)) if text is not None else None,
        )

    def _pointable(self) -> tuple[Trial, ...]:
        """The trials that the cursor walks over: those on the canvas, or all when there are none."""
        picture = self._picture()
        numbers = {point.number for point in picture.points} if picture else set()
        return tuple(trial for trial in self._view.trials if trial.number in numbers) or self._view.trials

    # -- showing ----------------------------------------

    def _picture(self) -> ClimbPicture | None:
        """The climb under way along the knob in hand, else its line through the dialled values, else its last climb."""
        view, knob = self._view, self._dial.knob
        newest = view.pictures.get(knob.name)
        if newest is not None and (newest.advice is None or self.busy):
            return newest
        line = picture_of_line(view.rig, knob, self._dial.setpoint, view.trials)
        if line is None or newest is None or line.points[-1].number <= newest.points[-1].number:
            return newest or line
        return line

    def _show(self) -> None:
        """Bring every panel up to date with view and dial."""
        view, rig, dialled, knob = self._view, self._view.rig, self._dial.setpoint, self._dial.knob
        selected, cursor = self._dial.selected, self._cursor
        guard = rig.purpose.guard_band_steps
        tracks = tuple(track_of(k, dialled, view.in_force, rig.stock, view.trials, guard) for k in rig.knobs)
        self._sheet("tracks").show(lambda width, height: draw_tracks(tracks, selected, width, height))
        picture = self._picture()
        if CANVASES[self._canvas] == "rig":
            skip = self._skipped
            self._sheet("canvas").show(lambda width, height: draw_rig(rig, width, height, skip))
        elif CANVASES[self._canvas] == "load":
            self._show_load()
        elif picture is None:
            self._sheet("canvas").show(lambda width, height: draw_no_climb(knob, width, height))
        else:
            self._sheet("canvas").show(lambda width, height: draw_climb(picture, width, height, cursor))
        evidence = evidence_at(dialled, view.trials, rig.purpose)
        values = tuple((k.show(dialled[k.name]), dialled[k.name] != view.in_force[k.name]) for k in rig.knobs)
        self._sheet("evidence").show(lambda width, height: draw_evidence(evidence, rig.purpose, values, width, height))
        log = tuple(line for line in view.log if self._filter.lower() in " ".join(line).lower())
        self._sheet("log").show(lambda width, height: draw_log(log, width, height))
        self._next.suggest(*next_step(view, dialled, knob, self.busy))
        pace = f" · pace: {PACES[self._pace][1]}" if view.bench is BenchKind.SIM else ""
        self._rail.show_idle("READ-ONLY" if view.read_only else f"next load: {self._plan.show()}{pace}")
        self._app.query_one(KeyBar).show_state(self.busy)

    def _show_load(self) -> None:
        if CANVASES[self._canvas] == "load":
            trial = next((t for t in self._view.trials if t.id == self._load_view.trial_id), None)
            picture = self._load_view.picture(trial)
            self._sheet("canvas").show(lambda width, height: draw_load(picture, width, height))

    def brought(self, trial_id: int, known: "KnownOfLoad") -> None:
        """What the book kept of a past trial's load came."""
        trial = next((t for t in self._view.trials if t.id == trial_id), None)
        if trial is not None and not self.busy:
            self._load_view.take_kept(trial, known)
            self._show_load()

    def _bring_load(self) -> None:
        """Fetch the load of the trial pointed at, when it is not the one shown."""
        trials = self._pointable()
        if self.busy or not trials or CANVASES[self._canvas] != "load":
            return
        trial = trials[-1 if self._cursor is None else min(self._cursor, len(trials) - 1)]
        if trial.id != self._load_view.trial_id:
            self._desk.order(lambda workshop: Brought(trial.id, workshop.load_of(trial.id)))

    def canvas(self) -> None:
        """The next canvas: climb, load, rig."""
        self._canvas = (self._canvas + 1) % len(CANVASES)
        self._bring_load()
        self._show()

    def filter(self) -> None:
        """Show only log lines and sensors that hold a text."""

        def take(text: str | None) -> None:
            if text is not None:
                self._filter = self._load_view.filter = text.strip()
                self._show()

        self._app.push_screen(filter_prompt(self._filter), take)

    def intake(self) -> None:
        """Fill the rig in anew from this machine."""
        if self._may_start():
            self._order(lambda workshop: workshop.take_in())

    def edit_rig(self) -> None:
        """Fill in by hand what is known of the rig."""
        if self._may_start():
            self._app.push_screen(RigForm(self._view.rig), self._take_rig)

    def new_rig(self) -> None:
        """A rig that cannot be read: begin with its name, then fill in."""

        def take(text: str | None) -> None:
            if text is not None:
                self._app.push_screen(RigForm(new_rig_from(text, self._view.rigs)), self._take_rig)

        if self._may_start():
            self._app.push_screen(new_rig_prompt(self._view.rigs), take)

    def _take_rig(self, rig: Rig | None) -> None:
        if rig is not None:
            self._load_view.purpose = rig.purpose
            self._order(lambda workshop: workshop.keep_rig(rig))

    def time_cursor(self, step: int) -> None:
        """Move the cursor of the Load canvas, or scroll what is pointed out on the Rig canvas."""
        if CANVASES[self._canvas] == "rig":
            most = len(pointed_out(self._view.rig, self._sheet("canvas").size.width))
            self._skipped = max(0, min(most, self._skipped + SCROLL_LINES * step))
            self._show()
            return
        self._load_view.move(step)
        self._show_load()

    def zoom(self, percent: int) -> None:
        """Show another length of time on the Load canvas, in percent of the present one."""
        self._load_view.zoom(percent / 100)
        self._show_load()

    def _sheet(self, name: str) -> Sheet:
        return self._app.query_one(f"#{name}", Sheet)
