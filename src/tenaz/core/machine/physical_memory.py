"""Physical memory as spans of addresses: what is fitted, what a load lay on, and how often each part was gone over."""

from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.base.amounts import show_bytes


@dataclass(frozen=True, slots=True, order=True)
class Span:
    """Addresses from ``start`` up to, not with, ``end``; bytes."""

    start: int
    end: int

    @property
    def bytes(self) -> int:
        """How many."""
        return self.end - self.start

    def show(self) -> str:
        """Like ``0x30000000–0x4fffffff, 512 MiB``."""
        return f"{self.start:#x}–{self.end - 1:#x}, {show_bytes(self.bytes)}"


Spans = tuple[Span, ...]


def united(spans: Iterable[Span]) -> Spans:
    """The same addresses in the fewest spans, lowest first."""
    found: list[Span] = []
    for span in sorted(one for one in spans if one.end > one.start):
        if found and span.start <= found[-1].end:
            found[-1] = Span(found[-1].start, max(found[-1].end, span.end))
        else:
            found.append(span)
    return tuple(found)


def without(spans: Iterable[Span], taken: Iterable[Span]) -> Spans:
    """What is left of some addresses when others are taken out."""
    away = united(taken)
    left: list[Span] = []
    for span in united(spans):
        at = span.start
        for other in away[max(0, bisect_right(away, Span(span.start, 0)) - 1) :]:
            if other.start >= span.end:
                break
            if other.end > at:
                if other.start > at:
                    left.append(Span(at, other.start))
                at = max(at, other.end)
        if at < span.end:
            left.append(Span(at, span.end))
    return tuple(left)


def common(spans: Iterable[Span], others: Iterable[Span]) -> Spans:
    """Addresses that lie in both."""
    mine = united(spans)
    return without(mine, without(mine, others))


def bytes_of(spans: Iterable[Span]) -> int:
    """How many bytes the addresses are."""
    return sum(span.bytes for span in united(spans))


@dataclass(frozen=True, slots=True)
class Laid:
    """Where the blocks of a load lay: ``lanes`` by worker. ``memory`` is all that the firmware gives to a system,
    ``kept_free`` what was kept from the kernel in this start, ``fitted_bytes`` what the modules are (0: not known).
    """

    memory: Spans
    kept_free: Spans
    lanes: tuple[Spans, ...]
    fitted_bytes: int = 0

    @property
    def reached(self) -> Spans:
        """All blocks."""
        return united(span for lane in self.lanes for span in lane)


class MemoryStretch(StrEnum):
    """What is to be said of a stretch of addresses."""

    TESTED = "gone over"
    KERNEL = "left to the system every time"
    NEVER = "never reached"
    FIRMWARE = "the firmware's"


@dataclass(frozen=True, slots=True)
class Piece:
    """A stretch, and how often it was gone over in whole laps."""

    span: Span
    kind: MemoryStretch
    times: int = 0


@dataclass(frozen=True, slots=True)
class Coverage:
    """What all loads together reached of the memory of a machine."""

    pieces: tuple[Piece, ...]
    fitted_bytes: int

    @property
    def tested_bytes(self) -> int:
        """Gone over at least once."""
        return sum(piece.span.bytes for piece in self.pieces if piece.kind is MemoryStretch.TESTED)

    @property
    def share(self) -> float:
        """Of all that is fitted, 0 to 1."""
        return min(1.0, self.tested_bytes / self.fitted_bytes) if self.fitted_bytes else 0.0

    def bytes_that_are(self, kind: MemoryStretch) -> int:
        """The bytes of one kind."""
        return sum(piece.span.bytes for piece in self.pieces if piece.kind is kind)


def covered(loads: Sequence[tuple[Laid, Sequence[float]]]) -> Coverage | None:
    """Put together what loads reached, each with the laps of its workers; only whole laps count. The newest load tells
    what is fitted. None: nothing is known.
    """
    if not loads:
        return None
    newest = loads[-1][0]
    changes: dict[int, int] = {}
    for laid, laps in loads:
        for lane, done in zip(laid.lanes, laps, strict=False):
            if done >= 1:
                for span in lane:
                    changes[span.start] = changes.get(span.start, 0) + int(done)
                    changes[span.end] = changes.get(span.end, 0) - int(done)
    pieces: list[Piece] = []
    times, before = 0, 0
    for at in sorted(changes):
        if times and at > before:
            pieces.append(Piece(Span(before, at), MemoryStretch.TESTED, times))
        times, before = times + changes[at], at
    tested = [piece.span for piece in pieces]
    free = [span for laid, _ in loads for span in laid.kept_free]
    untested = without(newest.memory, tested)
    pieces += [Piece(span, MemoryStretch.NEVER) for span in common(untested, free)]
    pieces += [Piece(span, MemoryStretch.KERNEL) for span in without(untested, free)]
    whole = _holes(newest.memory)
    pieces += [Piece(span, MemoryStretch.FIRMWARE) for span in without(whole, newest.memory)]
    fitted = newest.fitted_bytes or bytes_of(newest.memory)
    return Coverage(tuple(sorted(pieces, key=lambda piece: piece.span)), fitted)


def _holes(memory: Spans) -> Spans:
    """Small gaps within memory, which are the firmware's; large ones are where devices answer, not memory."""
    joined: list[Span] = []
    for span in memory:
        if joined and span.start - joined[-1].end <= LARGEST_HOLE:
            joined[-1] = Span(joined[-1].start, span.end)
        else:
            joined.append(span)
    return tuple(joined)


LARGEST_HOLE = 64 << 20
"""Bytes between two spans of memory that may still be memory which the firmware keeps."""
