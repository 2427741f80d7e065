"""A night alone, as an order: which knobs it moves, where it begins, how long it may take."""

from dataclasses import asdict

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.search import NIGHT
from tenaz.orders import BeginSearch, Steps
from tenaz.search.night.ground import Aim
from tenaz.search.night.knobs import ground_for, night_knobs, starts_for
from tenaz.search.strategies.night import Parameters

LEAST_KNOBS = 2
LEAST_SEARCH_H = 2.0
USUAL = Parameters()


def order_for_night(
    rig: Rig,
    base: Setpoint,
    hours: float = 0.0,
    worth: float = USUAL.worth,
    reason: str = "",
    steps: Steps | None = None,
    aim: Aim = Aim.FAST,
) -> BeginSearch:
    """The night of a rig from a setpoint.

    Raises:
        Refused: hardly a knob that it could move is known, or it is too short for the proof.
    """
    knobs = night_knobs(rig, base, aim)
    if len(knobs) < LEAST_KNOBS:
        raise Refused(
            f"hardly a value of {rig.name} is known that a night could move: type its data rate and timings first "
            f"(with e in the workbench), or give it a catalogue's knobs."
        )
    parameters = asdict(Parameters(hours, worth, starts_for(rig), aim.value))
    ground, proof_h = ground_for(rig, base, reason, aim), rig.purpose.proof_h
    if hours and hours - proof_h < LEAST_SEARCH_H:
        raise Refused(
            f"{hours:g} h are too short: the proof alone takes {proof_h:g} h ({rig.purpose.name}); give "
            f"{proof_h + LEAST_SEARCH_H:g} h or more."
        )
    return BeginSearch(knobs, base, ground.load, reason, NIGHT, parameters, steps or Steps())
