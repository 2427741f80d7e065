"""A night alone on a bench: its search run to the end; when it ends early the rig goes back to what was proven."""

from collections.abc import Callable
from contextlib import AbstractContextManager

from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.ports.bench import Clock, Journal, Publish
from tenaz.core.ports.events import Logged
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.search import Advice
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.engine.runner import TrialRunner
from tenaz.engine.search import SearchRunner
from tenaz.engine.shelf import Shelf

LOOK_S = 60.0
"""So long is looked whether what was proven still holds."""


def last_proven(rig: Rig, trials: TrialIndex) -> tuple[Setpoint, str]:
    """The setpoint that was proven last for the rig's purpose, and in words which; what it came with where none was."""
    seen = set[Setpoint]()
    for trial in reversed(trials.trials):
        if trial.setpoint not in seen and trial.verdict is Verdict.PASS:
            seen.add(trial.setpoint)
            if evidence_at(trial.setpoint, trials, rig).shown:
                return trial.setpoint, f"what trial {trial.number} proved"
    return rig.stock, "what it came with"


class NightRunner:
    """Runs a night trial by trial. Void trials end it only when it is stopped: what a rig does not take is passed over.
    ``at_once`` lets the way back pass without anybody waiting for it; None where it needs hands.
    """

    def __init__(
        self,
        rig: Rig,
        searching: SearchRunner,
        runner: TrialRunner,
        journal: Journal,
        clock: Clock,
        publish: Publish,
        shelf: Shelf,
        bench: BenchKind,
        at_once: Callable[[], AbstractContextManager[None]] | None,
    ) -> None:
        self._rig, self._searching, self._runner = rig, searching, runner
        self._journal, self._clock, self._publish = journal, clock, publish
        self._shelf, self._bench, self._at_once = shelf, bench, at_once

    def run(self) -> Advice:
        """Until it is over, or stopped; then the rig stands at what was proven."""
        while True:
            try:
                came = self._searching.step()
            except Refused as refused:
                return self._ended(str(refused))
            if isinstance(came, Advice):
                return came if came.setpoint is not None else self._ended(came.reason)
            if self._runner.stopping:
                return self._ended("stopped; the same again goes on with the night")

    def _ended(self, why: str) -> Advice:
        """Early: the rig goes back first."""
        text = self._back(why)
        self._say(text)
        return Advice(None, text)

    def _back(self, why: str) -> str:
        """Bring the rig back; gives what is to be said of it, how it stands first: some read no further."""
        trials = self._shelf.trials(self._bench)
        to, called = last_proven(self._rig, trials)
        newest = trials.newest
        if newest is None or newest.setpoint == to:
            return f"It stands at {called}. Ended early: {why}"
        if self._at_once is None:
            return f"Set it back to {called}: it stands at values that nothing has proven. Ended early: {why}"
        self._runner.resume()
        self._say(f"back to {called}")
        with self._at_once():
            trial = self._look(to)
        how = "it holds" if trial is not None and trial.verdict is Verdict.PASS else "look at it before you use it"
        return f"It was set back to {called}: {how}. Ended early: {why}"

    def _look(self, to: Setpoint) -> Trial | None:
        try:
            trial = self._runner.begin(to, LoadPlan(LoadKind.MARCH, LOOK_S), None, "back to what was proven")
        except Refused as refused:
            self._say(str(refused))
            return None
        return self._runner.run(trial)

    def _say(self, text: str) -> None:
        self._journal.log.write(self._rig.name, None, "night", text, self._clock)
        self._publish(Logged("night", text))
