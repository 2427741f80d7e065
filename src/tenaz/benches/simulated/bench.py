"""The bench ``sim``, put together on one simulated machine's state."""

from collections.abc import Callable
from datetime import UTC, datetime

from tenaz.benches.simulated.clock import SimulatedClock, Time
from tenaz.benches.simulated.loads import SimulatedLoads
from tenaz.benches.simulated.measuring import SimulatedMeasuring
from tenaz.benches.simulated.stations import SimulatedFirmware
from tenaz.core.base.pace import Pace
from tenaz.core.ports.bench import Bench, Technician
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.simulated.made.populations import usual_population
from tenaz.simulated.state import State, new_state


def fresh_state(rig: Rig, at_utc: datetime | None = None) -> State:
    """The state of a machine that nobody has run yet, drawn from the usual kind for its memory."""
    return new_state(usual_population(rig.family), rig.seed, at_utc or datetime.now(UTC))


def simulated_bench(
    rig: Rig,
    state: State | None = None,
    pace: Pace | None = None,
    technician: Technician | None = None,
    keep: Callable[[State], None] = lambda _: None,
) -> Bench:
    """All parts work on one state, which is given to ``keep`` at each station: that machine lives on."""
    state = state or fresh_state(rig)
    time = Time(state, pace or Pace())
    firmware = SimulatedFirmware(rig, state, time, keep)
    loads = SimulatedLoads(rig, state, time, keep)
    measuring = SimulatedMeasuring(rig, state, time, keep)
    return Bench(BenchKind.SIM, firmware, firmware, loads, SimulatedClock(rig.name, state), technician, measuring)
