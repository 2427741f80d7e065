"""What speaks for and against a part, in words, strongest first."""

from dataclasses import dataclass

from tenaz.core.base.amounts import show_duration
from tenaz.finding.belief import Belief
from tenaz.finding.causes import Suspect
from tenaz.finding.evidence import SENSED, TOLD
from tenaz.finding.sightings import FaultSighting, heat_key, print_key, sag_key

WORTH_TELLING = 0.25
"""A shift of the odds, as a natural logarithm, below which nothing was said."""
MOST_LANES = 4
PRINT_WORDS = {
    "stored": "stored wrong", "moving": "wrong on the way", "computed": "computed wrong", "compared": "compared wrong",
    "lane": "one lane", "lanes": "lanes of one bit", "bits": "single bits", "pairs": "pairs of bits",
    "byte": "many bits of one byte", "wide": "many bits over all lanes", "mixed": "few bits",
    "far": "far apart", "near": "close together", "once": "once", "again": "again and again",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Reason:
    """One thing that speaks for a part (``folds`` above 0) or against it: natural logarithm of how the odds moved."""

    text: str
    folds: float


def reasons(belief: Belief, suspect: Suspect, most: int = 3) -> tuple[Reason, ...]:
    """What moved the odds of a part most."""
    place = belief.parts.index(suspect)
    found = [
        Reason(in_words(what, belief), float(odds[place] - before[place]))
        for (_, before), (what, odds) in zip(belief.trail, belief.trail[1:], strict=False)
    ]
    worth = [one for one in found if abs(one.folds) >= WORTH_TELLING]
    return tuple(sorted(worth, key=lambda one: -abs(one.folds))[:most])


def in_words(what: FaultSighting | str, belief: Belief) -> str:
    """A thing that is known, in a line."""
    if isinstance(what, FaultSighting):
        return sighting_in_words(what)
    if what == TOLD:
        return f"told: {', '.join(one.value for one in belief.known.symptoms)}"
    if what == SENSED:
        sensed = [one.sensed for one in belief.known.sightings]
        heat = next((one for one in reversed(sensed) if heat_key(one)), None)
        told = [f"{heat.k_per_w:.2f} K/W" if heat and heat.k_per_w is not None else "", f"rail {sag_key(sensed)}"]
        return f"sensors: {', '.join(one for one in told if one.strip() not in ('', 'rail'))}"
    return "where wrong values lay, by channel"


def sighting_in_words(one: FaultSighting) -> str:
    """A trial, like ``trial 4: copy 15 min, B2 alone, erred after 4 min: wrong on the way, one lane, far apart``."""
    loads = " beside ".join(ran.kind.value for ran in one.ran)
    where = "" if len(one.fitting.fitted) > 1 else f", {one.fitting.fitted[0].slot} alone" if one.fitting.fitted else ""
    cut = f", clock of {' and '.join(one.eased)} cut" if one.eased else ""
    at = one.clean_s
    ended = f"{one.outcome} {'for' if not one.failed else 'after'} {show_duration(at)}" if at else one.outcome.value
    key = print_key(one.wrong)
    left = "" if key == "none" else ": " + ", ".join(PRINT_WORDS.get(word, word) for word in key.split())
    lanes = sorted({bit for wrong in one.wrong if wrong.of_main_memory for bit in wrong.wrong_bits})
    left += f" (bit {', '.join(map(str, lanes))})" if 0 < len(lanes) <= MOST_LANES else ""
    unseen = f"; {', '.join(one.unseen)} not seen" if one.unseen else ""
    return f"trial {one.number}: {loads}{where}{cut}, {ended}{left}{unseen}"
