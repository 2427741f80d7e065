"""A working copy and its home kept alike while both are open: told within a second of what is written in either, going
on alone while the home does not answer.
"""

import threading
import time
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy.exc import SQLAlchemyError

from tenaz.core.base.errors import BookError
from tenaz.journal.base.troubles import book_trouble
from tenaz.journal.feed.meeting import Meeting, Met
from tenaz.journal.opening.addresses import ServerAddress, without_secrets
from tenaz.journal.opening.identity import has_home
from tenaz.journal.opening.server import open_on_server
from tenaz.journal.opening.server_locks import RigLocks, called, place_of
from tenaz.journal.store import Store

if TYPE_CHECKING:
    from collections.abc import Callable

    from psycopg import Connection

LOOKED_AT_S = 0.25
RESTS, MOST_REST_S = 4.0, 0.7
"""After each meeting it rests so many times as long as that took: whoever writes has the processor. What is written is
still seen elsewhere within a second.
"""
MOST_QUIET_S = 5.0
"""A home that says nothing for so long is asked."""
TRIED_AGAIN_S = 3.0
FLUSHED_WITHIN_S = 5.0
COMES_BACK_WITHIN_S = 15.0
"""So long whoever worked on a rig when the server went away has it before others once it answers again."""
NO_ANSWER = "does not answer"


@dataclass(frozen=True, slots=True)
class FeedState:
    """How a working copy stands to its home: whether it answers, why not, since when."""

    home: str
    answers: bool = False
    why: str = ""
    since_utc: datetime | None = None
    works_too: str = ""
    """Who works on our rig besides: the server was away when we took it."""

    def show(self) -> str:
        """In a line."""
        if not self.answers:
            since = f" since {self.since_utc.astimezone():%H:%M}" if self.since_utc else ""
            why = f"{self.home} does not answer" if NO_ANSWER in self.why or not self.why else self.why
            return f"{why}{since}: what is written is kept here, and told when it answers"
        return f"in step with {self.home}" + (f"; {self.works_too} works on this rig too" if self.works_too else "")


