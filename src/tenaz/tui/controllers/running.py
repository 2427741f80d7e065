"""Keys of the loop: a trial, a routine, a climb, what is answered, and what is heard from the engine."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from tenaz.advice.prices import price_of_ending, price_of_stopping
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.base.plain_text import plain
from tenaz.core.base.typed import parse_ran
from tenaz.core.loads.composing import Draft
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.loads.routines import ROUTINES
from tenaz.core.ports.asking import Reply
from tenaz.core.ports.bench import HowLong, Question, Ran
from tenaz.core.ports.events import Asked, Happened, LoadProgressed, Mismatched, RunEnded, Sampled, TrialMoved
from tenaz.core.trials.trial import Trial
from tenaz.engine.recovery import asks_how_long
from tenaz.orders import (
    Begins,
    BeginSearch,
    EndSearch,
    Explain,
    FollowFound,
    GiveAnswer,
    GoOn,
    Order,
    SaveRoutine,
    SetPace,
    StartRoutine,
    StartTrial,
    Steps,
    Stop,
    TakeUp,
)
from tenaz.tui.base.hands import Hands
from tenaz.tui.controllers.finding import FindController
from tenaz.tui.pages.load import LoadPage
from tenaz.tui.pages.sheet import SheetPage
from tenaz.tui.pages.tune import TunePage
from tenaz.tui.prompts.load_picks import heat_by_kind, load_picks, routine_picks
from tenaz.tui.prompts.loads import (
    how_long_prompt,
    load_prompt,
    strategy_prompt,
)
from tenaz.tui.session.starting import Starting
from tenaz.tui.session.workspace import PACES, Workspace

MOST_LINES_ASKED = 8
TAKES_LONG = ("t", "c", "a›n", "a›f")
"""Keys that begin a trial or a search."""


class RunController:
    """Starts, answers, stops."""

    def __init__(self, work: Workspace, hands: Hands, starting: Starting, finding: FindController) -> None:
        self._work = work
        self._hands = hands
        self._starting = starting
        self._finding = finding
        self._open: Question | None = None
        """What the run asks now."""

    # -- what is heard ----------------------------------------

    def hear(self, event: object) -> None:
        """Something happened in the engine."""
        view = self._work.load_view
        match event:
            case LoadProgressed():
                self._hands.show_progress(event)
                view.take_progress(event.trial_id, event.progress)
                self._hands.show_load()
            case Sampled():
                view.take_sample(event.trial_id, event.sensors, event.sample)
            case Happened():
                view.take_said(event.trial_id, event.said)
            case Mismatched():
                view.take_wrong(event.trial_id, event.mismatch)
                self._hands.show_load()
            case Asked(question=HowLong() as question):
                self._ask_how_long(question, lambda answer: self._hands.give(GiveAnswer(answer, question)))
            case Asked(question=(Question() | None) as question):
                self._asked(question)
            case RunEnded():
                self._ended(event)
                self._hands.look()
            case TrialMoved(trial=trial) if self._work.busy:
                # From the judge on its record may stand on the screen before the run says that it has ended.
                self._work.winding_up = not trial.open or trial.station is Station.JUDGE
                self._hands.show_trial(trial if trial.open else None)
                self._hands.title(f"Tenaz: {trial.rig}, trial {trial.number}: {trial.outcome or trial.station}")
                self._hands.look()
            case _:
                self._hands.look()

    def _asked(self, question: Question | None) -> None:
        """A question of the run; while values are typed in, their sheet is in sight."""
        self._open = question
        if question is not None and question.station is Station.SET:
            self._work.pages.lend(SheetPage)
            self._hands.bring_page_forward()
        else:
            self._work.pages.give_back(SheetPage)
        self._hands.show()
        self._hands.show_question(_briefer(question))

    def _ended(self, event: RunEnded) -> None:
        self._work.busy = self._work.winding_up = False
        self._work.pages.give_back(SheetPage)
        self._work.pages.give_back(LoadPage)
        self._hands.show_question(None)
        if event.trouble:
            self._hands.complain(event.trouble)
        if event.advice:
            self._hands.tell(plain(event.advice), "done")
        self._hands.ring()

    # -- what is answered ----------------------------------------

    def take_answer(self, answer: Move | Outcome, to: Question | None = None) -> None:
        """The technician answered: the run's question, or the one about an unfinished trial."""
        unfinished = self._work.view.now.unfinished
        if self._work.busy:
            # The question itself without its lines was shown: what stands open is the whole one.
            self._hands.give(GiveAnswer(answer, self._open if to is not None else None))
        elif unfinished is not None:
            self._hands.show_question(None)
            if not isinstance(answer, Outcome):
                self._starting.start(TakeUp(unfinished.id))
            elif (question := asks_how_long(unfinished, answer)) is not None:
                self._ask_how_long(question, lambda ran: self._explain(unfinished, answer, ran))
            else:
                self._explain(unfinished, answer, None)

    def _ask_how_long(self, question: HowLong, take: Callable[[Ran | Reply], None]) -> None:
        """Ask for a time; leaving the prompt takes the answer before it back."""
        self._hands.ask(
            how_long_prompt(question),
            lambda text: take(Reply.A_SLIP if text is None else Ran(*parse_ran(text))),
        )

    def _explain(self, trial: Trial, outcome: Outcome, ran: Ran | Reply | None) -> None:
        if isinstance(ran, Reply):
            self._hands.look()
            return
        self._hands.give(Explain(trial.id, outcome) if ran is None else Explain(trial.id, outcome, ran.elapsed_s, ran))

    # -- what is started ----------------------------------------

    def start_trial(self) -> None:
        """Start one trial at the dialled values; above an advised ceiling a reason is asked for."""
        plan = self._work.load_for_knob

        def go() -> None:
            setpoint = self._work.dial.setpoint
            self._starting.with_reason(lambda reason: self._starting.start(StartTrial(setpoint, plan, reason)))

        self._starting.known_first(go)

    def follow_next(self) -> None:
        """Do what the line next says."""
        coming, work = self._work.coming, self._work
        if work.put_off is not None and work.view.now.unfinished is not None:
            work.put_off = None
            self._hands.show_question(work.question)
            self._hands.show()
            return
        if work.pages.shown.follow(work, self._hands):
            return
        match coming.order:
            case BeginSearch() as search:
                self._work.pages.show(TunePage)
                self._starting.start(replace(search, steps=Steps(one=self._work.view.bench.real)))
            case FollowFound() as found:
                self._finding.follow(found)
            case StartRoutine() as stand:
                self._work.dial.setpoint, plans = stand.setpoint, stand.loads
                self._starting.known_first(lambda: self._run_loads(plans))
            case _ if coming.key in TAKES_LONG:
                self._hands.complain(f"Enter starts nothing that takes long: {coming.key} does, as it says.")
            case _:
                self._hands.complain("There is nothing for Enter to do: choose a key below, or ? for all of them.")

    def run_routine(self) -> None:
        """Loads in turn at the dialled values, until one does not hold: composed in place."""
        from tenaz.tui.screens.compose import Compose  # noqa: PLC0415 - the first picture does not wait for it

        work = self._work
        view, own = work.view, work.view.kept.routines

        def take(draft: Draft | None) -> None:
            if draft is not None:
                work.routine = draft
                self._starting.known_first(lambda: self._run_loads(draft.steps))

        screen = Compose(
            work.routine or Draft(ROUTINES["sift"].plans),
            heat_by_kind(view.trials),
            load_picks(view.trials, own, view.bench),
            routine_picks(own),
            own,
            lambda name, text: self._hands.give(SaveRoutine(name, text)),
        )
        self._hands.ask(screen, take)

    def climb(self) -> None:
        """Begin a climb along the knob in hand, or go on with the one begun."""
        view, plan = self._work.view, self._work.load_for_knob
        steps = Steps(one=view.bench.real)
        if view.searches.going is not None:
            self._starting.start(GoOn(steps))
            return
        knob = self._work.dial.knob.name

        def begin() -> None:
            base = self._work.dial.setpoint
            how = self._work.strategy
            self._starting.with_reason(
                lambda reason: self._starting.start(BeginSearch((knob,), base, plan, reason, how, steps=steps))
            )

        self._starting.known_first(begin)

    def end_climb(self) -> None:
        """End the climb under way where it stands; u takes that back."""
        view = self._work.view
        going = view.searches.going
        if going is None:
            return
        name = f"climb of {', '.join(view.rig.knob(knob).label for knob in going.knobs[:2])}"
        mine = [trial for trial in view.trials if trial.search_id == going.id]
        self._starting.agreed(price_of_ending(name, mine), lambda: self._hands.give(EndSearch()))

    def stop_run(self) -> None:
        """Stop what runs."""
        view, newest = self._work.view, self._work.view.index.newest
        trial = newest if newest is not None and newest.open else None
        price = price_of_stopping(trial, self._work.load_view.elapsed_s, view.searches.going is not None)
        self._starting.agreed(price, self._stop)

    def _stop(self) -> None:
        if self._work.busy:
            self._hands.give(Stop())

    def choose_load(self) -> None:
        """Choose the load."""

        def take(text: str | None) -> None:
            if text is not None:
                self._work.choose(parse_load(text, self._work.plan))
                self._hands.show()

        view = self._work.view
        picks = load_picks(view.trials, view.kept.routines, view.bench)
        self._hands.ask(load_prompt(self._work.plan, picks), take)

    def take_load(self, name: str) -> None:
        """A load by its name, as it is usual, is the next."""
        self._work.choose(parse_load(name, self._work.plan))
        self._hands.show()

    def choose_strategy(self) -> None:
        """Choose how climbs search."""

        def take(text: str | None) -> None:
            if text is not None:
                self._work.strategy = text.strip().lower()
                self._hands.show()

        self._hands.ask(strategy_prompt(self._work.strategy), take)

    def next_pace(self) -> None:
        """The next pace of simulated time."""
        self._work.pace = (self._work.pace + 1) % len(PACES)
        self._hands.give(SetPace(PACES[self._work.pace][0]))
        self._hands.show()
        if self._work.busy:
            self._hands.tell(f"pace: {PACES[self._work.pace][1]}")

    def _run_loads(self, plans: tuple[LoadPlan, ...]) -> None:
        setpoint = self._work.dial.setpoint
        self._starting.with_reason(lambda reason: self._starting.start(StartRoutine(setpoint, plans, reason)))

    def could_not(self, order: Order[Any]) -> None:
        """An order was not carried out: where it was to start something, nothing runs after all."""
        if isinstance(order, Begins):
            self._work.busy = False
            self._hands.show_trial(None)
            self._hands.show()


def _briefer(question: Question | None) -> Question | None:
    """A question whose many lines stand on the sheet already, without them."""
    if question is None or question.station is not Station.SET or len(question.lines) <= MOST_LINES_ASKED:
        return question
    return replace(question, lines=("  the lines to type in stand on the sheet, each with its tick",))
