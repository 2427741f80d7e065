"""The print of a set of wrong values: lanes, direction, clustering, repeatability, where and when."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.loads.plan import LoadKind, Mismatch, MismatchKind

LANES = 64
LINE_BYTES, PAGE_BYTES = 64, 4096


@dataclass(frozen=True, slots=True)
class Print:
    """What so many wrong values have in common.

    ``lanes`` counts wrong bits by lane, lowest first; ``rising`` those read 1 where 0 was expected, ``falling`` the
    others. ``seen`` counts values by what the second look showed. ``words``, ``lines`` and ``pages`` are distinct ones;
    ``repeated`` is how many values fell on a word that had been wrong before. ``cores`` and ``loads`` count values;
    ``temperatures_c`` are those known. Times are seconds of the load.
    """

    count: int
    lanes: tuple[int, ...]
    rising: int
    falling: int
    seen: dict[MismatchKind, int]
    words: int
    lines: int
    pages: int
    repeated: int
    cores: dict[int, int]
    loads: dict[LoadKind, int]
    temperatures_c: tuple[float, ...]
    first_s: float
    last_s: float

    @property
    def bits(self) -> int:
        """Wrong bits in all."""
        return sum(self.lanes)

    def part(self, *kinds: MismatchKind) -> float:
        """Part of the values whose second look showed one of these, 0 to 1."""
        return sum(self.seen.get(kind, 0) for kind in kinds) / self.count

    def busiest_lanes(self, most: int = 4) -> tuple[int, ...]:
        """The lanes with most wrong bits, busiest first."""
        order = sorted(range(LANES), key=lambda lane: (-self.lanes[lane], lane))
        return tuple(lane for lane in order[:most] if self.lanes[lane])

    def lane_share(self, most: int = 2) -> float:
        """Part of all wrong bits that fall on the busiest lanes."""
        return sum(sorted(self.lanes)[-most:]) / self.bits if self.bits else 0.0

    def one_way(self) -> float:
        """Part of the wrong bits that went the commoner way: 0.5 to 1."""
        return max(self.rising, self.falling) / self.bits if self.bits else 0.5


def print_of(mismatches: Sequence[Mismatch]) -> Print | None:
    """The print of wrong values; None when there are none."""
    if not mismatches:
        return None
    lanes, rising = [0] * LANES, 0
    for one in mismatches:
        for lane in one.wrong_bits:
            lanes[lane] += 1
            rising += one.read >> lane & 1
    addressed = [place(one) for one in mismatches if one.of_main_memory]
    words = Counter(addressed)
    return Print(
        count=len(mismatches),
        lanes=tuple(lanes),
        rising=rising,
        falling=sum(lanes) - rising,
        seen=dict(Counter(one.kind for one in mismatches)),
        words=len(words),
        lines=len({at // LINE_BYTES for at in addressed}),
        pages=len({at // PAGE_BYTES for at in addressed}),
        repeated=len(addressed) - len(words),
        cores=dict(Counter(one.core for one in mismatches if one.core is not None)),
        loads=dict(Counter(one.load for one in mismatches if one.load is not None)),
        temperatures_c=tuple(one.temperature_c for one in mismatches if one.temperature_c is not None),
        first_s=min(one.at_s for one in mismatches),
        last_s=max(one.at_s for one in mismatches),
    )


def place(one: Mismatch) -> int:
    """Where it lies: the physical address where that is known, else the worker's own."""
    return one.address if one.physical is None else one.physical
