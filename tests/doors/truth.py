"""The truth about simulated rigs, for tests."""

from tenaz.benches.simulated.bench import fresh_state
from tenaz.core.rigs.rig import Rig
from tenaz.simulated.machine import Machine
from tenaz.simulated.state import State
from tenaz.simulated.truth import Truth


def truth_of(rig: Rig, state: State | None = None) -> Truth:
    """Of a rig as it came, or in a state."""
    return Truth(Machine(rig, state or fresh_state(rig)))
