"""Rigs made from what is known of a machine, and those that a new book begins with."""

from dataclasses import replace

from tenaz.catalogues.reading import built_in, knobs_of
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import AUTO, UNKNOWN, Setpoint, Value
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.machine.intake import present_values
from tenaz.core.machine.machine import Machine
from tenaz.core.rigs.rig import OWN, BenchKind, Purpose, Rig
from tenaz.probe.here import read_machine

OTHER_PARTS = ("processor", "graphics")
"""Catalogues of what a machine has beside its memory."""


def rig_from(
    machine: Machine, name: str, benches: tuple[BenchKind, ...], purpose: Purpose = OWN, memory: str = ""
) -> Rig:
    """A rig for a machine that was taken in: its stock setpoint is what it runs with now, where that can be read.

    ``memory`` is its kind of memory, where the machine itself does not tell.
    """
    told = [*(module.kind for module in machine.modules), *(spd.kind for spd in machine.spds), memory]
    kind = next((one for one in told if Family.of(one) is not Family.UNKNOWN), next(filter(None, told), ""))
    family = Family.of(kind)
    catalogue = family.value.lower()
    present = present_values(machine)
    cores = len(machine.cores)
    offered = (knob for name in (catalogue, *OTHER_PARTS) for knob in knobs_of(name, cores))
    knobs = tuple(knob_as_found(knob, present.get(knob.name)) for knob in offered)
    platform = built_in(catalogue).platform
    fitted = [module for module in machine.modules if module.fitted]
    return Rig(
        name=name,
        purpose=purpose,
        knobs=knobs,
        stock=Setpoint.of({knob.name: _stock_value(knob, present) for knob in knobs}),
        benches=benches,
        processor=machine.processor,
        cores=len(machine.cores) or None,
        memory_bytes=machine.memory_bytes,
        parts=tuple(
            (what, text)
            for what, text in (
                ("board", machine.board),
                ("firmware", machine.firmware),
                ("memory", ", ".join(f"{module.slot} {module.part}".strip() for module in fitted)),
            )
            if text
        ),
        machine=machine,
        memory=kind or family.value,
        platform=platform.platform() if platform else None,
    )


def knob_as_found(knob: Knob, value: Value | None) -> Knob:
    """A knob on a rig that runs with this value: that is one of its values, whatever the catalogue says."""
    return knob.as_found(knob.nearest_alike(value)) if isinstance(value, int) else knob


def _stock_value(knob: Knob, present: dict[str, int]) -> Value:
    """What is in force where it can be read; else what the firmware is left to choose, or nobody knows. Processor and
    graphics are taken to be as they come: offsets of 0, the usual base clock; whoever knows better types it.
    """
    if knob.name in present:
        return knob.nearest_alike(present[knob.name])
    if knob.domain in OTHER_PARTS and knob.default is not None and (knob.default == 0 or not knob.may_be_auto):
        return knob.default
    if knob.may_be_auto:
        return AUTO
    return UNKNOWN


def this_machine() -> Rig:
    """A rig for the machine that Tenaz runs on: what can be read is filled in."""
    return rig_from(read_machine(), "this machine", (BenchKind.HERE, BenchKind.HAND))


def specimen(rig: Rig, seed: int) -> Rig:
    """Another specimen of a simulated rig, under a name of its own: its trials say nothing about the first."""
    return rig if seed == rig.seed else replace(rig, name=f"{rig.name}-{seed}", seed=seed)
