"""Reads sensors at a steady pace on a thread of its own, until told to stop."""

import math
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass

from tenaz.core.sensors.telemetry import Sample
from tenaz.probe.sensors import SensorTree

LAST_READING_S = 0.5
"""So long a stop waits for a reading under way; one that comes later is dropped."""

CALENDAR_JUMP_S = 2.0
"""A calendar that moves by more than this against the monotonic clock has been set, and is not to be trusted."""


RESTS = 20
"""Between the grid's points sensors rest so many times as long as they took: reading them is not to be felt."""


@dataclass(frozen=True, slots=True)
class Often:
    """Who hears of sensors more often than they are kept: every ``period_s``, where they answer quickly."""

    period_s: float
    on_moment: Callable[[Sample], None]


class Sampler:
    """Hands a sample to ``on_sample`` every ``period_s``; times count from its making. ``on_note`` hears of jumps,
    ``often`` of what is read in between too.
    """

    def __init__(
        self,
        tree: SensorTree,
        period_s: float,
        on_sample: Callable[[Sample], None],
        on_note: Callable[[str], None] = lambda _: None,
        often: Often | None = None,
    ) -> None:
        self._tree = tree
        self._period_s = period_s
        self._on_sample = on_sample
        self._on_note = on_note
        self._often = often
        self._stop = threading.Event()
        self._started_s = time.monotonic()
        self._thread = threading.Thread(target=self._work, name="sampler", daemon=True)

    def __enter__(self) -> "Sampler":
        self._thread.start()
        return self

    def __exit__(self, *_: object) -> None:
        self._stop.set()
        self._thread.join(LAST_READING_S)

    def _work(self) -> None:
        calendar_s = time.time() - time.monotonic()
        due_s, between_s = self._started_s, self._started_s if self._often is not None else math.inf
        while not self._stop.wait(max(0.0, min(due_s, between_s) - time.monotonic())):
            at_s = time.monotonic()
            values = self._tree.read(at_s)
            if self._stop.is_set():
                return
            sample = Sample(at_s - self._started_s, values, time.monotonic() - at_s)
            if self._often is not None:
                self._often.on_moment(sample)
                between_s = max(between_s + self._often.period_s, at_s + RESTS * sample.took_s)
            if at_s < due_s:
                continue
            self._on_sample(sample)
            drift_s = time.time() - time.monotonic() - calendar_s
            if abs(drift_s) > CALENDAR_JUMP_S:
                self._on_note(f"the calendar jumped by {drift_s:+.0f} s; times are counted on by the monotonic clock")
                calendar_s += drift_s
            # On a fixed grid: a slow reading does not push all later ones back, and none comes twice.
            due_s += self._period_s * (1 + int(max(0.0, time.monotonic() - due_s) / self._period_s))
