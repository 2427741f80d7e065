"""From events of the engine, which come from other threads, to messages of the interface."""

import time
from collections.abc import Callable

from textual.message import Message

PROGRESS_EVERY_S = 0.1
"""Progress is shown no more often: the screen is for people."""

SLOWEST_HZ, FASTEST_HZ = 0.2, 30.0
MOST_WAITING = 2
"""Pictures that a slow link has not taken yet: with more, progress is left out, so that keys are still answered."""


class Told(Message):
    """The engine said something."""

    def __init__(self, event: object) -> None:
        super().__init__()
        self.event = event


class Bridge:
    """Hands events over; thins out progress before it reaches the interface's loop."""

    def __init__(self, post: Callable[[Message], object], backlog: Callable[[], int] = lambda: 0) -> None:
        self._post = post
        self._backlog = backlog
        self._every_s = PROGRESS_EVERY_S
        self._last_progress_s = 0.0

    def take_rate(self, updates_hz: object) -> None:
        """How often what runs is drawn anew; what is no such rate is left as it was."""
        if isinstance(updates_hz, int | float) and SLOWEST_HZ <= updates_hz <= FASTEST_HZ:
            self._every_s = 1.0 / updates_hz

    def __call__(self, event: object) -> None:
        """Pass one event on."""
        from tenaz.core.ports.events import LoadProgressed, MeasureProgressed  # noqa: PLC0415 - not for the first picture

        if isinstance(event, LoadProgressed):
            now = time.monotonic()
            finished = event.progress.fraction is not None and event.progress.fraction >= 1.0
            too_soon = now - self._last_progress_s < self._every_s or self._backlog() > MOST_WAITING
            if too_soon and not finished:
                return
            self._last_progress_s = now
        if isinstance(event, MeasureProgressed):
            now = time.monotonic()
            if now - self._last_progress_s < self._every_s or self._backlog() > MOST_WAITING:
                return
            self._last_progress_s = now
        self._post(Told(event))
