"""Many values that were moved together and failed, as an order to find which of them it is."""

from typing import TYPE_CHECKING

from tenaz.core.errors import Refused
from tenaz.core.loading import LoadPlan
from tenaz.core.setpoints import Setpoint
from tenaz.search.strategies.unpick import spelled
from tenaz.workshop.orders import BeginSearch, Steps

if TYPE_CHECKING:
    from tenaz.workshop.shop import Workshop


def unpick_between(base: Setpoint, failed: Setpoint, load: LoadPlan, reason: str, false_pass: float) -> BeginSearch:
    """The search between what held and what failed.

    Raises:
        Refused: nothing, or one value only, was moved; or one that is left to the firmware.
    """
    changes = failed.changes_from(base)
    if len(changes) < 2:
        count = f"{len(changes)} value{'s' if len(changes) != 1 else ''}"
        raise Refused(f"{count} differ between the two: it takes two or more for a question of which.")
    values = {}
    for one in changes:
        if not isinstance(one.after, int) or not isinstance(one.before, int):
            raise Refused(f"{one.knob} is left to the firmware on one side: give it a number on both.")
        values[one.knob] = one.after
    parameters = {"to": spelled(values), "false_pass": false_pass}
    return BeginSearch(tuple(values), base, load, reason, "unpick", parameters, Steps())


def order_to_unpick(
    workshop: "Workshop", held: str, failed: str, load: LoadPlan, reason: str, false_pass: float
) -> BeginSearch:
    """The same, by the setpoints' names."""
    return unpick_between(workshop.named(held), workshop.named(failed), load, reason, false_pass)
