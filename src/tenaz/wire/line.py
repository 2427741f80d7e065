"""The near side's line: one conversation with a rig at a time; questions and their answers, what comes of itself.

A line that is silent for too long is taken down; who needs it takes it up again, and goes on where it was.
"""

import itertools
import queue
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from typing import Any

from tenaz.core.base.errors import Refused
from tenaz.wire import forms
from tenaz.wire.frames import Frame, Framer, to_bytes
from tenaz.wire.protocol import BEAT_S, PROTOCOL, QUESTIONS, SILENT_AFTER_S, Agent, Open, Opened
from tenaz.wire.troubles import Trouble, Unreached, Why, trouble_of
from tenaz.wire.ways import Ends, Way

GREETED_WITHIN_S, ASKED_EVERY_S = 12.0, 2.0
ANSWERED_WITHIN_S = 20.0

OTHER_VERSION = (
    "{way}: the Tenaz there speaks another version of the conversation ({theirs}, here {ours}); bring this one over: "
    "tenaz wire prepare."
)


class _Talk:
    """One open conversation; its reader and its writer have a thread each, so that a frozen line stops nobody else."""

    def __init__(self, way: Way, take: Callable[[Frame], None], patience_s: float) -> None:
        self.ends: Ends = way.open()
        self._way, self._take = way, take
        self.framer = Framer()
        self.heard_s = time.monotonic()
        self.over = threading.Event()
        self.greeted = threading.Event()
        self.agent: Frame = {}
        self.trouble: Trouble | None = None
        self.newest = 0
        self._patience_s = patience_s
        self._to_send: queue.Queue[Frame | None] = queue.Queue()
        self.answers: dict[int, queue.Queue[Frame]] = {}
        for work in (self._read, self._write):
            threading.Thread(target=work, name=f"wire-{work.__name__.strip('_')}", daemon=True).start()

    def send(self, frame: Frame) -> None:
        """Send it as soon as the line takes it."""
        self._to_send.put(frame)

    def end(self, trouble: Trouble | None = None) -> None:
        """Take it down; who waits for an answer hears of it."""
        if self.over.is_set():
            return
        self.over.set()
        self._to_send.put(None)
        told = self.ends.close()
        self.trouble = trouble or trouble_of(self._way, told, self.framer.passed_over)
        self.greeted.set()
        for waiting in tuple(self.answers.values()):
            waiting.put({})

    def silent(self) -> bool:
        """Whether the other side has been silent for too long."""
        return time.monotonic() - self.heard_s > self._patience_s

    def _read(self) -> None:
        # Closed by the other thread: that is an end like others.
        with suppress(OSError, ValueError):
            while data := self.ends.read():
                if self.over.is_set():
                    return
                self.heard_s = time.monotonic()
                for frame in self.framer.take(data):
                    self._sort(frame)
        self.end()

    def _sort(self, frame: Frame) -> None:
        if "agent" in frame:
            self.agent = frame
            self.greeted.set()
        elif not self.greeted.is_set():
            self.framer.passed_over.append(str(frame)[:300])
        elif "n" in frame:
            waiting = self.answers.get(frame["n"])
            if waiting is not None:
                waiting.put(frame)
        elif "bye" in frame:
            self.end(Trouble(Why.SETTLED, f"{self._way.text}: {frame['bye']}"))
        elif "beat" in frame:
            newest = frame.get("newest")
            self.newest = newest if isinstance(newest, int) else 0
        else:
            self._take(frame)

    def _write(self) -> None:
        with suppress(OSError, ValueError):
            while True:
                try:
                    frame = self._to_send.get(timeout=BEAT_S)
                except queue.Empty:
                    frame = {"beat": round(time.monotonic(), 1)}
                if frame is None:
                    return
                self.ends.write(to_bytes(frame))
        self.end()


