"""A next step as it is suggested: never a command. Enter follows it."""

from dataclasses import dataclass
from enum import Enum

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.orders import BeginSearch, FollowFound


class Follow(Enum):
    """What Enter does."""

    NOTHING = "nothing"
    TRIAL = "trial"
    CLIMB = "climb"
    STAND = "stand"
    FOUND = "found"
    SEARCH = "search"


@dataclass(frozen=True, slots=True)
class Suggestion:
    """The step and the reason; to ``stand`` somewhere and run what is ``owed`` there, where that is the step."""

    headline: str
    reason: str
    follow: Follow = Follow.NOTHING
    stand: Setpoint | None = None
    owed: tuple[LoadPlan, ...] = ()
    found: FollowFound | None = None
    search: BeginSearch | None = None


NOTHING_YET = Suggestion("", "")
