"""Drives one trial along the loop: each station's work is the bench's, each move is in the book before the next."""

import threading
from dataclasses import replace
from datetime import timedelta

from tenaz.core.base.errors import Interrupted, Refused
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.knobs.readings import Reading
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan, LoadReport, show_duration
from tenaz.core.ports.bench import Bench, Clock, Journal, Publish, StationReport
from tenaz.core.ports.events import Logged, TrialMoved
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.facts import LoadFacts, read_off
from tenaz.core.trials.in_force import cleared
from tenaz.core.trials.trial import Trial
from tenaz.engine.before import NOTHING_BEFORE, before_of
from tenaz.engine.confirming import confirm, known_as_before
from tenaz.engine.watch import Watch


def verified(trial: Trial) -> bool:
    """Whether how a trial ended was seen by its own load, and by nobody: no slip of a person's."""
    return trial.seen_by == BY_TENAZ and trial.verdict is not Verdict.VOID


FILES_MAY_BE_DAMAGED = (
    "its memory gave wrong values: files that were written while it ran so may be damaged; compare them with a copy, "
    "and write nothing that matters until it holds"
)
LEFT_RUNNING = timedelta(hours=20)
"""So long after a trial a rig that somebody starts by hand counts as left as it was."""
BY_TENAZ, BY_TECHNICIAN = "Tenaz", "technician"


