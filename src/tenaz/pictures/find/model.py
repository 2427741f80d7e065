"""What the question path shows at one time: the parts as they stand, who may be at fault and why, what to do next."""

from dataclasses import dataclass, field
from math import log2
from typing import TYPE_CHECKING

from tenaz.core.parts.fitting import Fitting
from tenaz.core.parts.works import PartLabel, PartState, Work
from tenaz.core.rigs.rig import Rig
from tenaz.finding.causes import Part, Suspect
from tenaz.finding.enough import LEAST_BITS_AN_HOUR, MOSTLY_SURE, Diagnosis, Enough
from tenaz.finding.sightings import FaultSighting
from tenaz.finding.symptoms import Symptom

if TYPE_CHECKING:
    from tenaz.finding.next_acts import NextAct
    from tenaz.finding.reasons import Reason
    from tenaz.finding.rescue import Rescue


@dataclass(frozen=True, slots=True)
class Suspicion:
    """A part, the chance that it is at fault, and what speaks for and against it."""

    suspect: Suspect
    sure: float
    reasons: "tuple[Reason, ...]" = ()


@dataclass(frozen=True, slots=True)
class FindPicture:
    """``fitting`` is how the parts stand now, ``works`` what was done to them, ``labels`` the newest of each part.
    ``heat`` are patterns of heat and supply; ``capacity`` what is missing of the memory (empty: nothing);
    ``passed_over`` counts trials that say nothing of parts. ``stays_away`` tells how long a fault that went away must
    stay away; ``hides`` which kinds of fault could still hide, with their chances; ``around`` are ways to work around
    the likeliest suspect. ``solo_min`` are minutes of a core alone, by core; ``sightings`` what each trial showed;
    ``rescue`` how a rig that is set too hard is rescued;
    ``address_map`` how addresses go to channels; ``shown_h`` clean hours by load.
    """

    rig: Rig
    fitting: Fitting
    symptoms: tuple[Symptom, ...]
    suspects: tuple[Suspicion, ...]
    verdict: Diagnosis
    acts: "tuple[NextAct, ...]"
    works: tuple[Work, ...] = ()
    labels: tuple[PartLabel, ...] = ()
    heat: tuple[str, ...] = ()
    capacity: str = ""
    minutes: float = 0.0
    trials: int = 0
    passed_over: int = 0
    stays_away: str = ""
    hides: tuple[tuple[str, float], ...] = ()
    around: tuple[str, ...] = ()
    solo_min: dict[int, float] = field(default_factory=dict)
    sightings: tuple[FaultSighting, ...] = ()
    rescue: "Rescue | None" = None
    address_map: str = ""
    shown_h: tuple[tuple[str, float], ...] = ()
    simulated: bool = False

    def sure_of(self, *suspects: Suspect) -> float:
        """The greatest chance of any of these."""
        return max((one.sure for one in self.suspects if one.suspect in suspects), default=0.0)

    @property
    def doubt_bits(self) -> float:
        """How much is not known yet of who is at fault: the entropy of the suspects, all others as one."""
        chances = [one.sure for one in self.suspects if one.sure > 0]
        chances.append(max(0.0, 1.0 - sum(chances)))
        return sum(-one * log2(one) for one in chances if one > 0)

    def told_by(self, act: "NextAct") -> float:
        """The part of the doubt that a next act is expected to take away."""
        return min(1.0, act.bits / self.doubt_bits) if self.doubt_bits > 0 else 0.0

    @property
    def goes_on(self) -> bool:
        """Whether what can be done next tells more than it costs."""
        if self.verdict.enough is not Enough.GO_ON or not self.acts:
            return False
        return self.verdict.sure < MOSTLY_SURE or self.acts[0].rate * 60 >= LEAST_BITS_AN_HOUR

    def label_of(self, kind: str, place: str = "") -> PartState:
        """What was written on a part."""
        found = next((one for one in self.labels if one.part == (kind, place)), None)
        return found.state if found else PartState.UNKNOWN

    @property
    def things(self) -> tuple[Suspect, ...]:
        """The parts that can be pointed at, in the order of the picture."""
        slots = tuple(Suspect(Part.SLOT, one.slot) for one in self.fitting.modules)
        cores = tuple(Suspect(Part.CORE, str(core)) for core in range(self.rig.cores_known))
        return (*slots, *cores, *(Suspect(part) for part in OTHERS))


OTHERS = (Part.COOLER, Part.SUPPLY, Part.CONTROLLER, Part.BOARD)
"""Parts of which there is one."""
