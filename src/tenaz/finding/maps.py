"""Which module a physical address is of: the map is not known, but it shows itself in where wrong values lie.

With modules in two channels an address belongs to one of them by one of its bits, or the parity of some, as controllers
do it. What is at fault in one channel then has all its wrong values on one side; when it moves to the other channel, so
do they. Which bits, and which side is which channel, is weighed along with everything else; where no such map fits,
nothing is said.
"""

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from tenaz.core.loads.plan import MismatchKind
from tenaz.core.parts.fitting import channel_of
from tenaz.finding.causes import Cause
from tenaz.finding.grid import Numbers
from tenaz.finding.sightings import LINE_BYTES, FaultSighting

BITS = range(6, 14)
NO_MAP = 0.4
"""Chance that no such map is there."""
STRAY = 0.02
"""A wrong value on the other side, all the same."""
MOST_LINES = 16
MAPS = [(bit, hashed, turned) for bit in BITS for hashed in (False, True) for turned in (0, 1)]
"""Bits, whether all above count too, and which side is the first channel."""


def side(address: int, bit: int, hashed: bool) -> int:
    """On which of two sides an address lies: by one bit, or by the parity of it and all above."""
    return (address >> bit).bit_count() & 1 if hashed else address >> bit & 1


def addresses_of(one: FaultSighting) -> list[int]:
    """Physical addresses of wrong values, one a line; none where the system does not tell."""
    found = [
        wrong.physical // LINE_BYTES * LINE_BYTES
        for wrong in one.wrong
        if wrong.physical is not None and wrong.kind in (MismatchKind.STORED, MismatchKind.ON_THE_WAY)
    ]
    return list(dict.fromkeys(found))[:MOST_LINES]


def side_likelihoods(
    causes: Sequence[Cause],
    first: NDArray[np.int64],
    second: NDArray[np.int64],
    sightings: Sequence[FaultSighting],
    usual_rates: Callable[[FaultSighting], Numbers],
) -> Numbers:
    """Logarithm of the likelihood of where wrong values lay, by pair of causes and map (the first: no map); of two
    causes by their share in failures.
    """
    log = np.zeros((len(first), len(MAPS) + 1))
    log[:, 0] = np.log(NO_MAP)
    log[:, 1:] = np.log((1 - NO_MAP) / len(MAPS))
    for one in sightings:
        lines = addresses_of(one)
        channels = list(dict.fromkeys(channel_of(slot) for slot in one.fitting.modules))
        busy = {channel_of(slot) for slot in one.fitting.fitted}
        if not lines or len(busy) != 2:
            continue
        of = np.array([_number(cause.channel_in(one.fitting), channels) for cause in causes] + [-1])
        rates = usual_rates(one)
        share = rates[first] / np.maximum(rates[first] + rates[second], 1e-30)
        random = float(len(lines) * np.log(0.5))
        log[:, 0] += random
        for place, (bit, hashed, turned) in enumerate(MAPS, 1):
            ones = sum(side(at, bit, hashed) for at in lines)
            on = [_lying(len(lines) - ones, len(lines)), _lying(ones, len(lines))]
            by_cause = np.where(of < 0, random, np.array(on)[(of + turned) % 2])
            both = np.logaddexp(
                np.log(np.maximum(share, 1e-30)) + by_cause[first],
                np.log(np.maximum(1 - share, 1e-30)) + by_cause[second],
            )
            log[:, place] += both
    return log


def map_in_words(weights: Numbers) -> str:
    """The map that is sure, of chances by map (the first: none); empty where none is: nothing is said then."""
    best: dict[tuple[int, bool], float] = {}
    for (bit, hashed, _), chance in zip(MAPS, weights[1:].tolist(), strict=True):
        best[bit, hashed] = best.get((bit, hashed), 0.0) + chance
    (bit, hashed), sure = max(best.items(), key=lambda item: item[1])
    if sure < MAP_SURE:
        return ""
    which = f"the parity of address bits {bit} and up" if hashed else f"address bit {bit}"
    return f"channels go by {which} ({sure:.0%}), learnt from where wrong values lay"


MAP_SURE = 0.9


def _number(channel: str, channels: list[str]) -> int:
    return channels.index(channel) if channel in channels else -1


def _lying(on_it: int, of: int) -> float:
    """Chance of so many values on the side where all should be."""
    return float(on_it * np.log(1 - STRAY) + (of - on_it) * np.log(STRAY))
