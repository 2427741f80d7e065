"""Two books meet: the one that is away tells its home what it has, and takes what the home has. However often, and
wherever it is cut short, each thing comes once.

First the home hears, in one commit of its own, with how far it has heard. Then the other takes, in one of its own, with
how far it has. What was cut short between is taken the next time; what was written here meanwhile is told first.
"""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from sqlalchemy import select

from tenaz.core.base.errors import BookError
from tenaz.core.base.loop import Station
from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.feed.coming_home import MOST_THINGS, ComingHome, Told, Touched, touched
from tenaz.journal.feed.lines import Line, read_lines, write_lines
from tenaz.journal.feed.listening import Heard, Listening, hear
from tenaz.journal.feed.marks import Marks, PeerAway, PeerHome, identity_of, keep_peer, marks_of, peer_state
from tenaz.journal.feed.things import Side

if TYPE_CHECKING:
    from sqlalchemy import Connection

MOST_ROUNDS = 10_000
MOST_RANGES = 50
"""So many stretches of its own rows are kept apart at home before it is written down here that they are known."""


@dataclass(frozen=True, slots=True)
class Met:
    """What one meeting came to: told to the home and taken from it, what gave way, and whether there is more."""

    told: int = 0
    taken: int = 0
    gave_way: tuple[str, ...] = ()
    renumbered: tuple[tuple[str, int, int], ...] = ()
    renamed: tuple[tuple[str, str], ...] = ()
    """Rigs that are called otherwise here from now on."""
    more: bool = False
    dropped: bool = False
    """Whether trials were taken out here."""
    only_goes_on: bool = False
    """Whether all that was taken are signs of life of loads that go on."""
    busy: bool = False
    """Whether somebody wrote here meanwhile: what the home has is taken the next time."""


@dataclass(frozen=True, slots=True)
class _FromHome:
    things: Heard
    lines: list[Line]
    upto: Marks
    aliases: dict[str, str]
    more: bool

    @property
    def dropped(self) -> bool:
        """Whether trials were taken out."""
        return bool(self.things.get("trial", ({}, []))[1])

    @property
    def only_goes_on(self) -> bool:
        """Whether there is nothing but trials under load."""
        trials, gone = self.things.get("trial", ({}, []))
        others = any(things or out for name, (things, out) in self.things.items() if name != "trial")
        under_load = all(one["station"] == Station.LOAD.value for one in trials.values())
        return bool(trials) and under_load and not gone and not others

    @property
    def something(self) -> bool:
        """Whether there is anything to take."""
        return bool(self.lines) or any(things or gone for things, gone in self.things.values())