class Feeding:
    """One working copy and its home."""

    def __init__(self, address: ServerAddress, copy: Store, looks_only: bool = False) -> None:
        self._address, self._copy, self._looks_only = address, copy, looks_only
        self.locks = RigLocks(address.url)
        self.state = FeedState(address.shown)
        self.heard: Callable[[FeedState, Met | None], None] = lambda _state, _met: None
        self._home: Store | None = None
        self._meeting: Meeting | None = None
        self._listening: Connection[Any] | None = None
        self._ended = threading.Event()
        self._thread: threading.Thread | None = None
        self._wanted = ""
        self._others: dict[int, str] = {}
        self._before: dict[int, str] = {}
        """Who worked on what when the home was heard last, before it went away."""
        self._back_s = float("inf")
        """When it answered again; while it does not, that is to come."""
        self._mutex = threading.RLock()

    # -- begun and ended ----------------------------------------

    def connect(self) -> None:
        """Find the home, and make or renew its tables where this user may.

        Raises:
            BookError: it does not answer, or is another's.
        """
        with self._mutex:
            home = open_on_server(self._address, self._looks_only)
            try:
                if home.read_only:
                    self._looks_only = True
                has_home(self._copy.database, home.database, self._address.shown)
                self._meeting = self._copy.meeting_with(home, self._looks_only)
                self._listen()
            except BaseException:
                home.close()
                raise
            self._home, self._others = home, self.locks.others()
            if not self.state.answers:
                self._back_s = time.monotonic()
            self.state = replace(self.state, answers=True, why="", since_utc=None)

    def is_away(self, why: str) -> None:
        """Nothing answers: go on alone."""
        self._lost(why)

    @property
    def looks_only(self) -> str:
        """Why nothing may be written at home; empty: it may."""
        return self._home.read_only if self._home is not None else ""

    def catch_up(self, patiently: bool = True) -> list[Met]:
        """Meet until neither has anything that the other has not; unless ``patiently``, only until somebody writes.

        Raises:
            BookError: one of them does not answer.
        """
        with self._mutex:
            if self._meeting is None:
                self.connect()
            assert self._meeting is not None
            return self._meeting.until_quiet(lambda: datetime.now(UTC), patiently=patiently)

    def start(self) -> None:
        """Go on by itself from now on."""
        self._thread = threading.Thread(target=self._run, name="feed", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Tell what is still to be told, as far as the home answers in time; then let go."""
        self._ended.set()
        if self._thread is not None:
            self._thread.join(FLUSHED_WITHIN_S)
        if self.state.answers:
            with suppress(BookError, SQLAlchemyError):
                self.catch_up()
        self._lost("")
        self.locks.close()

    # -- rigs ----------------------------------------

    def hold(self, rig: str) -> str:
        """Be the one who works on a rig; gives who does in our place. While the home does not answer nobody can say:
        who had a rig when it was heard last is taken to have it still, and has it first for a while when it answers
        again.
        """
        if self._looks_only:
            return ""
        who = self._had(rig)
        if not who and self.state.answers:
            try:
                who = self.locks.take(rig)
            except SQLAlchemyError as error:
                self._lost(self._words(error))
                who = self._had(rig)
        self._wanted = "" if who else rig
        return who

    def _had(self, rig: str) -> str:
        """Who worked on a rig when the home was heard last, and may come back to it; empty: nobody."""
        if rig == self._wanted or time.monotonic() - self._back_s > COMES_BACK_WITHIN_S:
            return ""
        return self._before.get(place_of(rig), "")

    def holder(self, place: int) -> str:
        """Who else works on a rig, as known a moment ago; empty: nobody."""
        gone = not self.state.answers or time.monotonic() - self._back_s <= COMES_BACK_WITHIN_S
        return self._others.get(place, "") or (self._before.get(place, "") if gone else "")

    # -- while it goes on ----------------------------------------

    def _run(self) -> None:
        again_s, asked_s, version = 0.0, 0.0, -1
        while not self._ended.is_set():
            if self._meeting is None:
                if time.monotonic() >= again_s:
                    self._try_to_connect()
                    again_s = time.monotonic() + TRIED_AGAIN_S
                    version = -1
                if self._meeting is None:
                    self._ended.wait(LOOKED_AT_S)
                    continue
            told = self._wait()
            now = self._copy.version()
            if told or now != version or time.monotonic() - asked_s > MOST_QUIET_S:
                began = time.monotonic()
                self._meet()
                version, asked_s = self._copy.version(), time.monotonic()
                self._ended.wait(min(MOST_REST_S, RESTS * (asked_s - began)))

    def _try_to_connect(self) -> None:
        try:
            self.connect()
        except BookError as error:
            self._lost(str(error))
            return
        if self._wanted and not self._looks_only:
            mine = self._wanted
            who = self.hold(mine)
            # Whoever has it by now: what runs here goes on, and comes home beside.
            self._wanted, self.state = mine, replace(self.state, works_too=who)
        self.heard(self.state, None)

    def _meet(self) -> None:
        try:
            met = self.catch_up(patiently=False)
            self._others = self.locks.others()
        except (BookError, SQLAlchemyError) as error:
            self._lost(self._words(error))
            self.heard(self.state, None)
            return
        for one in met:
            if one.taken or one.gave_way:
                self.heard(self.state, one)

    def _wait(self) -> bool:
        """Wait a moment; whether the home says that something was touched."""
        listening = self._listening
        if listening is None:
            return self._ended.wait(LOOKED_AT_S)
        try:
            return any(True for _ in listening.notifies(timeout=LOOKED_AT_S, stop_after=1))
        except Exception as error:  # noqa: BLE001 - a driver of its own says many things when a line is cut
            self._lost(self._words(error))
            self.heard(self.state, None)
            return False

    def _listen(self) -> None:
        import psycopg  # noqa: PLC0415 - a file's book does not pay for it

        url = self._address.url.set(drivername="postgresql")
        words = url.render_as_string(hide_password=False)
        listening = psycopg.connect(words, autocommit=True, connect_timeout=10, application_name=called())
        listening.execute("LISTEN tenaz")
        self._listening = listening

    def _lost(self, why: str) -> None:
        """The home does not answer: go on alone."""
        with self._mutex:
            self._meeting = None
            home, self._home = self._home, None
            listening, self._listening = self._listening, None
            if self.state.answers:
                self._before, self._back_s = self._others, float("inf")
            self._others = {}
            with suppress(Exception):
                if listening is not None:
                    listening.close()
            if home is not None:
                home.close()
        self.locks.lost()
        since = self.state.since_utc or datetime.now(UTC)
        self.state = replace(self.state, answers=False, why=why, since_utc=since)

    def _words(self, error: BaseException) -> str:
        if isinstance(error, BookError):
            return str(error)
        return without_secrets(str(book_trouble(self._address.shown, error)), self._address.url)
