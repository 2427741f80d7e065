"""How fast the rig at work is: measured as it runs, or in turn with another setpoint; the technician's own figures."""

from dataclasses import replace
from functools import partial

from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.routines import COMES_UP
from tenaz.core.ports.events import Logged, MeasureEnded, MeasureProgressed
from tenaz.core.scores.measure import Measured, MeasurePlan
from tenaz.core.scores.score import Circumstances
from tenaz.core.trials.trial import Trial
from tenaz.orders import BringScores, KeepOwn, Measure, MeasureInTurn
from tenaz.pictures.scores.build import scores_picture
from tenaz.pictures.scores.model import ScoresPicture
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.records.naming import setpoint_named
from tenaz.workshop.runs.running import Running, UnderWay

REASON = "to be measured"
TYPE_IT = "nothing can measure a rig that stands beside: type your own figures, read off there"


class Scoring:
    """Measures, keeps, compares."""

    def __init__(self, at_work: AtWork, running: Running) -> None:
        self._at = at_work
        self._running = running
        running.measure_night = self.night_measured

    @carries_out(Measure)
    def measure(self, order: Measure) -> None:
        """Measure the rig as it runs now.

        Raises:
            Refused: nothing can measure there, or it does not run at what the book says.
        """
        order.plan.check()
        if order.watts is not None and order.watts <= 0:
            raise Refused(f"{order.watts:g} W is no power; give what the meter shows under load.")
        run = self._ready()
        setpoint = self._at.in_force()

        def work() -> Measured:
            self._as_it_stands(run, setpoint)
            return self._once(run, setpoint, order.plan, order.note, order.watts)

        self._running.go(run, work)

    @carries_out(MeasureInTurn)
    def in_turn(self, order: MeasureInTurn) -> None:
        """Now, before, before, now: each set, started, shown to come up, and measured.

        Raises:
            Refused: both setpoints are the same, or nothing can measure there.
        """
        order.plan.check()
        before, now = setpoint_named(self._at, order.before), self._at.in_force()
        if before == now:
            raise Refused(f"{order.before} is what is set now: set what it is to be measured against first.")
        run = self._ready()
        for setpoint in (before, now):
            run.runner.check(setpoint, COMES_UP, REASON)

        self._running.go(run, lambda: self._alternate(run, before, now, order))

    def _alternate(self, run: UnderWay, before: Setpoint, now: Setpoint, order: MeasureInTurn) -> Trial | None:
        for setpoint in (now, before, before, now) * order.rounds:
            trial = run.runner.run(run.runner.begin(setpoint, COMES_UP, None, REASON))
            if run.runner.stopping or trial.outcome is None or trial.outcome.verdict is not Verdict.PASS:
                return trial
            measured = self._once(run, setpoint, order.plan, f"in turn against {order.before}", None)
            if measured.down or run.runner.stopping:
                return trial
        return None

    def night_measured(self, run: UnderWay, base: Setpoint) -> None:
        """What a night has proven against where it began; nothing where it moved nothing, where nothing can measure,
        or where both were measured already.
        """
        at = self._at
        now = at.in_force()
        known = {one.setpoint for one in at.store.measures.of(at.rig.name, at.bench) if one.ended_utc is not None}
        if now != base and run.bench.measuring is not None and not known >= {now, base}:
            self._alternate(run, base, now, MeasureInTurn("stock" if base == at.rig.stock else "where it began"))

    @carries_out(KeepOwn)
    def keep_own(self, order: KeepOwn) -> str:
        """Keep a figure of the technician's own at what is in force."""
        self._at.refuse_while("keep a figure")
        at, store = self._at, self._at.store
        begun = store.measures.begin(at.rig.name, at.bench, at.in_force(), self._at.clock, order.note)
        store.measures.end(begun.id, Measured((order.score,), Circumstances(), 0.0), self._at.clock)
        told = f"{order.score.figure.name}: {order.score.show()}"
        at.undoing.push(f"figure {order.score.figure.name}", partial(store.measures.take_out, begun.id))
        at.log("measure", told)
        return f"kept: {told}"

    @carries_out(BringScores)
    def picture(self, order: BringScores) -> ScoresPicture:
        """What was measured at what is in force, against another setpoint."""
        at = self._at
        before = setpoint_named(at, order.before)
        every = at.store.measures.of(at.rig.name, at.bench)
        # What is being measured now has not ended, and is no measure that never did.
        measures = [one for one in every if one.ended_utc is not None or not self._at.runs]
        return scores_picture(at.rig, measures, before, order.before, at.in_force(), at.trials)

    def _ready(self) -> UnderWay:
        run = self._running.ready("measure", attended=True)
        if run.bench.measuring is None:
            raise Refused(f"Cannot measure here: {TYPE_IT}.")
        return run

    def _as_it_stands(self, run: UnderWay, setpoint: Setpoint) -> None:
        """What is measured must be what the book says is set, as far as that can be read."""
        differing = [one.differs_in_words for one in run.bench.reading.read_back(setpoint) if not one.agrees]
        if differing:
            raise Refused(
                f"{self._at.rig.name} does not run at what the book says is set: {', '.join(differing)}. Start a "
                f"trial there and say what stands, then measure."
            )

    def _log(self, run: UnderWay, text: str) -> None:
        """By the clock of the workshop in which the rig stands."""
        self._at.store.log.write(self._at.rig.name, None, "measure", text, run.clock)
        self._at.publish(Logged("measure", text))

    def _once(self, run: UnderWay, setpoint: Setpoint, plan: MeasurePlan, note: str, watts: float | None) -> Measured:
        at, measuring = self._at, run.bench.measuring
        assert measuring is not None
        begun = at.store.measures.begin(at.rig.name, at.bench, setpoint, run.clock, note)
        self._log(run, f"measure {begun.number} begun")
        try:
            measured = measuring.measure(plan, lambda told: at.publish(MeasureProgressed(told)))
        except TenazError:
            at.store.measures.take_out(begun.id)
            raise
        if watts is not None:
            circumstances = replace(measured.circumstances, power_w=watts, by_meter=True)
            measured = replace(measured, circumstances=circumstances)
        at.store.measures.end(begun.id, measured, run.clock)
        at.undoing.push(f"measure {begun.number}", partial(at.store.measures.take_out, begun.id))
        told = f"measure {begun.number}: {len(measured.scores)} figures in {measured.seconds:.0f} s"
        self._log(run, told + (f"; {measured.why}" if measured.why else ""))
        at.publish(MeasureEnded(begun.number, measured.why))
        return measured
