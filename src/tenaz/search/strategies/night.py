"""``night``: a whole rig tuned alone: a route over its knobs, hours where they pay, the proof at the end."""

from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.searches.search import NIGHT, SearchGround, Strategy
from tenaz.search.night.ground import Aim, NightGround
from tenaz.search.night.journey import Journey
from tenaz.search.night.route import SEARCH_H
from tenaz.search.strategies.field import stretches
from tenaz.search.strategy_kinds import StrategyKind

MOST_KNOBS = 60


@dataclass(frozen=True, slots=True)
class Parameters:
    """``hours`` is how long the night is, the proof at its end included (0: as long as an hour pays). ``worth`` is by
    how many percent of the score an hour must be expected to gain; of the heat, where the ``aim`` is a quiet rig.
    ``starts`` is where knobs begin that are left to the firmware, and how far they may go, like ``core_ratio=36..52``.
    """

    hours: float = 0.0
    worth: float = 0.2
    starts: str = ""
    aim: str = Aim.FAST.value

    def __post_init__(self) -> None:
        stretches(self.starts)
        if self.aim not in tuple(Aim):
            raise Refused(f"a night is for a rig that is to be {' or '.join(Aim)}, not {self.aim[:20]!r}.")
        if not 0 <= self.hours <= 1000 or not 0.001 <= self.worth <= 100:
            raise Refused(
                f"a night of {self.hours:g} h for {self.worth:g} % an hour: give up to 1000 h, and 0.001 to 100 %."
            )


def night_ground(ground: SearchGround, parameters: Parameters) -> NightGround:
    """The night's own ground; of no hours beside the proof it is the proof alone."""
    search_h = max(0.0, parameters.hours - ground.purpose.proof_h) if parameters.hours else SEARCH_H
    return NightGround(ground, stretches(parameters.starts), search_h, parameters.worth / 100, Aim(parameters.aim))


def night(ground: SearchGround, parameters: Parameters) -> Strategy:
    """Trial by trial along the route."""
    journey = Journey(night_ground(ground, parameters))
    while True:
        seen = yield journey.stands
        for one in seen:
            journey.take(one)


STRATEGY = StrategyKind(
    NIGHT,
    "a whole rig alone: a route over its knobs, and the proof",
    Parameters,
    night,
    MOST_KNOBS,
    climbs=False,
    from_auto=True,
    goes_on=True,
    alone=True,
)
