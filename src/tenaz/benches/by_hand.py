"""The bench ``hand``: the rig stands elsewhere; Tenaz says what to do and waits for what was seen."""

import threading
from dataclasses import replace

from tenaz.benches import questions
from tenaz.core.base.errors import Interrupted
from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.readings import Reading, Source, reading_of
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan, LoadProgress, LoadReport
from tenaz.core.ports.asking import asked
from tenaz.core.ports.bench import Bench, Clock, LoadWatch, Ran, StationReport, Technician
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.facts import facts_by_lanes

TICK_S = 0.5


class ByHand:
    """Every station is a question to the technician; only the clock is ours."""

    def __init__(self, rig: Rig, technician: Technician, clock: Clock) -> None:
        self._rig = rig
        self._technician = technician
        self._clock = clock
        self._entered: tuple[str, ...] = ()
        self._looked = False
        """Whether the technician said, when it came up, that it runs at what was typed in."""

    def check(self, plan: LoadPlan) -> None:
        """What the technician can run there is not ours to say."""

    def set(self, setpoint: Setpoint, before: Setpoint) -> StationReport:
        """Show the sheet and wait until it is entered."""
        self._entered = tuple(change.knob for change in setpoint.changes_from(before))
        if not self._entered:
            return StationReport(Move.ENTERED, "nothing to enter: these values stand")
        return asked(self._technician, questions.entering(self._rig, setpoint, before, "then start it"))

    def boot(self) -> StationReport:
        """Ask what the rig did, and whether it runs at what was typed in."""
        report = asked(self._technician, questions.booting(self._rig))
        self._looked = report.move is Move.CAME_UP_AS_ASKED
        return report

    def read_back(self, setpoint: Setpoint) -> tuple[Reading, ...]:
        """Nothing can be read from here; the technician is asked for the lines that were typed in."""
        shown = self._entered or tuple(setpoint)
        readings = tuple(reading_of(k, setpoint[k.name], None) for k in self._rig.knobs if k.name in shown)
        return tuple(replace(one, source=Source.ACCEPTED) for one in readings) if self._looked else readings

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        """Keep the clock while the technician runs the load; ends with what was seen."""
        started = self._clock.monotonic_s()
        over = threading.Event()
        ticking = threading.Thread(target=self._tick, args=(plan, watch, started, over), daemon=True)
        ticking.start()
        try:
            outcome, ran = self._seen(plan, started)
        except Interrupted:
            outcome, ran = Outcome.STOPPED, Ran(self._clock.monotonic_s() - started)
        finally:
            over.set()
            ticking.join()
        failed, elapsed = outcome.verdict is Verdict.FAIL, ran.elapsed_s
        return LoadReport(
            plan,
            outcome,
            elapsed,
            laps=0.0,
            rate=0.0,
            errors=ran.errors if ran.errors is not None else int(outcome is Outcome.ERRED),
            failed_after_s=elapsed if failed else None,
            detail=ran.with_code("as the technician saw it"),
            hottest_c=ran.hottest_c,
            wall_w=ran.wall_w,
            loads=facts_by_lanes(plan, elapsed, (), self._rig.cores_known, self._rig.memory_bytes, by_hand=True),
        )

    def _seen(self, plan: LoadPlan, started: float) -> tuple[Outcome, Ran]:
        """What was seen, and how long it really ran: who answers in the morning did not watch all night."""
        while True:
            answer = self._technician.ask(questions.watching(self._rig, plan))
            outcome = answer if isinstance(answer, Outcome) else Outcome.STOPPED
            by_the_clock = self._clock.monotonic_s() - started
            ran = self._technician.how_long(questions.really_ran(plan, outcome, by_the_clock))
            if ran is None:
                continue
            if outcome is not Outcome.HELD or ran.elapsed_s > 0:
                return outcome, ran

    def stop(self) -> None:
        """Nothing runs here; a question is taken back by who asks it."""

    def _tick(self, plan: LoadPlan, watch: LoadWatch, started: float, over: threading.Event) -> None:
        while not over.wait(TICK_S):
            elapsed = self._clock.monotonic_s() - started
            watch.progress(LoadProgress(plan, elapsed, *plan.ahead(elapsed, 0.0), laps=0.0, rate=0.0, errors=0))


def hand_bench(rig: Rig, technician: Technician, clock: Clock) -> Bench:
    """The bench: all its parts are the technician."""
    hands = ByHand(rig, technician, clock)
    return Bench(BenchKind.HAND, hands, hands, hands, clock, technician)
