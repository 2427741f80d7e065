"""The simulated machine behind a rig, as the book keeps it."""

from datetime import datetime
from typing import TYPE_CHECKING

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.journal.store import Store

if TYPE_CHECKING:
    from tenaz.simulated.state import State


def machine_of(store: Store, rig: Rig, now_utc: datetime, in_force: Setpoint | None = None) -> "State":
    """The machine of a rig as the book keeps it; a new one, as it came to the workshop, where there is none yet."""
    kept = store.machines.of(rig.name)
    if kept is not None:
        return kept
    state = fresh_machine(rig, now_utc)
    if in_force is not None and in_force != rig.stock:
        state.entered = state.in_force = dict(in_force.items_by_name)
    return state


def fresh_machine(rig: Rig, now_utc: datetime) -> "State":
    """A machine that nobody has run yet: its scenario's, for the rigs that come along, else of the usual kind."""
    from tenaz.simulated.made.populations import usual_population  # noqa: PLC0415 - only simulated rigs pay for it
    from tenaz.simulated.made.scenarios import scenario, scenario_names, state_of  # noqa: PLC0415
    from tenaz.simulated.state import new_state  # noqa: PLC0415

    name = rig.name.removesuffix(f"-{rig.seed}")
    if name in scenario_names() and scenario(name).memory == rig.family:
        return state_of(scenario(name), rig, now_utc)
    return new_state(usual_population(rig.family), rig.seed, now_utc)
