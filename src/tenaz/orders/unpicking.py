"""Many values that were moved together and failed, as an order to find which of them it is."""

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.searches.search import UNPICK
from tenaz.orders import BeginSearch, Steps
from tenaz.search.strategies.unpick import spelled


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
    return BeginSearch(tuple(values), base, load, reason, UNPICK, parameters, Steps())
