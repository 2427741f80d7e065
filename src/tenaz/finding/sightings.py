"""What one trial showed, as far as it speaks for or against parts: how they stood, what ran, how it ended."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import Mismatch, MismatchKind
from tenaz.core.parts.fitting import Fitting

LINE_BYTES = 64
NEAR_BYTES = 64 * 2**20
MANY_BITS = 3
MOST_LOOKED_AT = 64
WORTH_READING_S = 240.0
"""A load that was shorter does not warm a rig enough to tell of its heat."""


@dataclass(frozen=True, slots=True)
class Ran:
    """One load: its kind, the part of memory that it went over, the cores that it ran on (none: all)."""

    kind: LoadKind
    share: float = 0.9
    cores: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Sensed:
    """What sensors told of a load, None where they did not: K a W of the processor over the room, V of the rail that
    the supply feeds everything from and W meanwhile, whether the clock was held back, whether a fan turns.
    """

    k_per_w: float | None = None
    rail_v: float | None = None
    power_w: float | None = None
    throttled: bool = False
    fan: bool = True


@dataclass(frozen=True, slots=True)
class FaultSighting:
    """One trial. ``eased`` names the domains whose clocks were cut (``memory``, ``cores``); ``failed_after_s`` is None
    where it did not fail; ``unseen`` are slots whose module was not seen. ``number`` is the trial's.
    """

    fitting: Fitting
    ran: tuple[Ran, ...]
    outcome: Outcome
    seconds: float
    failed_after_s: float | None = None
    eased: tuple[str, ...] = ()
    wrong: tuple[Mismatch, ...] = ()
    unseen: tuple[str, ...] = ()
    sensed: Sensed = Sensed()
    number: int = 0

    @property
    def failed(self) -> bool:
        """Whether it failed under load."""
        return self.failed_after_s is not None

    @property
    def clean_s(self) -> float:
        """How long it held, in s: until it failed, or all the time."""
        return self.seconds if self.failed_after_s is None else self.failed_after_s


OF_RESULTS = (MismatchKind.COMPUTED, MismatchKind.COMPARED)
"""Wrong values that are about a core, not about memory."""


def core_blamed(wrong: Sequence[Mismatch]) -> int | None:
    """The core on which results were wrong; None where it is about memory, or nobody knows."""
    return next((one.core for one in wrong if one.kind in OF_RESULTS and one.core is not None), None)


def print_key(wrong: Sequence[Mismatch]) -> str:
    """What wrong values look like, in three words: what the second look showed, which bits, how they lie."""
    few = wrong[:MOST_LOOKED_AT]
    if not few:
        return "none"
    computed = sum(one.kind in OF_RESULTS for one in few)
    if computed * 2 > len(few):
        return "computed" if few[0].kind is MismatchKind.COMPUTED else "compared"
    stored = sum(one.kind is MismatchKind.STORED for one in few)
    return f"{'stored' if stored * 2 > len(few) else 'moving'} {_bits(few)} {_lie(few)}"


def _bits(wrong: Sequence[Mismatch]) -> str:
    sets = [one.wrong_bits for one in wrong]
    most = max(len(bits) for bits in sets)
    lanes = {bit for bits in sets for bit in bits}
    if most >= MANY_BITS:
        return "byte" if all(len({bit // 8 for bit in bits}) == 1 for bits in sets) else "wide"
    if most == 1:
        return "lane" if len(lanes) == 1 else "lanes" if len({bit % 8 for bit in lanes}) == 1 else "bits"
    return "pairs" if all(len(bits) == 2 for bits in sets) else "mixed"


def _lie(wrong: Sequence[Mismatch]) -> str:
    places = sorted({(one.address if one.physical is None else one.physical) // LINE_BYTES for one in wrong})
    if len(places) == 1:
        return "again" if len(wrong) > 1 else "once"
    return "near" if (places[-1] - places[0]) * LINE_BYTES < NEAR_BYTES else "far"


def heat_key(sensed: Sensed) -> str:
    """How a rig takes its heat away, coarsely; empty where nothing told of it."""
    if sensed.k_per_w is None:
        return ""
    step = min(19, max(0, int(sensed.k_per_w / (FAN_STEP if sensed.fan else BARE_STEP))))
    return f"{'fan' if sensed.fan else 'bare'} {step}{' held back' if sensed.throttled else ''}"


FAN_STEP, BARE_STEP = 0.08, 0.25
LEAST_SPREAD_W = 3.0
SAGS_V_PER_W, GIVES_V_PER_W = 0.0014, 0.0008


def sag_v_per_w(sensed: Sequence[Sensed]) -> float | None:
    """How far the supply's rail falls for every W more, by loads that drew differently; None where none did."""
    read = [(one.power_w, one.rail_v) for one in sensed if one.power_w is not None and one.rail_v is not None]
    if not read:
        return None
    watts, volts = [w for w, _ in read], [v for _, v in read]
    if max(watts) - min(watts) < LEAST_SPREAD_W:
        return None
    mean_w, mean_v = sum(watts) / len(watts), sum(volts) / len(volts)
    return -sum((w - mean_w) * (v - mean_v) for w, v in read) / sum((w - mean_w) ** 2 for w in watts)


def sag_key(sensed: Sequence[Sensed]) -> str:
    """How a supply's rail stands; empty where nothing told of it."""
    sag = sag_v_per_w(sensed)
    if sag is None:
        return ""
    return "sags" if sag > SAGS_V_PER_W else "gives" if sag > GIVES_V_PER_W else "stands"
