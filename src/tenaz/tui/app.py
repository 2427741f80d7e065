"""The workbench: what is set, what is happening, what has been shown."""

from collections.abc import Callable, Iterable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from textual import events
from textual.app import App, ComposeResult, SystemCommand
from textual.binding import Binding
from textual.containers import Horizontal
from textual.screen import Screen
from textual.widgets import Static

from tenaz.charts.paper import export_climb
from tenaz.charts.track import track_of
from tenaz.core.errors import Refused
from tenaz.core.events import Asked, LoadProgressed, RunEnded, TrialMoved
from tenaz.core.evidence import evidence_at
from tenaz.core.knobs import NeedsReason
from tenaz.core.loading import LoadKind, LoadPlan
from tenaz.core.outcomes import Outcome
from tenaz.core.parsing import parse_load
from tenaz.core.rigs import BenchKind
from tenaz.core.trials import Trial
from tenaz.tui.bridge import Bridge, Told
from tenaz.tui.canvases.climb import ClimbCanvas
from tenaz.tui.commands import COMMANDS
from tenaz.tui.desk import Desk, Done, Order, Troubled, Viewed
from tenaz.tui.dial import Dial
from tenaz.tui.prompts import export_prompt, load_prompt, note_prompt, reason_prompt, value_prompt
from tenaz.tui.screens.confirm import Confirm
from tenaz.tui.screens.help import Help
from tenaz.tui.suggestions import next_step
from tenaz.tui.theme import CHALK, SOOT
from tenaz.tui.widgets.evidence import EvidencePanel
from tenaz.tui.widgets.keys import KeyBar
from tenaz.tui.widgets.log import LogPanel
from tenaz.tui.widgets.next_step import NextStep
from tenaz.tui.widgets.rail import Rail
from tenaz.tui.widgets.tracks import Tracks

if TYPE_CHECKING:
    from tenaz.workshop.shop import Workshop
    from tenaz.workshop.view import View

SMALLEST = (80, 24)
ROOMY = (126, 36)
"""Below that the panels fold: one at a time."""

PANELS = ("climb", "tracks", "evidence", "log")
PACES: tuple[tuple[float | None, str], ...] = (
    (600.0, "an hour in 6 s"),
    (60.0, "an hour in a minute"),
    (1.0, "as it is"),
    (None, "in a moment"),
)


