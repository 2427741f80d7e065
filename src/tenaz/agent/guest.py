"""Who is at the other end of a line to an agent: what it is told, in which order, and that it holds up nobody."""

import sqlite3
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from typing import Any

from tenaz.wire import forms
from tenaz.wire.frames import Frame, to_bytes
from tenaz.wire.protocol import BEAT_S, LIVE, SILENT_AFTER_S
from tenaz.wire.spool import Spool

Send = Callable[[bytes], None]


class Guest:
    """Who is at the other end of a line, and what it is to be told. One that takes nothing holds up nobody."""

    def __init__(self, send: Send, close: Callable[[], None], spool: Spool) -> None:
        self._send, self._close, self._spool = send, close, spool
        self._more = threading.Condition()
        self._first: list[Frame] = []
        self._live: dict[str, Any] = {}
        self._told = self._sent = 0
        self.opened = self.looks = False
        self.near = ""
        self.over = False
        self.heard_s = time.monotonic()
        threading.Thread(target=self._write, name="guest-write", daemon=True).start()

    def tell(self, frame: Frame) -> None:
        """An answer, or a greeting: before all else."""
        with self._more:
            self._first.append(frame)
            self._more.notify()

    def begin(self, near: str, heard: int) -> None:
        """From now on it hears of notices after this one."""
        with self._more:
            self.near, self._told, self.opened = near, heard, True
            self._more.notify()

    def wake(self) -> None:
        """There is a new notice."""
        with self._more:
            self._more.notify()

    def show(self, name: str, value: Any) -> None:
        """What may be lost: of what it has not taken yet only the newest stays."""
        with self._more:
            if self.opened:
                self._live[name] = value
                self._more.notify()

    @property
    def is_heard(self) -> bool:
        """Whether it gave a sign of life just now."""
        return not self.over and time.monotonic() - self.heard_s < SILENT_AFTER_S

    def rest(self) -> None:
        """Nothing more is told until it opens again."""
        with self._more:
            self.opened = False

    def leave(self) -> None:
        """Let it go, at once: its line may be frozen."""
        with self._more:
            if self.over:
                return
            self.over = True
            self._more.notify()
        self._close()

    def _next(self) -> list[Frame]:
        """What is to be sent now; a sign of life where there is nothing else for a while."""
        with self._more:
            for _ in range(2):
                first, self._first = self._first, []
                live, self._live = self._live, {}
                if first or live or self.over:
                    break
                if self.opened and self._spool.newest > self._told:
                    break
                self._more.wait(BEAT_S)
            opened, told = self.opened, self._told
        frames = first
        if opened:
            newest = self._spool.newest
            frames += (notices := list(self._spool.after(told)))
            # Where there is none all are acknowledged.
            self._told = notices[-1]["seq"] if notices else max(told, newest)
            self._sent = notices[-1]["seq"] if notices else self._sent
            # How it fares is shown behind what happened: it may have happened before.
            frames += [{"live": name, "data": forms.dump(LIVE[name], value)} for name, value in live.items()]
        return frames or [{"beat": round(time.monotonic(), 1), "newest": self._sent}]

    def _write(self) -> None:
        with suppress(OSError, ValueError, sqlite3.Error):
            while not self.over:
                self._send(b"".join(to_bytes(frame) for frame in self._next()))
        self.leave()