class Meeting:
    """Of a book that is away with its home. ``looks_only``: the home is only listened to. ``revision`` is that of both:
    a home that was brought up to date meanwhile is left alone. While a home is written in nobody else writes there, so
    that what is read before the commit comes after all that others have.
    """

    def __init__(self, away: Database, home: Database, looks_only: bool = False, revision: str = "") -> None:
        self._away, self._home, self._looks_only, self._revision = away, home, looks_only, revision
        self._got, self._seen = Marks(), Marks()
        self._as_told: dict[tuple[str, str], int] = {}
        """Things that stand at home as they were told here, and at which place of its feed: nobody need tell them back,
        as long as they stand there.
        """
        with away.reading() as connection:
            self._mine = identity_of(connection)
        with home.reading() as connection:
            self._homes = identity_of(connection)
        if self._mine == self._homes:
            raise BookError(f"{away.place} is the very book that it would meet.")

    def once(self, now: datetime) -> Met:
        """Tell some, and take some where all was told.

        Raises:
            BookError: one of them cannot be read or written; both are as they were, or as the other one has heard.
        """
        with self._away.reading_still() as away:
            side = Side(self._away, away)
            ended, kept = marks_of(away), self._known_of_home(away)
            peer = PeerHome(kept.seen.latest(self._seen), kept.sent)
            nothing = self._looks_only or not ended.beyond(self._got.latest(peer.sent))
            with self._home.reading_still() if nothing else self._home.writing() as home:
                self._see_that_it_is_ours(home)
                there = Side(self._home, home)
                told, all_told, its = Told(), True, self._known_of_away(home)
                if not nothing:
                    its.its = [(first, last) for first, last in its.its if last.beyond(kept.seen)]
                    told, all_told = self._tell(side, there, peer, its, ended, now)
                from_home = self._hear(there, side, peer, told, its) if all_told else None
            self._got = its.got
            self._as_told |= told.places
        renumbered = tuple((rig, old, new) for (rig, old), new in told.renumbered.items())
        count = told.things + told.lines
        if from_home is None:
            return Met(count, 0, tuple(told.gave_way), renumbered, more=True)
        taken = self._take(from_home, ended, kept, len(its.its) > MOST_RANGES)
        if taken is None:
            return Met(count, 0, tuple(told.gave_way), renumbered, more=from_home.something, busy=True)
        self._seen = from_home.upto
        came, renamed = taken
        return Met(
            count, came, tuple(told.gave_way), renumbered, renamed, from_home.more,
            dropped=from_home.dropped, only_goes_on=from_home.only_goes_on,
        )  # fmt: skip

    def until_quiet(
        self, now: Callable[[], datetime], heard: Callable[[Met], None] = lambda _: None, patiently: bool = True
    ) -> list[Met]:
        """Meet until neither has anything that the other has not; unless ``patiently``, only until somebody else
        writes.
        """
        met: list[Met] = []
        for _ in range(MOST_ROUNDS):
            met.append(self.once(now()))
            heard(met[-1])
            if not met[-1].more or (met[-1].busy and not patiently):
                break
        return met

    def _see_that_it_is_ours(self, home: "Connection") -> None:
        """Leave a home alone that a newer version keeps by now.

        Raises:
            BookError: it is one.
        """
        if not self._revision:
            return
        found = home.exec_driver_sql("SELECT version_num FROM alembic_version").scalar()
        if found != self._revision:
            raise BookError(
                f"The book {self._home.place} was brought up to date by a newer Tenaz: renew this one, and what is "
                f"written here comes home"
            )

    def _known_of_home(self, away: "Connection") -> PeerHome:
        state = peer_state(away, self._homes)
        return PeerHome() if state is None else PeerHome.from_json(state)

    def _known_of_away(self, home: "Connection") -> PeerAway:
        state = peer_state(home, self._mine)
        return PeerAway() if state is None else PeerAway.from_json(state)

    def _tell(
        self, away: Side, home: Side, peer: PeerHome, its: PeerAway, ended: Marks, now: datetime
    ) -> tuple[Told, bool]:
        from_here = its.got.latest(peer.sent)
        things = touched(away.connection, from_here.feed)
        whole = len(things) < MOST_THINGS
        lines: list[Line] = []
        upto, more = from_here.lines, False
        if whole:
            lines, upto, more = read_lines(away, from_here)
        if not things and not lines:
            return Told(), True
        before = marks_of(home.connection)
        coming = ComingHome(away, home, its, peer.seen, now)
        coming.tell(things, whole)
        coming.told.lines = write_lines(home, lines, its.aliases)
        after = marks_of(home.connection)
        if after.feed > before.feed:
            mine = touched(home.connection, before.feed, 2 * MOST_THINGS)
            coming.told.places = {(kind, uid): place for place, kind, uid in mine if (kind, uid) in coming.told.as_told}
        its.got = Marks(ended.feed if whole else things[-1][0], upto)
        if after != before:
            its.its.append((before, after))
        keep_peer(self._home, home.connection, self._mine, its.to_json())
        return coming.told, whole and not more

    def _hear(self, home: Side, away: Side, peer: PeerHome, told: Told, its: PeerAway) -> _FromHome:
        ended = marks_of(home.connection)
        things: Touched = touched(home.connection, peer.seen.feed)
        whole = len(things) < MOST_THINGS
        theirs = [one for one in things if self._as_told.get(one[1:]) != one[0]]
        others = [("rig", uid) for uid in its.aliases.values()]
        heard = hear(home, away, theirs, told.as_told, others, whole)
        if not whole:
            return _FromHome(heard, [], Marks(things[-1][0], peer.seen.lines), its.aliases, more=True)
        lines, upto, more = read_lines(home, peer.seen, its.its)
        # What came from here lies behind the last that was read: it is not read again.
        upto = upto if more else tuple(map(max, upto, ended.lines))
        return _FromHome(heard, lines, Marks(ended.feed, upto), its.aliases, more)

    def _take(
        self, from_home: _FromHome, ended: Marks, kept: PeerHome, keep: bool
    ) -> tuple[int, tuple[tuple[str, str], ...]] | None:
        """Take it, where nothing was written here since; None: something was, and is told first. Gives how much came,
        and rigs that have other names now. Where there is nothing to take only how far the home was heard is kept, and
        that only when it must be (``keep``): else it is known as long as this is open.
        """
        if not from_home.something:
            if keep:
                with self._away.writing() as connection:
                    if self._known_of_home(connection) == kept:
                        keep_peer(self._away, connection, self._homes, PeerHome(from_home.upto, kept.sent).to_json())
            return 0, ()
        with self._away.writing() as connection:
            if marks_of(connection) != ended or self._known_of_home(connection) != kept:
                return None
            side = Side(self._away, connection)
            before = _names(connection) if "rig" in from_home.things else {}
            came = Listening(side).take(from_home.things, from_home.aliases)
            came += write_lines(side, from_home.lines, {})
            known = PeerHome(from_home.upto, marks_of(connection))
            keep_peer(self._away, connection, self._homes, known.to_json())
            after = _names(connection) if before else {}
        renamed = tuple((name, after[key]) for key, name in before.items() if after.get(key, name) != name)
        if renamed:
            self._away.forget_rigs()
        return came, renamed


def _names(connection: "Connection") -> dict[int, str]:
    return {int(key): str(name) for key, name in connection.execute(select(t.rigs.c.id, t.rigs.c.name))}
