"""How sure one must be for what: to go on, to work around, to replace, to claim, to hand back."""

from dataclasses import dataclass
from enum import StrEnum

from tenaz.finding.causes import Suspect


class Enough(StrEnum):
    """What may be done with what is known."""

    GO_ON = "go on"
    WORK_AROUND = "work around"
    REPLACE = "replace"
    CLAIM = "claim"
    HAND_BACK = "hand back"


SURE = {Enough.WORK_AROUND: 0.97, Enough.REPLACE: 0.99, Enough.CLAIM: 0.997}
"""How sure one must be of a part. A wrong work-around costs an hour, a wrong part money, a wrong claim trust."""
NOTHING_SURE = 0.95
MOSTLY_SURE, LEAST_BITS_AN_HOUR = 0.95, 0.3
"""Once so sure, a trial that tells less than that costs more than it buys: what is left to learn is not worth it."""


@dataclass(frozen=True, slots=True)
class Diagnosis:
    """What may be done, with which part, how sure, and in words."""

    enough: Enough
    suspect: Suspect
    sure: float
    words: str
