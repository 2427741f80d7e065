"""A rig at the end of its line: reached whenever something needs it, waited for, told to stop."""

import threading
import time
from collections.abc import Callable
from datetime import datetime
from typing import Any

from tenaz.core.base.amounts import show_duration
from tenaz.core.base.errors import Interrupted, Refused
from tenaz.core.loads.goldens import Goldens
from tenaz.core.ports.bench import Clock
from tenaz.core.rigs.rig import Rig
from tenaz.wire.line import Line
from tenaz.wire.power import Power
from tenaz.wire.protocol import Agent, Open, Opened
from tenaz.wire.troubles import Unreached
from tenaz.wire.ways import Way

TRIES_AFTER_S = (0.0, 1.0, 2.0, 4.0, 8.0)
"""Waits between attempts; the last again and again."""

ASKED_S = 30.0
SAYS_EVERY_S = 60.0

Enough = Callable[[Opened, float], bool]
"""Whether a rig that was reached, after so many seconds, is the one that was waited for."""


class WireClock:
    """This machine's time, and the boots of the rig."""

    def __init__(self, own: Clock) -> None:
        self._own = own
        self.boot = ""

    def monotonic_s(self) -> float:
        """Seconds that only go forward."""
        return self._own.monotonic_s()

    def utc(self) -> datetime:
        """This machine's calendar: the rig's may be anything after a crash."""
        return self._own.utc()

    def boot_id(self) -> str:
        """The boot on which the rig was last heard."""
        return self.boot


class Reached:
    """One rig's line, and what is known of both ends. ``heard`` is the newest notice that came, ``stopping`` that
    nothing is to be waited for any more.
    """

    def __init__(self, rig: Rig, way: Way, near: str, goldens: Goldens, clock: WireClock, power: Power) -> None:
        self.rig, self.power, self.clock = rig, power, clock
        self.line = Line(way, self._opening)
        self.stopping = threading.Event()
        self.heard = 0
        self.running = ""
        """The token of the load that runs there for us."""
        self._near, self._goldens, self._notes = near, goldens, ""
        self._unacknowledged = 0

    def _opening(self, agent: Agent) -> Open:
        if agent.notes != self._notes:
            self._notes, self.heard = agent.notes, 0
        return Open(self._near, self.rig, self._goldens, self._notes, self.heard)

    def connect(self) -> Opened:
        """One attempt.

        Raises:
            Refused: it was not reached; says why.
        """
        opened = self.line.connect()
        self.clock.boot = opened.boot_id
        return opened

    def up(self) -> Opened:
        """The rig, reached now if it was not.

        Raises:
            Refused: it cannot be.
        """
        if self.line.up and self.line.opened is not None:
            return self.line.opened
        return self.connect()

    def ask(self, do: str, value: Any = None, within_s: float = ASKED_S) -> Any:
        """Ask; what ended before is in the book by now, and is acknowledged.

        Raises:
            Refused: it refuses, or cannot be reached.
        """
        try:
            return self._asked(do, value, within_s)
        except Unreached as unreached:
            if not unreached.trouble.passes:
                raise
        # Cut in the middle of it, perhaps: all that is asked may be asked twice.
        return self._asked(do, value, within_s)

    def ask_patiently(self, do: str, patience_s: float, within_s: float = ASKED_S) -> Any:
        """Ask, and where the line is away wait for it.

        Raises:
            Interrupted: stopped by hand meanwhile.
            Refused: it refuses, or cannot be reached for so long.
        """
        while True:
            if self.wait(patience_s) is None:
                raise Refused(self.why_not)
            try:
                return self._asked(do, None, within_s)
            except Unreached as unreached:
                if not unreached.trouble.passes:
                    raise

    def _asked(self, do: str, value: Any, within_s: float) -> Any:
        self.up()
        if self._unacknowledged:
            self.line.acknowledge(self._unacknowledged)
            self._unacknowledged = 0
        return self.line.ask(do, value, within_s)

    def acknowledge_later(self) -> None:
        """The end of a load is acknowledged when something else is asked: its record is in the book then."""
        self._unacknowledged = self.heard

    def leave(self) -> None:
        """Hang up. What ended is in the book by now, and is acknowledged."""
        if self._unacknowledged and self.line.up:
            self.line.acknowledge(self._unacknowledged)
            self._unacknowledged = 0
        self.line.hang_up()

    @property
    def why_not(self) -> str:
        """Why it is not reached now."""
        trouble = self.line.trouble
        return trouble.words if trouble is not None else "nobody knows why."

    def wait(
        self,
        within_s: float | None,
        enough: Enough = lambda _opened, _waited_s: True,
        say: Callable[[str], None] = lambda _: None,
    ) -> Opened | None:
        """Try until the rig is reached; None: not within that time. ``say`` hears each minute how it stands.

        Raises:
            Interrupted: stopped by hand.
            Refused: trying again does not help.
        """
        began, tries = time.monotonic(), 0
        said_s = began
        while within_s is None or time.monotonic() - began < within_s:
            if self.stopping.wait(TRIES_AFTER_S[min(tries, len(TRIES_AFTER_S) - 1)]):
                raise Interrupted("stopped by hand")
            tries += 1
            try:
                opened = self.up()
            except Unreached as unreached:
                if not unreached.trouble.passes:
                    raise
                if time.monotonic() - said_s > SAYS_EVERY_S:
                    said_s = time.monotonic()
                    say(f"not reached for {show_duration(said_s - began)}: {unreached.trouble.words}")
                continue
            if enough(opened, time.monotonic() - began):
                return opened
            self.line.hang_up()
        return None

    def tell_stop(self, token: str = "") -> None:
        """End what runs there, if it is heard now; whoever hears it later ends it."""
        try:
            if self.line.up:
                self.line.ask("stop", token)
        except Refused:
            return
