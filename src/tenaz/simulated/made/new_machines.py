"""New simulated rigs: of a scenario, or drawn from a kind by a seed."""

from dataclasses import replace
from datetime import datetime

from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.rigs.rig import Rig
from tenaz.simulated.made.populations import read_population
from tenaz.simulated.made.scenarios import read_scenario, rig_of, scenario, state_of
from tenaz.simulated.state import State, new_state

LIKE = {"fanless-ddr4": "hut", "field-ddr4": "sled"}
"""What a rig drawn from a kind is built like; else the workstation's way, or the field computer's, by its memory."""


def from_scenario(which: str, seed: int | None, now_utc: datetime) -> tuple[Rig, State]:
    """A scenario by name or file; with a seed, another specimen of it."""
    one = read_scenario(which)
    rig = rig_of(one, seed)
    if seed is not None and seed != one.seed:
        rig = replace(rig, name=f"{one.name}-{seed}")
    return rig, state_of(one, rig, now_utc)


def from_kind(which: str, seed: int | None, now_utc: datetime) -> tuple[Rig, State]:
    """A machine drawn from a kind, without a story and without faults."""
    kind, number = read_population(which), seed or 0
    usual = "ridge" if kind.family is Family.DDR5 else "sled"
    one = scenario(LIKE.get(kind.name, usual))
    rig = rig_of(one, number)
    plain = replace(rig, name=f"{kind.name}-{number}", owner="", complaint="", by_eye="", guarantee_months=None)
    return plain, new_state(kind, number, now_utc)
