"""Hears a load where it runs: guards it, keeps what happens for the book, and shows how it fares to whoever listens."""

import threading
import time
from collections.abc import Callable, Sequence
from typing import Any

from tenaz.core.loads.plan import LoadProgress, LoadReport, Mismatch, WorkerProgress
from tenaz.core.machine.physical_memory import Laid
from tenaz.core.rigs.rig import Purpose
from tenaz.core.sensors.last_seconds import CoreMoment, LastSeconds, Moment
from tenaz.core.sensors.telemetry import Sample, Sensor
from tenaz.engine.guarding import Guarding
from tenaz.wire.protocol import Noted, Told

Keep = Callable[[str, Any], None]
"""Keeps a notice by its name."""
Show = Callable[[str, Any], None]
"""Shows what may be lost, by its name."""

SHOWN_EVERY_S = 0.5
"""The whole of a load is shown less often than its cores are: it is large."""

ALIVE = ("starting", "ready", "done")
"""What a worker does that is not to say anything new for a while."""


class Hearing:
    """A :class:`tenaz.core.ports.bench.LoadWatch`. ``stop`` ends the load."""

    def __init__(self, token: str, purpose: Purpose, keep: Keep, show: Show, stop: Callable[[], None]) -> None:
        self._token, self._keep, self._show, self._stop = token, keep, show, stop
        self._guarding = Guarding(purpose, time.monotonic())
        self._lock = threading.Lock()
        self._at_s = self._shown_s = 0.0
        self._lanes: dict[int, tuple[WorkerProgress, float]] = {}
        """By worker: what it told last, and when that was new."""

    @property
    def token(self) -> str:
        """Names the load."""
        return self._token

    def progress(self, progress: LoadProgress) -> None:
        """Show it; look whether the guard still sees."""
        now = time.monotonic()
        self._at_s = progress.elapsed_s
        with self._lock:
            for lane in progress.lanes:
                known = self._lanes.get(lane.worker)
                if known is None or known[0] != lane:
                    self._lanes[lane.worker] = lane, now
        self._guarding.looks(now, self._at_s)
        self._heed()
        if now - self._shown_s >= SHOWN_EVERY_S:
            self._shown_s = now
            self._show("progress", progress)

    def mismatch(self, mismatch: Mismatch) -> None:
        """Keep it."""
        self._keep("mismatch", mismatch)

    def laid(self, laid: Laid) -> None:
        """Keep where the load lies."""
        self._keep("laid", laid)

    def sensors(
        self, sensors: Sequence[Sensor], answer_within_s: float | None = None, period_s: float | None = None
    ) -> None:
        """Guard these, and keep which they are."""
        self._guarding.watches(sensors, answer_within_s, period_s, time.monotonic())
        self._keep("sensors", Told(tuple(sensors), period_s or 1.0))

    def sample(self, sample: Sample) -> None:
        """Guard, and keep."""
        self._guarding.sees(sample, time.monotonic())
        self._heed()
        self._keep("sample", sample)

    def moment(self, sample: Sample) -> None:
        """What sensors read in between, with what each core came to: shown, and gone."""
        now = time.monotonic()
        with self._lock:
            cores = tuple(
                CoreMoment(
                    lane.core,
                    lane.clock_mhz,
                    round(lane.rate, 3),
                    lane.errors,
                    0.0 if lane.doing in ALIVE else round(now - told_s, 2),
                )
                for lane, told_s in self._lanes.values()
            )
        self._show("glimpse", Moment(round(sample.at_s, 3), sample.values, cores))

    def note(self, text: str, source: str = "sensors") -> None:
        """Keep a line."""
        self._keep("note", Noted(text, source))

    def settle(self) -> None:
        """Everything is kept as it comes."""

    def last_seconds(self, seconds: LastSeconds) -> None:
        """Who goes down with the machine tells nothing of it."""

    def _heed(self) -> None:
        if self._guarding.stopped_for is not None:
            self._stop()

    def judged(self, report: LoadReport) -> LoadReport:
        """The report, with what the guard stopped it for."""
        return self._guarding.judged(report)
