"""Working on a view: what is dialled, what is pointed at, and the orders that follow from keys."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from tenaz.core.errors import Refused
from tenaz.core.events import Asked, Happened, LoadProgressed, Mismatched, RunEnded, Sampled, TrialMoved
from tenaz.core.knobs import NeedsReason
from tenaz.core.loading import LoadPlan
from tenaz.core.loop import Move, Station
from tenaz.core.outcomes import Outcome
from tenaz.core.parsing import parse_elapsed_s, parse_load
from tenaz.core.plain_text import plain
from tenaz.core.ports import HowLong, Question
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.routines import parse_routine
from tenaz.core.setpoints import Setpoint
from tenaz.core.steps import step_between
from tenaz.core.trials import Trial
from tenaz.engine.recovery import asks_how_long
from tenaz.tui.bridge import Told
from tenaz.tui.canvases import OF_A_TRIAL
from tenaz.tui.desk import Brought, Order
from tenaz.tui.dialling import Dialling
from tenaz.tui.exporting import Export, cells_export, climb_export, cycle_export, sheet_export
from tenaz.tui.prompts import (
    filter_prompt,
    how_long_prompt,
    load_prompt,
    new_rig_from,
    new_rig_prompt,
    note_prompt,
    reason_prompt,
    routine_prompt,
    typed_or_unknown,
    unknown_prompt,
)
from tenaz.tui.screens.confirm import Confirm
from tenaz.tui.screens.rig_form import RigForm
from tenaz.tui.session_base import PACES
from tenaz.tui.sheet_prompts import step_prompt
from tenaz.tui.suggestions import Follow
from tenaz.workshop.relay import Reply

if TYPE_CHECKING:
    from tenaz.workshop.load_pictures import KnownOfLoad
    from tenaz.workshop.shop import Workshop


MOST_LINES_ASKED = 8


class Session(Dialling):
    """What the technician does with the book that is open. Methods that a key calls are named as in the commands."""

    def hear(self, event: object) -> None:
        """Something happened in the engine."""
        match event:
            case LoadProgressed():
                self._rail.show_progress(event)
                self._canvases.load_view.take_progress(event.trial_id, event.progress)
                self._show_load()
                return
            case Sampled():
                self._canvases.load_view.take_sample(event.trial_id, event.sensors, event.sample)
                return
            case Happened():
                self._canvases.load_view.take_said(event.trial_id, event.said)
                return
            case Mismatched():
                self._canvases.load_view.take_wrong(event.trial_id, event.mismatch)
                self._show_load()
                return
            case TrialMoved(trial=trial) if self.busy:
                self._rail.show_trial(trial if trial.open else None)
                came = trial.outcome or trial.station
                self._app.title_terminal(f"Tenaz: {trial.rig}, trial {trial.number}: {came}")
            case Asked(question=HowLong() as question):
                self._ask_how_long(question, lambda answer: self._desk.order(lambda w: w.answer(answer)))
                return
            case Asked(question=(Question() | None) as question):
                self._next.ask(_briefer(question))
                if question is not None and question.station is Station.SET:
                    self._canvases.lend("sheet")
                    self._app.show_canvas()
                else:
                    self._canvases.give_back()
                self._show()
                self._rail.show_waiting(question is not None)
                return
            case RunEnded(trouble=trouble, advice=advice):
                self.busy = False
                self._next.ask(None)
                self._rail.show_waiting(False)
                if trouble:
                    self._next.complain(trouble)
                if advice:
                    self._app.notify(plain(advice), title="climb done", markup=False)
                self._app.bell()
        self._desk.look()

    def answered(self, answer: Move | Outcome) -> None:
        """The technician answered: the run's question, or the one about an unfinished trial."""
        unfinished = self._view.unfinished
        if self.busy:
            self._desk.order(lambda workshop: workshop.answer(answer))
        elif unfinished is not None:
            self._next.ask(None)
            if not isinstance(answer, Outcome):
                self._start(lambda workshop: workshop.take_up(unfinished))
            elif (question := asks_how_long(unfinished, answer)) is not None:
                self._ask_how_long(question, lambda ran_s: self._explain(unfinished, answer, ran_s))
            else:
                self._explain(unfinished, answer, None)

    def _ask_how_long(self, question: HowLong, take: Callable[[float | Reply], None]) -> None:
        """Ask for a time; leaving the prompt takes the answer before it back."""
        self._app.push_screen(
            how_long_prompt(question),
            lambda text: take(Reply.A_SLIP if text is None else parse_elapsed_s(text)),
        )

    def _explain(self, trial: Trial, outcome: Outcome, ran_s: float | Reply | None) -> None:
        if isinstance(ran_s, Reply):
            self._desk.look()
            return
        self._order(lambda workshop: workshop.explain(trial, outcome, ran_s) and None)

    # -- the loop ----------------------------------------

    def trial(self) -> None:
        """Start one trial at the dialled values; above an advised ceiling a reason is asked for."""
        plan = self._plan

        def go() -> None:
            setpoint = self._dial.setpoint
            self._with_reason(lambda reason: self._start(lambda w: w.start_trial(setpoint, plan, reason)))

        if self._may_start():
            self._known_first(go)

    def follow(self) -> None:
        """Do what the line next says."""
        suggestion = self._suggestion
        match suggestion.follow:
            case Follow.TRIAL:
                self.trial()
            case Follow.CLIMB:
                self.climb()
            case Follow.STAND if suggestion.stand is not None and self._may_start():
                self._dial.setpoint, plans = suggestion.stand, suggestion.owed
                self._known_first(lambda: self._run_routine(plans))
            case Follow.NOTHING if self._may_start():
                self._next.complain("There is nothing for Enter to do: choose a key below, or ? for all of them.")

    def _run_routine(self, plans: Sequence[LoadPlan]) -> None:
        setpoint = self._dial.setpoint
        self._with_reason(lambda reason: self._start(lambda w: w.start_routine(setpoint, plans, reason)))

    def _known_first(self, go: Callable[[], None]) -> None:
        """Go on once everything that a trial's record must say is known: what nobody could read is asked for, once."""
        unknown = [name for name in self._dial.setpoint.unknown() if name not in self._left_unknown]
        if not unknown:
            go()
            return
        knob = self._dial.rig.knob(unknown[0])

        def take(text: str | None) -> None:
            if text is None:
                return
            value = typed_or_unknown(knob, text)
            if value is None:
                self._left_unknown.add(knob.name)
            else:
                self._dial.know(knob.name, value)
                self._view = replace(self._view, rig=self._dial.rig, in_force=self._dial.in_force)
                self._order(lambda workshop: workshop.know(knob.name, value))
            self._known_first(go)

        self._app.push_screen(unknown_prompt(knob), take)

    def routine(self) -> None:
        """Loads in turn at the dialled values, until one does not hold."""

        def take(text: str | None) -> None:
            if text is not None:
                plans = parse_routine(text).plans
                self._known_first(lambda: self._run_routine(plans))

        if self._may_start():
            self._app.push_screen(routine_prompt(), take)

    def climb(self) -> None:
        """Begin a climb along the knob in hand, or go on with the one begun."""
        if not self._may_start():
            return
        one_step = self._view.bench is not BenchKind.SIM
        going, plan = self._view.climb, self._plan
        if going is not None:
            self._start(lambda workshop: workshop.start_climb(going, one_step))
            return
        knob = self._dial.knob.name

        def begin() -> None:
            base = self._dial.setpoint
            self._with_reason(
                lambda reason: self._start(lambda w: w.start_climb(w.plan_climb(knob, base, plan, reason), one_step))
            )

        self._known_first(begin)

    def abandon(self) -> None:
        """End the climb under way where it stands."""
        if self._view.climb is None:
            self._next.complain("No climb is under way here: c begins one along the knob in hand.")
        elif self._may_start():
            self._app.push_screen(
                Confirm("End the climb here? Its trials stay in the book.", "end it", "keep it"),
                lambda yes: self._order(lambda workshop: workshop.abandon_climb()) if yes else None,
            )

    def stop(self) -> None:
        """Stop what runs."""
        if self.busy:
            self._desk.order(lambda workshop: workshop.stop())
        else:
            self._next.complain("Nothing runs that could be stopped.")

    def load(self) -> None:
        """Choose the load."""

        def take(text: str | None) -> None:
            if text is not None:
                self._plan = parse_load(text, self._plan)
                self._show()

        self._app.push_screen(load_prompt(self._plan), take)

    def _with_reason(self, go: Callable[[str], None]) -> None:
        """Go on with the dialled values, once what is above an advised ceiling or moves much at once is explained."""
        rig, setpoint = self._dial.rig, self._dial.setpoint
        step = step_between(rig, self._view.in_force, setpoint)
        try:
            rig.check(setpoint)
        except NeedsReason as needed:
            prompt = reason_prompt(rig, setpoint, needed)
        except Refused as refused:
            self._next.complain(str(refused))
            return
        else:
            if not step.warning:
                go("")
                return
            prompt = step_prompt(step, self._carried_words(setpoint))
        self._app.push_screen(prompt, lambda reason: go(reason) if reason is not None else None)

    def _carried_words(self, setpoint: Setpoint) -> str:
        """Where the sheet was carried from, as a reason for moving it all; empty when it was not."""
        before = self._carried_from
        if before is None or before["data_rate_mts"] == setpoint["data_rate_mts"]:
            return ""
        return f"carried from {before['data_rate_mts']} MT/s"

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

    # -- bench and book ----------------------------------------

    def bench(self) -> None:
        """The next bench."""
        if self._idle("change the bench"):
            self._order(lambda workshop: workshop.next_bench())

    def rig(self) -> None:
        """The next rig."""
        if self._idle("change the rig"):
            self._order(lambda workshop: workshop.next_rig())

    def pace(self) -> None:
        """The next pace of simulated time."""
        if self._view.bench is not BenchKind.SIM:
            self._next.complain(f"Time passes as it is on bench {self._view.bench}: only a simulated rig has a pace.")
        elif self._idle("change the pace"):
            self._pace = (self._pace + 1) % len(PACES)
            self._show()

    def picked(self, kind: str, which: int) -> None:
        """A knob, a place on the track in hand, or a trial was clicked."""
        if kind == "knob":
            self._dial.selected, self._cursor = which, None
        elif kind == "value":
            self._dial.take(min(which, self._dial.knob.most))
        elif kind == "trial":
            numbers = [trial.number for trial in self._pointable()]
            self._cursor = numbers.index(which) if which in numbers else None
            self._bring_load()
        self._show()

    def cursor(self, step: int) -> None:
        """Point at another trial."""
        trials = self._pointable()
        if not trials:
            self._next.complain("There is no trial to point at yet.")
        else:
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
        """Write what the canvas shows."""
        export = self._export()
        if export is not None:
            self._app.push_screen(
                export.prompt(),
                lambda text: self._order(lambda _: export.write_to(text)) if text is not None else None,
            )

    def _export(self) -> Export | None:
        """What the canvas can become; None, with the reason said, when it shows nothing."""
        name, view, dial = self._canvases.name, self._view, self._dial
        if name == "climb":
            picture = self._picture()
            if picture is None:
                self._next.complain("There is no climb along this knob to export yet.")
            return climb_export(picture, view) if picture else None
        if name == "cycle":
            cycle = self._canvases.cycle(view, dial)
            if cycle is None:
                self._next.complain("The data rate is not known, or on auto: there is no cycle to export.")
            return cycle_export(cycle, view, dial.setpoint) if cycle else None
        if name == "sheet":
            return sheet_export(view, dial.setpoint, dial.out_of_reach)
        return cells_export(self._canvases.drawing(view, dial, None, None), name, view)

    def _pointable(self) -> tuple[Trial, ...]:
        """The trials that the cursor walks over: those on the canvas, or all when there are none."""
        picture = self._picture()
        numbers = {point.number for point in picture.points} if picture else set()
        return tuple(trial for trial in self._view.trials if trial.number in numbers) or self._view.trials

    def brought(self, trial_id: int, known: "KnownOfLoad") -> None:
        """What the book kept of a past trial's load came."""
        trial = next((t for t in self._view.trials if t.id == trial_id), None)
        if trial is not None and not self.busy:
            self._canvases.load_view.take_kept(trial, known)
            self._show_load()

    def _bring_load(self) -> None:
        """Fetch the load of the trial pointed at, when it is not the one shown."""
        trials = self._pointable()
        if self.busy or not trials or self._canvases.name not in OF_A_TRIAL:
            return
        trial = trials[-1 if self._cursor is None else min(self._cursor, len(trials) - 1)]
        if trial.id != self._canvases.load_view.trial_id:
            self._desk.order(lambda workshop: Brought(trial.id, workshop.load_of(trial.id)))

    def canvas(self, step: int = 1) -> None:
        """The next canvas, or the one before."""
        self._canvases.turn(step)
        self._app.show_canvas()
        self._bring_load()
        self._show()

    def filter(self) -> None:
        """Show only log lines and sensors that hold a text."""

        def take(text: str | None) -> None:
            if text is not None:
                self._filter = self._canvases.load_view.filter = text.strip()
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
            self._canvases.load_view.purpose = rig.purpose
            before = self._view.rig.machine
            if self._view.bench is BenchKind.SIM and before and rig.machine and before.modules != rig.machine.modules:
                self._app.notify(
                    "The modules are noted. The simulated rig does not feel yet which of them are fitted.",
                    title="slots",
                )
            self._order(lambda workshop: workshop.keep_rig(rig))

    def time_cursor(self, step: int) -> None:
        """Move the cursor of the Load canvas, or scroll what is pointed out on the Rig canvas."""
        if self._canvases.name == "rig":
            self._canvases.scroll(step, self._view, self._sheet("canvas").size.width)
            self._show()
            return
        if self._has_time():
            self._canvases.load_view.move(step)
            self._show_load()

    def zoom(self, percent: int) -> None:
        """Show another length of time on the Load canvas, in percent of the present one."""
        if self._has_time():
            self._canvases.load_view.zoom(percent / 100)
            self._show_load()

    def _has_time(self) -> bool:
        """Whether the canvas shown has a time axis; says so when not."""
        if self._canvases.name != "load":
            self._next.complain(f"The canvas {self._canvases.name} has no time axis: w goes to the load.")
        return self._canvases.name == "load"


def _briefer(question: Question | None) -> Question | None:
    """A question whose many lines stand on the sheet already, without them."""
    if question is None or question.station is not Station.SET or len(question.lines) <= MOST_LINES_ASKED:
        return question
    return replace(question, lines=("  the lines to type in stand on the sheet, each with its tick",))
