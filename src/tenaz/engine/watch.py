"""Hears a running load: keeps what it says durable, and stops it for what must not go on."""

from collections.abc import Callable, Sequence

from tenaz.core.base.errors import BookError
from tenaz.core.loads.plan import LoadProgress, LoadReport, Mismatch, show_bytes
from tenaz.core.machine.physical_memory import Laid, bytes_of
from tenaz.core.ports.bench import Bench, Clock, Journal, Publish
from tenaz.core.ports.events import Happened, LoadProgressed, Logged, Mismatched, Sampled
from tenaz.core.rigs.rig import Purpose
from tenaz.core.sensors.alarms import MEANS
from tenaz.core.sensors.clock_watch import ClockWatch
from tenaz.core.sensors.guard import Alarm, Said
from tenaz.core.sensors.last_seconds import LastSeconds
from tenaz.core.sensors.telemetry import Sample, Sensor, SensorKind
from tenaz.core.sensors.trace import CHUNK_SAMPLES, pack
from tenaz.core.trials.facts import SensorFact
from tenaz.core.trials.trial import Heartbeat, Trial
from tenaz.engine.before import NOTHING_BEFORE, Before
from tenaz.engine.guarding import Guarding

HEARTBEAT_S = 1.0

SUMMED_UP = (SensorKind.TEMPERATURE, SensorKind.POWER)

BATCH_S = 0.1
"""Wrong values that come within so long of each other are committed together; the first at once."""


