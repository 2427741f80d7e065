"""A night played to its end on one simulated rig, and the usual practice on the same one."""

from dataclasses import dataclass

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.searches.search import Advice, Proposal
from tenaz.search.night.journey import Journey
from tenaz.search.night.knobs import ground_for, starts_for
from tenaz.search.strategies.night import Parameters, night_ground
from tenaz.study.night.practice import halving_practice, usual_practice
from tenaz.study.night.rigs import NightRig
from tenaz.study.night.worlds import AS_SIMULATED

MOST_TRIALS = 600


@dataclass(frozen=True, slots=True)
class Outcome:
    """What came of a rig: the score's rise against stock, whether the purpose truly tolerates it, the hours with and
    without the proof, trials, and whether it ended proven.
    """

    gain: float
    safe: bool
    hours: float
    trials: int
    proven: bool


def night_on(like: str, seed: int, search_h: float = 0.0, world: str = AS_SIMULATED) -> Outcome:
    """The night, from stock to its advice; of so many hours beside the proof (0: as long as it pays)."""
    rig = NightRig(like, seed, world)
    parameters = Parameters(search_h + rig.rig.purpose.proof_h if search_h else 0.0, starts=starts_for(rig.rig))
    journey = Journey(night_ground(ground_for(rig.rig, rig.rig.stock, ""), parameters))
    while isinstance(stands := journey.stands, Proposal) and rig.trials < MOST_TRIALS:
        journey.take(rig.try_at(stands.setpoint, stands.plan))
    proven = isinstance(stands, Advice) and stands.setpoint is not None
    return _outcome(rig, stands.setpoint if proven and stands.setpoint is not None else rig.rig.stock, proven)


def practice_on(like: str, seed: int, guard: int) -> Outcome:
    """Usual practice with a fixed guard of so many steps."""
    rig = NightRig(like, seed)
    night = night_ground(ground_for(rig.rig, rig.rig.stock, ""), Parameters(starts=starts_for(rig.rig)))
    found = usual_practice(rig, night, guard)
    return _outcome(rig, found.setpoint, found.proven)


def halving_on(like: str, seed: int, share: float) -> Outcome:
    """Practice by bisection of ten minutes a trial, standing at a share of the way to what held."""
    rig = NightRig(like, seed)
    night = night_ground(ground_for(rig.rig, rig.rig.stock, ""), Parameters(starts=starts_for(rig.rig)))
    found = halving_practice(rig, night, share)
    return _outcome(rig, found.setpoint, found.proven)


def _outcome(rig: NightRig, at: Setpoint, proven: bool) -> Outcome:
    gain = rig.speeds(at).over(rig.speeds(rig.rig.stock))
    return Outcome(gain, rig.tolerated(at), rig.hours, rig.trials, proven)
