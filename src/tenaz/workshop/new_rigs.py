"""Rigs that a new book begins with."""

from dataclasses import replace

from tenaz.core.intake import rig_from
from tenaz.core.rigs import BenchKind, Rig
from tenaz.probe.here import read_machine


def this_machine() -> Rig:
    """A rig for the machine that Tenaz runs on: what can be read is filled in."""
    return rig_from(read_machine(), "this machine", (BenchKind.HERE, BenchKind.HAND))


def specimen(rig: Rig, seed: int) -> Rig:
    """Another specimen of a simulated rig, under a name of its own: its trials say nothing about the first."""
    return rig if seed == rig.seed else replace(rig, name=f"{rig.name}-{seed}", seed=seed)
