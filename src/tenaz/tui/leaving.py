"""The end of the workbench: by a key, by a signal, or because its terminal is gone."""

import asyncio
import os
import signal
import sys
import threading
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from textual.app import App

    from tenaz.tui.desk import Desk
    from tenaz.tui.glance import Glance

TERMINAL_LOOKED_AT_S = 1.0


def terminal_is_there() -> bool:
    """Whether keys can still come and pictures still go."""
    try:
        return sys.__stdin__ is not None and os.isatty(sys.__stdin__.fileno())
    except (OSError, ValueError):
        return False


class Leaving:
    """Ends what runs, closes the book, and then the application; whatever the reason, once."""

    def __init__(self, desk: "Desk", glance: "Glance", clean_up: Callable[[], None]) -> None:
        self._desk = desk
        self._glance = glance
        self._clean_up = clean_up
        self._ending = False

    def watch(self, app: "App[Any]") -> None:
        """Hear requests to end, and look whether the terminal is still there."""
        for number in (signal.SIGTERM, signal.SIGHUP):
            asyncio.get_running_loop().add_signal_handler(number, self._end_for, app, number)
        app.set_interval(TERMINAL_LOOKED_AT_S, lambda: self._look_at_terminal(app))

    def leave(self, app: "App[Any]", running: bool = False, then: str = "") -> None:
        """Leave by a key; what runs is stopped, and then nobody knows yet what the book will show."""
        threading.Thread(target=self._leave, args=(app, running, then), name="leave", daemon=True).start()

    def _leave(self, app: "App[Any]", running: bool, then: str) -> None:
        self._desk.close()
        if not running:
            app.call_from_thread(self._glance.take, app, self._desk)
        app.call_from_thread(app.exit, then)

    def _end_for(self, app: "App[Any]", number: int) -> None:
        """Asked from outside to end: what runs is stopped and recorded, the book closed, the terminal restored."""
        if not self._ending:
            self._ending = True
            threading.Thread(target=self._end, args=(app, number), name="end", daemon=True).start()

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
            self._end_for(app, signal.SIGHUP)