class Watch:
    """Heartbeats each second, each mismatch at once, telemetry in stretches; display gets all of it.

    A book that cannot be written stops the load: notes that are lost silently are what this must never do.
    """

    def __init__(
        self,
        trial: Trial,
        purpose: Purpose,
        bench: Bench,
        journal: Journal,
        clock: Clock,
        publish: Publish,
        before: Before = NOTHING_BEFORE,
    ) -> None:
        self._trial = trial
        self._guarding = Guarding(purpose, clock.monotonic_s())
        self._throttling = ClockWatch()
        self._bench = bench
        self._journal = journal
        self._clock = clock
        self._publish = publish
        self._last_beat_s = float("-inf")
        self._latest: LoadProgress | None = None
        self._at_s = 0.0
        self._kept: list[Sample] = []
        self._wrong: list[Mismatch] = []
        self._batched_s = float("-inf")
        self._before = before
        self.trouble: BookError | None = None

    def progress(self, progress: LoadProgress) -> None:
        """Keep a heartbeat each second; show every piece of progress."""
        now = self._clock.monotonic_s()
        self._latest, self._at_s = progress, progress.elapsed_s
        self._heed(self._guarding.looks(now, self._at_s))
        if now - self._batched_s >= BATCH_S:
            self._keep_wrong()
        if now - self._last_beat_s >= HEARTBEAT_S:
            self._last_beat_s = now
            self._beat(progress)
            told = self._throttling.see([lane.clock_mhz for lane in progress.lanes])
            if told:
                self._say("clock", Said(progress.elapsed_s, Alarm.THROTTLED, told))
        self._publish(LoadProgressed(self._trial.id, progress))

    def mismatch(self, mismatch: Mismatch) -> None:
        """Keep a wrong value and say so: the first at once, those that pour in after it in batches, since whoever calls
        is listening to workers.
        """
        if self._before.knows(mismatch):
            return
        self._wrong.append(mismatch)
        if self._clock.monotonic_s() - self._batched_s >= BATCH_S:
            self._keep_wrong()

    def _keep_wrong(self) -> None:
        """Commit the wrong values that came in, in full and as lines of the log, at once; then they are shown."""
        found, self._wrong = self._wrong, []
        self._batched_s = self._clock.monotonic_s()
        if not found:
            return
        lines = [(one.load or self._trial.plan.kind, _told(one)) for one in found]
        self._durably(lambda: self._journal.load.wrong(self._trial, found, lines, self._clock))
        for one, (source, said) in zip(found, lines, strict=True):
            self._publish(Mismatched(self._trial.id, one))
            self._publish(Happened(self._trial.id, said))
            self._publish(Logged(source, said.show()))

    def laid(self, laid: Laid) -> None:
        """Keep where the load lies, and say how much of memory that is."""
        self._durably(lambda: self._journal.load.laid(self._trial.id, laid))
        whole = laid.fitted_bytes or bytes_of(laid.memory)
        if whole:
            reached = bytes_of(laid.reached)
            self._log("load", f"{show_bytes(reached)} of {show_bytes(whole)} fitted lie under load")

    def sensors(
        self, sensors: Sequence[Sensor], answer_within_s: float | None = None, period_s: float | None = None
    ) -> None:
        """Guard these from now on, and say what nobody watches."""
        self._guarding.watches(sensors, answer_within_s, period_s, self._clock.monotonic_s())
        self._guarding.knew(self._before.samples)
        if self.unwatched:
            self._say("sensors", Said(self._at_s, Alarm.WARNING, self.unwatched))

    def sample(self, sample: Sample) -> None:
        """Keep a sample, and stop for what it tells when it must be."""
        if not self._guarding.began or self._before.has(sample):
            return
        self._at_s = sample.at_s
        self._heed(self._guarding.sees(sample, self._clock.monotonic_s()))
        self._kept.append(sample)
        if len(self._kept) >= CHUNK_SAMPLES:
            self._keep()
        self._publish(Sampled(self._trial.id, self._guarding.sensors, sample))

    def _heed(self, said: Sequence[Said]) -> None:
        for one in said:
            self._say("sensors", one)
            if one is self._guarding.stopped_for:
                self._bench.loading.stop()

    def note(self, text: str, source: str = "sensors") -> None:
        """A line for the log."""
        self._say(source, Said(self._at_s, Alarm.NOTE, text))

    @property
    def token(self) -> str:
        """Names this load, the same whenever its trial is taken up."""
        return self._trial.uid

    def settle(self) -> None:
        """Everything that was told so far is in the book when this returns."""
        self._keep_wrong()
        self._keep()

    def last_seconds(self, seconds: LastSeconds) -> None:
        """Keep what was heard of a machine before it went."""
        self._durably(lambda: self._journal.load.last_seconds(self._trial.id, seconds))

    def finish(self) -> None:
        """Keep what is left, and sum up what was read."""
        self._keep_wrong()
        if self._latest is not None:
            self._beat(self._latest)
        self._keep()
        for record in self._guarding.records:
            if record.count and record.sensor.kind in SUMMED_UP:
                span = f"{record.lowest:.0f} to {record.highest:.0f} {record.sensor.kind.unit}"
                self._log(MEANS, f"{record.sensor.label}: {span}, mean {record.mean:.0f}")

    @property
    def unwatched(self) -> str:
        """What temperature nobody watches, in words."""
        return self._guarding.unwatched

    @property
    def sensors_read(self) -> tuple[SensorFact, ...]:
        """Peak and mean of what was read."""
        return self._guarding.sensors_read

    def judged(self, report: LoadReport) -> LoadReport:
        """The report, with what the guard stopped it for: a load that found nothing may have failed all the same."""
        return self._guarding.judged(report)

    def _keep(self) -> None:
        if self._kept:
            chunk, self._kept = pack(self._guarding.sensors, self._kept), []
            self._durably(lambda: self._journal.load.trace(self._trial.id, chunk))

    def _beat(self, progress: LoadProgress) -> None:
        under_load = self._bench.clock
        beat = Heartbeat(progress.elapsed_s, under_load.boot_id(), under_load.utc())
        self._durably(lambda: self._journal.load.heartbeat(self._trial.id, beat, progress.lanes))

    def _say(self, source: str, said: Said) -> None:
        """Keep and show something that happened at a time of the load."""
        self._log(source, said.show(), said)
        self._publish(Happened(self._trial.id, said))

    def _log(self, source: str, text: str, said: Said | None = None) -> None:
        self._durably(lambda: self._journal.log.write(self._trial.rig, self._trial.id, source, text, self._clock, said))
        self._publish(Logged(source, text))

    def _durably(self, write: Callable[[], None]) -> None:
        try:
            write()
        except BookError as error:
            self.trouble = self.trouble or error
            self._bench.loading.stop()


def _told(wrong: Mismatch) -> Said:
    """A wrong value as a line of the log."""
    core = "" if wrong.core is None else f" on core {wrong.core}"
    return Said(wrong.at_s, Alarm.WRONG_VALUE, f"worker {wrong.worker}{core}: {wrong.show()}")
