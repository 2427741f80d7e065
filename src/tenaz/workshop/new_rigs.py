"""Rigs that a new book begins with."""

from dataclasses import replace

from tenaz.core.catalogue import ddr5_knobs
from tenaz.core.rigs import OWN, BenchKind, Rig
from tenaz.core.setpoints import Setpoint
from tenaz.probe import system


def this_machine() -> Rig:
    """A rig for the machine that Tenaz runs on: what is read is filled in, the knobs stand at JEDEC base values."""
    return Rig(
        name="this machine",
        purpose=OWN,
        knobs=ddr5_knobs(),
        stock=Setpoint.of({"data_rate_mts": 4800, "t_cl_nck": 40, "memory_vdd_mv": 1100}),
        benches=(BenchKind.HERE, BenchKind.HAND),
        processor=system.processor_model(),
        cores=system.physical_cores(),
        memory_bytes=system.memory().total_bytes,
    )


def specimen(rig: Rig, seed: int) -> Rig:
    """Another specimen of a simulated rig, under a name of its own: its trials say nothing about the first."""
    return rig if seed == rig.seed else replace(rig, name=f"{rig.name}-{seed}", seed=seed)