class TrialRunner:
    """Runs trials of one rig on one bench. ``run`` blocks; ``stop`` may come from any thread. ``clock`` is Tenaz's own:
    the bench has that of the machine under load.
    """

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
        self._bench.loading.stop()

    def resume(self) -> None:
        """Forget that it was stopped: something is to be made good."""
        self._stopping.clear()

    @property
    def stopping(self) -> bool:
        """Whether it was asked to stop."""
        return self._stopping.is_set()

    def check(self, setpoint: Setpoint, plan: LoadPlan, reason: str = "") -> None:
        """A dry run: refuse what :meth:`begin` would."""
        self._rig.check(setpoint, reason)
        self._bench.loading.check(plan)

    def begin(self, setpoint: Setpoint, plan: LoadPlan, search_id: int | None = None, reason: str = "") -> Trial:
        """Check the setpoint, then commit that the trial begins; nothing is touched yet.

        Raises:
            Refused: a value that may not be set, or a load that cannot run there.
            BookError: the beginning could not be made durable.
        """
        self.check(setpoint, plan, reason)
        trial = self._journal.trials.begin(self._rig, self._bench.kind, setpoint, plan, self._clock, search_id, reason)
        self._say(trial, f"trial {trial.number} begins: {plan.show()}")
        return trial

    def run(self, trial: Trial) -> Trial:
        """Take an open trial from the station where it stands to its end."""
        self._publish(TrialMoved(trial))
        ended: tuple[LoadReport, LoadFacts] | None = None
        report = StationReport(Move.STOP)
        while trial.open:
            if trial.station is Station.JUDGE:
                return self._judge(trial, report, ended)
            readings: tuple[Reading, ...] = ()
            if self._stopping.is_set():
                report = StationReport(Move.STOP, "stopped by hand")
            elif trial.station is Station.LOAD:
                report, ended = self._load(trial)
            else:
                report, readings = self._work(trial)
            self._say(trial, f"{trial.station}: {report.detail or report.move}")
            trial = self._journal.trials.move(trial, report, self._bench.clock, readings)
            self._publish(TrialMoved(trial, report.detail))
        return trial

    def _work(self, trial: Trial) -> tuple[StationReport, tuple[Reading, ...]]:
        """One station's work before the load, with the time that it took on the rig."""
        bench, readings = self._bench, tuple[Reading, ...]()
        begun_s = bench.clock.monotonic_s()
        as_before = self._as_before(trial)
        match trial.station:
            case Station.SET if as_before is not None:
                report = StationReport(Move.ENTERED, f"nothing to enter: it stands as in trial {as_before.number}")
            case Station.BOOT if as_before is not None:
                report = StationReport(Move.CAME_UP, f"it is up since trial {as_before.number}")
            case Station.SET:
                report = bench.setting.set(trial.asked, self._before(trial))
            case Station.BOOT:
                report = bench.setting.boot()
            case _:
                report, readings = self._confirm(trial, as_before)
        took_s = bench.clock.monotonic_s() - begun_s
        by_hand = bench.traits.needs_hands and as_before is None
        return replace(report, seconds=took_s if as_before is None else None, by_hand=by_hand), readings

    def _confirm(self, trial: Trial, as_before: Trial | None) -> tuple[StationReport, tuple[Reading, ...]]:
        """Read back, and compare; who is to read may have to wait, and be stopped at that."""
        earlier = self._journal.trials.readings_of(trial.id)
        try:
            read = self._bench.reading.read_back(trial.asked)
        except Interrupted:
            return StationReport(Move.STOP, "stopped by hand"), ()
        if as_before is not None:
            read = known_as_before(read, as_before)
        return confirm(read, self._bench.technician, earlier, self._bench.traits.needs_hands and as_before is None)

    def _as_before(self, trial: Trial) -> Trial | None:
        """The trial before this one, where the rig still stands and runs as it did then: nothing is entered, nothing
        started, nobody looks again. Only where hands would have to do it; None: they must.
        """
        if not self._bench.traits.needs_hands or _asked_already(trial):
            return None
        before = self._journal.trials.before(trial)
        if before is None or before.outcome is None or before.outcome.machine_went_down:
            return None
        same = before.setpoint == trial.setpoint and before.fitted == self._rig.fitted and bool(before.elapsed_s)
        return before if same and timedelta(0) <= trial.begun_utc - before.begun_utc <= LEFT_RUNNING else None

    def _load(self, trial: Trial) -> tuple[StationReport, tuple[LoadReport, LoadFacts]]:
        # Where a load outlives Tenaz it may be joined again, and what is in the book of it comes once more.
        taken_up = self._bench.traits.outlives_us and trial.heartbeat is not None
        before = before_of(trial.id, self._journal.load) if taken_up else NOTHING_BEFORE
        watch = Watch(trial, self._rig.purpose, self._bench, self._journal, self._clock, self._publish, before)
        try:
            report = self._bench.loading.load(trial.plan, watch)
        except Refused as refused:
            report = LoadReport(trial.plan, Outcome.STOPPED, 0.0, 0.0, 0.0, 0, detail=str(refused))
        watch.finish()
        if watch.trouble is not None:
            raise watch.trouble
        report = watch.judged(report)
        seen = (*watch.sensors_read, *read_off(report.hottest_c, report.wall_w))
        facts = LoadFacts(report.loads, seen, self._rig.room_c, watch.unwatched)
        return StationReport(Move.LOAD_ENDED, describe(report)), (report, facts)

    def _judge(self, trial: Trial, last: StationReport, ended: tuple[LoadReport, LoadFacts] | None) -> Trial:
        """Record what the trial came to; without a report it did not reach the load."""
        if ended is None:
            outcome = Outcome.STOPPED if last.move is Move.STOP else Outcome.NO_BOOT
            failed_after_s = 0.0 if outcome is Outcome.NO_BOOT else None
            report = LoadReport(trial.plan, outcome, 0.0, 0.0, 0.0, 0, failed_after_s, detail=last.detail)
            ended = report, LoadFacts(room_c=self._rig.room_c)
        report, facts = ended
        trial = self._journal.trials.record(
            trial,
            report.outcome,
            BY_TENAZ if self._bench.traits.watches_load else BY_TECHNICIAN,
            self._clock,
            report.elapsed_s,
            report.failed_after_s,
            report.errors,
            report.detail,
            facts,
        )
        self._say(trial, f"trial {trial.number}: {report.outcome} ({trial.verdict.words})")
        if self._bench.kind.real and trial.memory_was_wrong:
            self._say(trial, FILES_MAY_BE_DAMAGED)
        self._publish(TrialMoved(trial))
        return trial

    def _before(self, trial: Trial) -> Setpoint:
        """What the rig was set to when the trial began."""
        earlier = self._journal.trials.before(trial)
        if earlier is None or cleared(earlier):
            return self._rig.stock
        return earlier.setpoint.knowing(self._rig.stock)

    def _say(self, trial: Trial, text: str) -> None:
        self._journal.log.write(trial.rig, trial.id, "loop", text, self._clock)
        self._publish(Logged("loop", text))


def _asked_already(trial: Trial) -> bool:
    """Whether somebody was asked in this trial: it was taken back to where a slip was, or values differed."""
    return any(fact.by_hand for fact in trial.stations)


def _failed_in(report: LoadReport) -> str:
    """Of loads side by side those that something was wrong in: so much is known of the part that failed."""
    failed = [one for one in report.loads if one.failed_after_s is not None]
    if len(report.loads) < SIDE_BY_SIDE or not failed:
        return ""
    held = ", ".join(one.kind for one in report.loads if one.failed_after_s is None)
    return f" in {', '.join(one.kind for one in failed)}" + (f", none in {held}" if held else "")


SIDE_BY_SIDE = 2


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
        parts.append(f"{report.errors} error{'s' if report.errors != 1 else ''}{_failed_in(report)}")
    if report.detail:
        parts.append(report.detail)
    return ", ".join(parts)
