"""From events of the engine, which come from other threads, to messages of the interface."""

import time
from collections.abc import Callable

from textual.message import Message

PROGRESS_EVERY_S = 0.1
"""Progress is shown no more often: the screen is for people."""


class Told(Message):
    """The engine said something."""

    def __init__(self, event: object) -> None:
        super().__init__()
        self.event = event


class Bridge:
    """Hands events over; thins out progress before it reaches the interface's loop."""

    def __init__(self, post: Callable[[Message], object]) -> None:
        self._post = post
        self._last_progress_s = 0.0

    def __call__(self, event: object) -> None:
        """Pass one event on."""
        from tenaz.core.events import LoadProgressed  # noqa: PLC0415 - the first picture does not wait for it

        if isinstance(event, LoadProgressed):
            now = time.monotonic()
            finished = event.progress.fraction is not None and event.progress.fraction >= 1.0
            if now - self._last_progress_s < PROGRESS_EVERY_S and not finished:
                return
            self._last_progress_s = now
        self._post(Told(event))
