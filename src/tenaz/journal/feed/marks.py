"""How far one book has heard another."""

from dataclasses import dataclass, field
from typing import Any, Self

from sqlalchemy import Connection, func, select

from tenaz.journal.base import tables as t
from tenaz.journal.base.database import Database
from tenaz.journal.feed.kinds import LINES


@dataclass(frozen=True, slots=True)
class Marks:
    """The last of the feed, and the last row of each table that only grows."""

    feed: int = 0
    lines: tuple[int, ...] = (0,) * len(LINES)

    def to_json(self) -> list[int]:
        """As a list."""
        return [self.feed, *self.lines]

    @classmethod
    def from_json(cls, data: Any) -> Self:
        """The opposite."""
        first, *others = (int(one) for one in data)
        return cls(first, tuple(others))

    def beyond(self, other: Self) -> bool:
        """Whether anything of it lies behind the other."""
        return self.feed > other.feed or any(one > two for one, two in zip(self.lines, other.lines, strict=True))

    def latest(self, other: Self) -> Self:
        """The later of each."""
        return type(self)(max(self.feed, other.feed), tuple(map(max, self.lines, other.lines)))


def marks_of(connection: Connection) -> Marks:
    """Where a book's feed and tables end now."""
    asked = (t.feed, *LINES)
    ends = select(*(select(func.coalesce(func.max(one.c.id), 0)).scalar_subquery() for one in asked))
    first, *others = connection.execute(ends).one()
    return Marks(int(first), tuple(map(int, others)))


@dataclass(slots=True)
class PeerAway:
    """What a home knows of a book that is away: how far it was heard, which of the home's own rows came from it since
    it last listened, and rigs that are others of the home's.
    """

    got: Marks = field(default_factory=Marks)
    its: list[tuple[Marks, Marks]] = field(default_factory=list)
    aliases: dict[str, str] = field(default_factory=dict)

    def to_json(self) -> Any:
        """As JSON values."""
        its = [[first.to_json(), last.to_json()] for first, last in self.its]
        return {"got": self.got.to_json(), "its": its, "aliases": self.aliases}

    @classmethod
    def from_json(cls, data: Any) -> "PeerAway":
        """The opposite."""
        its = [(Marks.from_json(first), Marks.from_json(last)) for first, last in data["its"]]
        return cls(Marks.from_json(data["got"]), its, dict(data["aliases"]))


@dataclass(frozen=True, slots=True)
class PeerHome:
    """What a book that is away knows of its home: how far it has heard the home, and which of its own rows are none
    that the home has not.
    """

    seen: Marks = Marks()
    sent: Marks = Marks()

    def to_json(self) -> Any:
        """As JSON values."""
        return {"seen": self.seen.to_json(), "sent": self.sent.to_json()}

    @classmethod
    def from_json(cls, data: Any) -> "PeerHome":
        """The opposite."""
        return cls(Marks.from_json(data["seen"]), Marks.from_json(data["sent"]))


def peer_state(connection: Connection, uid: str) -> Any:
    """What is kept of a peer; None: it was never met."""
    return connection.execute(select(t.peers.c.state).where(t.peers.c.uid == uid)).scalar()


def keep_peer(database: Database, connection: Connection, uid: str, state: Any) -> None:
    """Keep what is known of a peer."""
    database.put(connection, t.peers, {"uid": uid}, {"state": state})


def identity_of(connection: Connection) -> str:
    """The identity of a book."""
    return str(connection.execute(select(t.about.c.value).where(t.about.c.name == "uid")).scalar_one())
