"""The Prints picture: lanes across, address regions down, and what that points to."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.loads.plan import Mismatch
from tenaz.finding.prints.features import LANES, Print, place, print_of
from tenaz.finding.prints.suspicion import Circumstances, Suspicion, suspicions
from tenaz.pictures.prints.drawn import DrawnWrong, drawn_wrong

REGIONS = 12


@dataclass(frozen=True, slots=True)
class Region:
    """A stretch of addresses: where it begins and ends, and its wrong bits by lane."""

    first: int
    last: int
    lanes: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class PrintsPicture:
    """The print of one trial's wrong values. ``physical`` says which addresses these are."""

    title: str
    found: Print | None
    regions: tuple[Region, ...] = ()
    suspicions: tuple[Suspicion, ...] = ()
    last: tuple[Mismatch, ...] = ()
    physical: bool = False
    drawn: DrawnWrong | None = None

    @property
    def on_cards(self) -> bool:
        """Whether these are a graphics card's."""
        return any(one.card is not None for one in self.last)


def prints_picture(title: str, mismatches: Sequence[Mismatch], run: Circumstances, kept: int = 6) -> PrintsPicture:
    """The picture of wrong values; ``kept`` of the last stand as lines."""
    found = print_of(mismatches)
    if found is None:
        return PrintsPicture(title, None)
    addressed = [one for one in mismatches if one.address and one.drawn is None]
    physical = bool(addressed) and all(one.physical is not None for one in addressed)
    pointed_to, last = suspicions(mismatches, run), tuple(mismatches[-kept:])
    return PrintsPicture(title, found, _regions(addressed), pointed_to, last, physical, drawn_wrong(mismatches))


def _regions(mismatches: Sequence[Mismatch]) -> tuple[Region, ...]:
    """Stretches of equal length from the lowest to the highest address, at least a page each."""
    if not mismatches:
        return ()
    places = [place(one) for one in mismatches]
    low, high = min(places), max(places) + 8
    length = max(4096, -(-(high - low) // REGIONS))
    count = -(-(high - low) // length)
    lanes = [[0] * LANES for _ in range(count)]
    for one, at in zip(mismatches, places, strict=True):
        for lane in one.wrong_bits:
            lanes[(at - low) // length][lane] += 1
    return tuple(Region(low + k * length, min(high, low + (k + 1) * length), tuple(row)) for k, row in enumerate(lanes))