class Line:
    """A rig at the other end. Its calls block; for several threads, but for :meth:`connect`."""

    def __init__(self, way: Way, opening: Callable[[Agent], Open], patience_s: float = SILENT_AFTER_S) -> None:
        self.way = way
        self._opening = opening
        self._patience_s = patience_s
        self._numbers = itertools.count(1)
        self._came: queue.Queue[Frame] = queue.Queue()
        self._talk: _Talk | None = None
        self.calls = 0
        """How often it was reached so far."""
        self.agent: Agent | None = None
        self.opened: Opened | None = None

    @property
    def up(self) -> bool:
        """Whether the rig is heard; one that is silent for too long is not."""
        talk = self._talk
        if talk is None or talk.over.is_set():
            return False
        if talk.silent():
            talk.end(Trouble(Why.AWAY, f"{self.way.text}: no sign of life for {self._patience_s:g} s."))
            return False
        return True

    @property
    def waiting(self) -> int:
        """How much came of itself and was not taken yet."""
        return self._came.qsize()

    @property
    def newest(self) -> int:
        """The number of the newest notice that was sent here, as the rig says with its signs of life."""
        return self._talk.newest if self._talk is not None else 0

    @property
    def heard_s(self) -> float:
        """When it was last heard, on this machine's monotonic clock; 0: never."""
        return self._talk.heard_s if self._talk is not None else 0.0

    @property
    def heard_utc(self) -> datetime:
        """The same by this machine's calendar."""
        return datetime.now(UTC) - timedelta(seconds=time.monotonic() - self.heard_s)

    @property
    def trouble(self) -> Trouble | None:
        """Why it is down."""
        return self._talk.trouble if self._talk is not None else None

    def _unreached(self) -> Unreached:
        return Unreached(self.trouble or Trouble(Why.AWAY, f"{self.way.text}: {Why.AWAY.value}."))

    def connect(self) -> Opened:
        """Reach the rig, and say who is here.

        Raises:
            Unreached: with the reason, and whether trying again may help.
            Refused: it will not work with us: another version, or somebody else is at work there.
        """
        self.hang_up()
        talk = self._talk = _Talk(self.way, self._came.put, self._patience_s)
        deadline = time.monotonic() + GREETED_WITHIN_S
        while not talk.greeted.is_set() and time.monotonic() < deadline:
            # On a line that was never closed nobody greets by himself; who only starts there hears it the next time.
            talk.send({"who": True})
            talk.greeted.wait(ASKED_EVERY_S)
        if not talk.agent:
            if not talk.over.is_set():
                talk.end()
            raise self._unreached()
        theirs = talk.agent["agent"] if isinstance(talk.agent["agent"], dict) else {}
        if theirs.get("protocol") != PROTOCOL:
            version = theirs.get("version", "?")
            talk.end()
            raise Refused(OTHER_VERSION.format(way=self.way.text, theirs=f"{version}", ours=f"{PROTOCOL}"))
        self.agent = forms.read(Agent, theirs, f"the greeting of {self.way.text}")
        opened: Opened = self.ask("open", self._opening(self.agent))
        self.opened = opened
        self.calls += 1
        return opened

    def ask(self, do: str, value: Any = None, within_s: float = ANSWERED_WITHIN_S) -> Any:
        """Ask something, and wait for its answer.

        Raises:
            Refused: the rig refuses; says why.
            Unreached: the line went down meanwhile, or no answer came.
        """
        talk = self._talk
        if talk is None or talk.over.is_set():
            raise self._unreached()
        asks, answers = QUESTIONS[do]
        number = next(self._numbers)
        waiting = talk.answers[number] = queue.Queue()
        talk.send({"n": number, "do": do, "with": forms.dump(asks, value)})
        deadline = time.monotonic() + within_s
        try:
            while True:
                try:
                    answer = waiting.get(timeout=0.25)
                    break
                except queue.Empty:
                    if time.monotonic() > deadline:
                        talk.end(Trouble(Why.AWAY, f"{self.way.text}: no answer to {do!r}."))
                    if not self.up:
                        answer = {}
                        break
        finally:
            talk.answers.pop(number, None)
        if "came" in answer:
            return forms.read(answers, answer["came"], f"the answer to {do} of {self.way.text}")
        if "refused" in answer:
            raise Refused(str(answer["refused"]))
        raise self._unreached()

    def take(self, within_s: float) -> Frame | None:
        """The next thing that came of itself; None: nothing did."""
        with suppress(queue.Empty):
            return self._came.get(timeout=within_s)
        return None

    def acknowledge(self, seq: int) -> None:
        """All notices up to here are in the book."""
        if self._talk is not None:
            self._talk.send({"ack": seq})

    def hang_up(self, why: str = "") -> None:
        """End the conversation; what runs there runs on. What came in it and was not taken comes again."""
        talk = self._talk
        if talk is not None and not talk.over.is_set():
            talk.send({"bye": why})
            # A moment for the last words; a line that takes nothing any more is not waited for.
            deadline = time.monotonic() + 0.2
            while not talk._to_send.empty() and time.monotonic() < deadline:
                time.sleep(0.01)
            talk.end(Trouble(Why.AWAY, why or "hung up"))
        with suppress(queue.Empty):
            while True:
                self._came.get_nowait()
