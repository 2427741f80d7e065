"""A search over trials: where it stands by what the book holds, and one more trial, or all of them."""

from collections.abc import Sequence

from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.setpoint import AUTO, UNKNOWN
from tenaz.core.ports.bench import Clock, Journal, Publish
from tenaz.core.ports.events import Logged
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.search import Advice, SearchPlan, search_limit
from tenaz.core.trials.trial import Trial
from tenaz.engine.runner import TrialRunner
from tenaz.engine.shelf import Shelf
from tenaz.search.registry import strategy_of

MOST_NAMED = 6
"""Knobs that a search is called by."""


def check_search(rig: Rig, plan: SearchPlan) -> None:
    """Refuse a search that cannot begin, before anything is touched.

    Raises:
        Refused: a value that is not known, on auto, or has no step left; names the knob.
    """
    rig.check(plan.base, plan.reason)
    kind = strategy_of(plan.strategy)
    for name in plan.knobs:
        knob = rig.knob(name)
        limit = search_limit(knob, plan.reason)
        if plan.base[knob.name] is UNKNOWN:
            raise Refused(
                f"{knob.label} is not known on {rig.name}: look up in the firmware what it stands at, and type it "
                f"(in the workbench with v, on the command line with --from)."
            )
        if plan.base[knob.name] is AUTO and kind.from_auto:
            continue
        if plan.base[knob.name] is AUTO:
            raise Refused(f"{knob.label} is on auto: dial the number that the climb starts from.")
        start = plan.base.number(knob.name)
        if kind.climbs and knob.strain(start) >= knob.strain(limit):
            raise Refused(
                f"{knob.label} stands at {knob.show(start)} and may be climbed to {knob.show(limit)}: "
                f"there is no step left. Dial an easier value first."
            )
    kind.check_knobs(len(plan.knobs))
    kind.typed(plan.parameters)


MOST_AGAIN = 2
"""Trials in a row that said nothing of the rig, after which a search goes on all the same."""


class SearchRunner:
    """Runs a search on a trial runner. ``step`` makes one trial, ``run`` goes on until advice or a void trial.

    ``shelf`` has the trials at hand, and tells where it stands.
    """

    def __init__(
        self,
        rig: Rig,
        plan: SearchPlan,
        runner: TrialRunner,
        journal: Journal,
        clock: Clock,
        publish: Publish,
        shelf: Shelf,
    ) -> None:
        self._rig = rig
        self._plan = plan
        self._runner = runner
        self._journal = journal
        self._clock = clock
        self._publish = publish
        self._shelf = shelf

    def step(self) -> Trial | Advice:
        """One trial as proposed; the advice instead when the search is done, and that is then recorded."""
        stands = self._shelf.standing(self._plan)
        if isinstance(stands, Advice):
            self._journal.searches.end(self._plan.id, stands.reason, self._clock)
            text = f"{called(self._rig, self._plan)} done: {stands.reason}"
            self._journal.log.write(self._rig.name, None, "climb", text, self._clock)
            self._publish(Logged("climb", text))
            return stands
        trial = self._runner.begin(stands.setpoint, stands.plan, self._plan.id, self._plan.reason)
        return self._runner.run(trial)

    def run(self) -> Trial | Advice:
        """Trial after trial; ends with the advice, or with the trial that was stopped. One that was kept from its
        cores, or whose own check went wrong, is made again; so often in a row, and no more.
        """
        again = 0
        while True:
            came = self.step()
            if isinstance(came, Advice):
                return came
            again = again + 1 if came.outcome in (Outcome.STARVED, Outcome.UNCHECKED) else 0
            if came.verdict is Verdict.VOID and not 0 < again <= MOST_AGAIN:
                return came


def called(rig: Rig, plan: SearchPlan) -> str:
    """What a search is called: a climb of a knob, or its strategy over several."""
    kind = strategy_of(plan.strategy)
    if len(plan.knobs) > MOST_NAMED:
        return f"{kind.name} over {len(plan.knobs)} knobs"
    return f"{'climb' if kind.climbs else kind.name} of {labels(rig, plan.knobs)}"


def labels(rig: Rig, knobs: Sequence[str]) -> str:
    """Knobs as they are called on the rig."""
    return ", ".join(rig.knob(name).label for name in knobs)
