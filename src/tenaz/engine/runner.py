"""Drives one trial along the loop: each station's work is the bench's, each move is in the book before the next."""

import threading

from tenaz.core.errors import Refused
from tenaz.core.events import Logged, TrialMoved
from tenaz.core.in_force import counting_on, setpoint_in_force
from tenaz.core.loading import LoadPlan, LoadReport, show_duration
from tenaz.core.loop import Move, Station
from tenaz.core.outcomes import Outcome
from tenaz.core.ports import Bench, Clock, Journal, Publish, Step
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Trial
from tenaz.engine.watch import Watch

BY_TENAZ, BY_TECHNICIAN = "Tenaz", "technician"


class TrialRunner:
    """Runs trials of one rig on one bench. ``run`` blocks; ``stop`` may come from any thread."""

    def __init__(self, rig: Rig, bench: Bench, journal: Journal, clock: Clock, publish: Publish) -> None:
        self._rig = rig
        self._bench = bench
        self._journal = journal
        self._clock = clock
        self._publish = publish
        self._stopping = threading.Event()

    def stop(self) -> None:
        """End the trial under way as soon as the bench can."""
        self._stopping.set()
        self._bench.stop()

    @property
    def stopping(self) -> bool:
        """Whether it was asked to stop."""
        return self._stopping.is_set()

    def check(self, setpoint: Setpoint, plan: LoadPlan, reason: str = "") -> None:
        """A dry run: refuse what :meth:`begin` would."""
        self._rig.check(setpoint, reason)
        self._bench.check(plan)

    def begin(self, setpoint: Setpoint, plan: LoadPlan, climb_id: int | None = None, reason: str = "") -> Trial:
        """Check the setpoint, then commit that the trial begins; nothing is touched yet.

        Raises:
            Refused: a value that may not be set, or a load that cannot run there.
            BookError: the beginning could not be made durable.
        """
        self.check(setpoint, plan, reason)
        trial = self._journal.begin_trial(self._rig, self._bench.kind, setpoint, plan, self._clock, climb_id, reason)
        self._say(trial, f"trial {trial.number} begins: {plan.show()}")
        return trial

    def run(self, trial: Trial) -> Trial:
        """Take an open trial from the station where it stands to its end."""
        self._publish(TrialMoved(trial))
        report: LoadReport | None = None
        step = Step(Move.STOP)
        while trial.open:
            if trial.station is Station.JUDGE:
                return self._judge(trial, step, report)
            step, report = self._work(trial)
            self._say(trial, f"{trial.station}: {step.detail or step.move}")
            trial = self._journal.move(trial, step, self._clock)
            self._publish(TrialMoved(trial, step.detail))
        return trial

    def _work(self, trial: Trial) -> tuple[Step, LoadReport | None]:
        """One station's work."""
        if self._stopping.is_set():
            return Step(Move.STOP, "stopped by hand"), None
        match trial.station:
            case Station.SET:
                return self._bench.set(trial.setpoint, self._before(trial)), None
            case Station.BOOT:
                return self._bench.boot(), None
            case Station.CONFIRM:
                return self._bench.confirm(trial.setpoint)[0], None
            case _:
                return self._load(trial)

    def _load(self, trial: Trial) -> tuple[Step, LoadReport]:
        watch = Watch(trial, self._rig.purpose, self._bench, self._journal, self._clock, self._publish)
        try:
            report = self._bench.load(trial.plan, watch)
        except Refused as refused:
            report = LoadReport(trial.plan, Outcome.STOPPED, 0.0, 0.0, 0.0, 0, detail=str(refused))
        watch.finish()
        if watch.trouble is not None:
            raise watch.trouble
        report = watch.judged(report)
        return Step(Move.LOAD_ENDED, describe(report)), report

    def _judge(self, trial: Trial, last: Step, report: LoadReport | None) -> Trial:
        """Record what the trial came to; without a report it did not reach the load."""
        if report is None:
            outcome = Outcome.STOPPED if last.move is Move.STOP else Outcome.NO_BOOT
            failed_after_s = 0.0 if outcome is Outcome.NO_BOOT else None
            report = LoadReport(trial.plan, outcome, 0.0, 0.0, 0.0, 0, failed_after_s, detail=last.detail)
        trial = self._journal.record(
            trial,
            report.outcome,
            BY_TECHNICIAN if self._bench.kind is BenchKind.HAND else BY_TENAZ,
            self._clock,
            report.elapsed_s,
            report.failed_after_s,
            report.errors,
            report.detail,
            report.covered,
        )
        self._say(trial, f"trial {trial.number}: {report.outcome} ({trial.verdict})")
        self._publish(TrialMoved(trial))
        return trial

    def _before(self, trial: Trial) -> Setpoint:
        """What the rig was set to when the trial began."""
        earlier = [t for t in self._journal.trials(self._rig.name) if t.number < trial.number]
        return setpoint_in_force(counting_on(trial.bench, earlier), self._rig.stock)

    def _say(self, trial: Trial, text: str) -> None:
        self._journal.log(trial.rig, trial.id, "loop", text, self._clock)
        self._publish(Logged("loop", text))


def describe(report: LoadReport) -> str:
    """One line about a finished load."""
    parts = [f"{report.outcome} after {show_duration(report.elapsed_s)}"]
    if report.laps >= 0.01:
        parts.append(f"{report.laps:.2f} laps")
    if report.outcome is Outcome.HELD and report.least_covered < 1:
        parts.append(f"not once through: it has shown only the {report.least_covered:.0%} that it reached")
    if report.rate:
        parts.append(f"{report.rate:.1f} {report.plan.kind.rate_unit}")
    if report.errors:
        parts.append(f"{report.errors} error{'s' if report.errors != 1 else ''}")
    if report.detail:
        parts.append(report.detail)
    return ", ".join(parts)