class Workbench(App[None]):
    """The application. ``opening`` is called in the desk's thread with where to send events."""

    CSS_PATH = "app.tcss"
    TITLE = "Tenaz"
    BINDINGS = [  # noqa: RUF012 - Textual reads it from the class
        Binding(command.key, command.action, command.help, show=False, priority=command.key == "tab")
        for command in COMMANDS
    ]

    def __init__(self, opening: Callable[[Callable[[object], None]], "Workshop"]) -> None:
        super().__init__()
        self.register_theme(SOOT)
        self.register_theme(CHALK)
        self.theme = SOOT.name
        bridge = Bridge(self.post_message)
        self._desk = Desk(self.post_message, lambda: opening(bridge))
        self._view: View | None = None
        self._dial: Dial | None = None
        self._cursor: int | None = None
        self._plan = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
        self._pace = 0
        self._busy = False
        self._panel = 0

    def get_theme_variable_defaults(self) -> dict[str, str]:
        """Our own variables, for themes that do not have them."""
        return SOOT.variables

    # -- coming and going ----------------------------------------

    def compose(self) -> ComposeResult:
        """Rail, knobs, canvas, evidence, next step, log, keys."""
        yield Rail()
        with Horizontal(id="middle"):
            yield Tracks()
            yield ClimbCanvas()
            yield EvidencePanel()
        yield NextStep()
        yield LogPanel()
        yield KeyBar()
        yield Static("", id="small")

    def on_mount(self) -> None:
        """Show the first picture, and only then open the book behind it."""
        self.query_one(NextStep).focus()
        self.call_after_refresh(self._desk.start)

    def on_resize(self, event: events.Resize) -> None:
        """Fold on a small screen; say so on one that is too small."""
        width, height = event.size
        too_small = width < SMALLEST[0] or height < SMALLEST[1]
        folded = not too_small and (width < ROOMY[0] or height < ROOMY[1])
        self.screen.set_class(too_small, "small")
        self.screen.set_class(folded, "folded")
        self.query_one("#small", Static).update(
            f"Tenaz needs {SMALLEST[0]}×{SMALLEST[1]} cells; this window has {width}×{height}.\n"
            f"Make it larger, or its letters smaller. Nothing is lost, and what runs goes on."
        )
        self._show_panel()

    async def action_quit(self) -> None:
        """Leave; ask while something runs."""
        if self._busy:
            self.push_screen(
                Confirm(
                    "A trial is under way. Leave and record it as stopped by hand?",
                    "stop it and leave",
                    "stay",
                ),
                self._leave_if,
            )
            return
        self._leave_if(True)

    def _leave_if(self, leave: bool | None) -> None:
        if leave:
            self.run_worker(self._leave, thread=True)

    def _leave(self) -> None:
        self._desk.close()
        self.call_from_thread(self.exit)

    # -- what comes from the desk ----------------------------------------

    def on_viewed(self, message: Viewed) -> None:
        """Show a fresh view."""
        before, view = self._view, message.view
        self._view = view
        switched = before is None or before.rig.name != view.rig.name or before.bench is not view.bench
        if switched or self._dial is None:
            self._dial = Dial(view.rig, view.in_force, view.in_force)
            self._cursor = None
            self.query_one(Rail).show_rig(view.rig.name, view.bench)
        else:
            self._dial.follow(view.in_force)
        if not self._busy:
            self.query_one(Rail).show_trial(None)
            self.query_one(NextStep).ask(None if view.read_only else view.unfinished_question)
        self._show()

    def on_troubled(self, message: Troubled) -> None:
        """Say what went wrong."""
        if message.fatal:
            self.query_one(NextStep).suggest("q   leave", "nothing was changed")
        self.query_one(NextStep).complain(message.trouble)

    def on_done(self, message: Done) -> None:
        """Say what came of an order."""
        self.notify(message.text)

    def on_told(self, message: Told) -> None:
        """Something happened in the engine."""
        match message.event:
            case LoadProgressed() as event:
                self.query_one(Rail).show_progress(event)
                return
            case TrialMoved(trial=trial) if self._busy:
                self.query_one(Rail).show_trial(trial if trial.open else None)
            case Asked(question=question):
                self.query_one(NextStep).ask(question)
                self.query_one(Rail).show_waiting(question is not None)
                return
            case RunEnded(trouble=trouble, advice=advice):
                self._busy = False
                self.query_one(NextStep).ask(None)
                self.query_one(Rail).show_waiting(False)
                if trouble:
                    self.query_one(NextStep).complain(trouble)
                if advice:
                    self.notify(advice, title="climb done")
                self.bell()
        self._desk.look()

    def on_next_step_answered(self, message: NextStep.Answered) -> None:
        """The technician answered: the run's question, or the one about an unfinished trial."""
        answer = message.answer
        if self._busy:
            self._desk.order(lambda workshop: workshop.answer(answer))
            return
        unfinished = self._view.unfinished if self._view else None
        if unfinished is None:
            return
        self.query_one(NextStep).ask(None)
        if isinstance(answer, Outcome):
            self._order(lambda workshop: workshop.explain(unfinished, answer) and None)
        else:
            self._start(lambda workshop: workshop.take_up(unfinished))

    # -- dialling ----------------------------------------

    def action_select(self, step: int) -> None:
        """Take another knob in hand."""
        if self._dial:
            self._dial.select(step)
            self._cursor = None
            self._show()

    def action_dial(self, steps: int) -> None:
        """Turn the knob in hand along its grid."""
        if self._dial:
            self._dial.turn(steps)
            self._show()

    def action_type_value(self, typed: str = "") -> None:
        """Type a value."""
        dial = self._dial
        if dial is None:
            return
        knob = dial.knob

        def take(text: str | None) -> None:
            if text is not None:
                dial.take(knob.parse(text))
                self._show()

        self.push_screen(value_prompt(knob, dial.value, typed), take)

    def on_key(self, event: events.Key) -> None:
        """Digits begin a value, from 1 on; 0 dials stock."""
        if event.character and event.character in "123456789" and len(self.screen_stack) == 1:
            event.stop()
            self.action_type_value(event.character)

    def action_undial(self) -> None:
        """Back to what is in force."""
        if self._dial:
            self._dial.setpoint = self._dial.in_force
            self._show()

    def action_stock(self) -> None:
        """Back to stock."""
        if self._dial:
            self._dial.setpoint = self._dial.rig.stock
            self._show()

    # -- the loop ----------------------------------------

    def action_trial(self) -> None:
        """Start one trial at the dialled values; above an advised ceiling a reason is asked for."""
        plan = self._plan
        if self._dial and self._may_start():
            setpoint = self._dial.setpoint
            self._with_reason(lambda reason: self._start(lambda w: w.start_trial(setpoint, plan, reason)))

    def action_climb(self) -> None:
        """Begin a climb along the knob in hand, or go on with the one begun."""
        view, plan = self._view, self._plan
        if view is None or self._dial is None or not self._may_start():
            return
        one_step = view.bench is not BenchKind.SIM
        going = view.climb
        if going is not None:
            self._start(lambda workshop: workshop.start_climb(going, one_step))
            return
        knob, base = self._dial.knob.name, self._dial.setpoint
        self._with_reason(
            lambda reason: self._start(lambda w: w.start_climb(w.plan_climb(knob, base, plan, reason), one_step))
        )

    def action_abandon(self) -> None:
        """End the climb under way where it stands."""
        if self._view and self._view.climb and self._may_start():
            self.push_screen(
                Confirm("End the climb here? Its trials stay in the book.", "end it", "keep it"),
                lambda yes: self._order(lambda workshop: workshop.abandon_climb()) if yes else None,
            )

    def action_stop(self) -> None:
        """Stop what runs."""
        if self._busy:
            self._desk.order(lambda workshop: workshop.stop())

    def action_load(self) -> None:
        """Choose the load."""

        def take(text: str | None) -> None:
            if text is not None:
                self._plan = parse_load(text, self._plan)
                self._show()

        self.push_screen(load_prompt(self._plan), take)

    def _with_reason(self, go: Callable[[str], None]) -> None:
        """Go on with the dialled values, with a typed reason when one lies above its advised ceiling."""
        assert self._dial is not None
        rig, setpoint = self._dial.rig, self._dial.setpoint
        try:
            rig.check(setpoint)
        except NeedsReason as needed:
            self.push_screen(
                reason_prompt(rig, setpoint, needed), lambda reason: go(reason) if reason is not None else None
            )
        except Refused as refused:
            self.query_one(NextStep).complain(str(refused))
        else:
            go("")

    def _may_start(self) -> bool:
        """Whether orders can be given now; says why not."""
        if self._view is None:
            return False
        if self._busy:
            self.query_one(NextStep).complain("A trial is under way: stop it first with s.")
        elif self._view.read_only:
            self.query_one(NextStep).complain(f"Read-only: {self._view.read_only}")
        else:
            return True
        return False

    def _start(self, order: Order) -> None:
        """Give an order that starts a run; on trouble nothing runs after all."""
        self._busy = True
        self.query_one(NextStep).complain("")
        pace = PACES[self._pace][0]

        def starting(workshop: "Workshop") -> None:
            workshop.pace = pace
            try:
                order(workshop)
            except BaseException:
                self.post_message(Told(RunEnded()))
                raise

        self._desk.order(starting)
        self._show()

    def _order(self, order: Order) -> None:
        self.query_one(NextStep).complain("")
        self._desk.order(order)

    # -- bench and book ----------------------------------------

    def action_bench(self) -> None:
        """The next bench."""
        if self._view and not self._busy:
            self._order(lambda workshop: workshop.next_bench())

    def action_rig(self) -> None:
        """The next rig."""
        if self._view and not self._busy:
            self._order(lambda workshop: workshop.next_rig())

    def action_pace(self) -> None:
        """The next pace of simulated time."""
        if not self._busy:
            self._pace = (self._pace + 1) % len(PACES)
            self._show()

    def action_cursor(self, step: int) -> None:
        """Point at another trial."""
        trials = self._pointable()
        if trials:
            at = len(trials) - 1 if self._cursor is None else self._cursor + step
            self._cursor = max(0, min(len(trials) - 1, at))
            self._show()

    def action_undo(self) -> None:
        """Take back the newest record."""
        if self._may_start():
            self._order(lambda workshop: workshop.undo() and None)

    def action_note(self) -> None:
        """Note on the trial pointed at, or the newest."""
        trials = self._pointable()
        if not trials or self._view is None or self._view.read_only:
            self.query_one(NextStep).complain("There is no trial to put a note on here.")
            return
        trial = trials[-1 if self._cursor is None else min(self._cursor, len(trials) - 1)]
        self.push_screen(
            note_prompt(trial),
            lambda text: self._order(lambda w: w.note(trial, text)) if text is not None else None,
        )

    def action_export(self) -> None:
        """Write the shown climb."""
        picture = self._view.pictures.get(self._dial.knob.name) if self._view and self._dial else None
        if picture is None:
            self.query_one(NextStep).complain("There is no climb along this knob to export yet.")
            return

        def write(text: str) -> str:
            path = Path(text).expanduser()
            export_climb(picture, path)
            return f"written: {path.absolute()}"

        self.push_screen(
            export_prompt(picture),
            lambda text: self._order(lambda _: write(text)) if text is not None else None,
        )

    # -- the screen ----------------------------------------

    def action_fold(self) -> None:
        """The next panel, on a small screen."""
        self._panel = (self._panel + 1) % len(PANELS)
        self._show_panel()

    def action_theme(self) -> None:
        """The other theme."""
        self.theme = CHALK.name if self.theme == SOOT.name else SOOT.name

    def action_help(self) -> None:
        """All keys."""
        self.push_screen(Help())

    def get_system_commands(self, screen: Screen[object]) -> Iterable[SystemCommand]:
        """Every command, for the palette."""
        del screen
        for command in COMMANDS:
            if not command.action.startswith(("dial", "select", "cursor")):
                yield SystemCommand(command.help, f"key {command.shown}", partial(self.run_action, command.action))

    def _pointable(self) -> tuple[Trial, ...]:
        """The trials that the cursor walks over: those of the shown climb, or all when there is none."""
        if self._view is None or self._dial is None:
            return ()
        picture = self._view.pictures.get(self._dial.knob.name)
        numbers = {point.number for point in picture.points} if picture else set()
        return tuple(trial for trial in self._view.trials if trial.number in numbers) or self._view.trials

    def _show_panel(self) -> None:
        for number, panel in enumerate(PANELS):
            self.screen.set_class(number == self._panel, f"panel-{panel}")

    def _show(self) -> None:
        """Bring every panel up to date with view and dial."""
        view, dial = self._view, self._dial
        if view is None or dial is None:
            return
        rig, dialled, knob = view.rig, dial.setpoint, dial.knob
        guard = rig.purpose.guard_band_steps
        tracks = tuple(track_of(k, dialled, view.in_force, rig.stock, view.trials, guard) for k in rig.knobs)
        self.query_one(Tracks).show(tracks, dial.selected)
        self.query_one(ClimbCanvas).show(view.pictures.get(knob.name), knob.label, self._cursor)
        self.query_one(EvidencePanel).show(
            evidence_at(dialled, view.trials, rig.purpose),
            rig.purpose,
            tuple((k.show(dialled[k.name]), dialled[k.name] != view.in_force[k.name]) for k in rig.knobs),
        )
        self.query_one(LogPanel).show(view.log)
        self.query_one(NextStep).suggest(*next_step(view, dialled, knob, self._busy))
        pace = f" · pace: {PACES[self._pace][1]}" if view.bench is BenchKind.SIM else ""
        idle = "READ-ONLY" if view.read_only else f"next load: {self._plan.show()}{pace}"
        self.query_one(Rail).show_idle(idle)
        self.query_one(KeyBar).show(self._busy)
