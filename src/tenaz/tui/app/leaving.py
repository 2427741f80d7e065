"""The end of the workbench: by a key, by a signal, or because its terminal is gone; what runs may go on without it."""

import asyncio
import os
import sys
import threading
from collections.abc import Callable
from contextlib import suppress
from typing import TYPE_CHECKING, Any

from tenaz.core.base.systems import signals

if TYPE_CHECKING:
    from textual.app import App

    from tenaz.tui.app.glance import Glance
    from tenaz.tui.base.desk import Desk

TERMINAL_LOOKED_AT_S = 1.0
STAY = "stay:"
"""What the workbench is left with when what runs is to go on; behind it the rig that is worked on next, if one is."""


def terminal_is_there() -> bool:
    """Whether keys can still come and pictures still go."""
    try:
        return sys.__stdin__ is not None and os.isatty(sys.__stdin__.fileno())
    except (OSError, ValueError):
        return False


class Leaving:
    """Ends what runs, closes the book, and then the application; whatever the reason, once. ``stay``, where there is
    one, lets go of the terminal instead while something runs.
    """

    def __init__(
        self, desk: "Desk", glance: "Glance", clean_up: Callable[[], None], stay: Callable[[], None] | None = None
    ) -> None:
        self._desk = desk
        self._glance = glance
        self._clean_up = clean_up
        self._stay = stay
        self._ending = False
        self.busy: Callable[[], bool] = lambda: False
        """Whether something runs."""

    @property
    def can_stay(self) -> bool:
        """Whether what runs can go on without a workbench."""
        return self._stay is not None

    def watch(self, app: "App[Any]") -> None:
        """Hear requests to end, and look whether the terminal is still there."""
        for number in signals("SIGTERM", "SIGHUP"):
            with suppress(NotImplementedError):
                # Not every system tells a loop of such things.
                asyncio.get_running_loop().add_signal_handler(number, self._end_for, app, number)
        app.set_interval(TERMINAL_LOOKED_AT_S, lambda: self._look_at_terminal(app))

    def leave(self, app: "App[Any]", running: bool = False, then: str = "") -> None:
        """Leave by a key; what runs is stopped, and then nobody knows yet what the book will show."""
        threading.Thread(target=self._leave, args=(app, running, then), name="leave", daemon=True).start()

    def leave_running(self, app: "App[Any]", following: str = "") -> None:
        """Leave by a key; what runs goes on in the background. ``following`` is the rig that is worked on next."""
        self._ending = True
        app.exit(f"{STAY}{following}")

    def _leave(self, app: "App[Any]", running: bool, then: str) -> None:
        self._desk.close()
        if not running:
            app.call_from_thread(self._glance.take, app, self._desk)
        app.call_from_thread(app.exit, then)

    def _end_for(self, app: "App[Any]", number: int) -> None:
        """Asked from outside to end: what runs is stopped and recorded, the book closed, the terminal restored. A
        terminal that went away is no request: what runs goes on without it.
        """
        if self._ending:
            return
        self._ending = True
        goes_on = number in signals("SIGHUP") and self._stay is not None and self.busy()
        work = self._go_on if goes_on else self._end
        threading.Thread(target=work, args=(app, number), name="end", daemon=True).start()
        if goes_on:
            # Signals may only be laid aside here, in the main thread.
            assert self._stay is not None
            self._stay()

    def _go_on(self, app: "App[Any]", number: int) -> None:
        del app, number
        self._desk.stay()
        self._desk.wait()
        self._clean_up()
        os._exit(0)

    def _end(self, app: "App[Any]", number: int) -> None:
        self._desk.close()
        if terminal_is_there():
            app.call_from_thread(app.exit, return_code=128 + number)
            return
        # Nothing can be drawn any more, and whoever tries waits for ever.
        self._clean_up()
        os._exit(128 + number)

    def _look_at_terminal(self, app: "App[Any]") -> None:
        """A terminal that is gone tells nobody where hang-ups are ignored."""
        if not terminal_is_there():
            self._end_for(app, signals("SIGHUP", "SIGTERM")[0])
