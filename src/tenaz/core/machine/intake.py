"""Looking over a machine that was taken in: what is off stock, what does not add up, and why that is said."""

from dataclasses import dataclass, replace
from enum import StrEnum

from tenaz.core.knobs.names import DATA_RATE, MEMORY_VDD, T_CL
from tenaz.core.machine.machine import GRAPHICS_POWER, SAME_RATE_MTS, Machine, MemoryModule, show_gib
from tenaz.core.machine.spd import Check, Spd

MISSING_SHARE = 0.06
"""Memory that firmware and graphics may keep for themselves without anything being amiss."""

HIGHEST_CLOCK = "highest_mhz"
"""Two data rates this close are the same one, rounded differently."""


class Weight(StrEnum):
    """How much a finding matters."""

    FAULT = "look at this first"
    OFF_STOCK = "off stock"
    NOTE = "note"


@dataclass(frozen=True, slots=True)
class Oddity:
    """Something pointed out, and the reason."""

    weight: Weight
    text: str
    reason: str


def look_over(machine: Machine) -> tuple[Oddity, ...]:
    """Everything worth pointing out about a machine, gravest first."""
    fitted = [module for module in machine.modules if module.fitted]
    findings = [
        *_capacity(machine, fitted),
        *_cores(machine),
        *_all_rates(fitted, machine),
        *_above_spec(fitted, machine),
        *_limits(machine),
        *_mixed(fitted),
        *_checksums(machine),
    ]
    return tuple(sorted(findings, key=lambda finding: list(Weight).index(finding.weight)))


def _capacity(machine: Machine, fitted: list[MemoryModule]) -> list[Oddity]:
    sizes = [module.size_bytes for module in fitted if module.size_bytes]
    expected, seen = sum(sizes), machine.memory_bytes
    if not sizes or seen is None or seen >= expected * (1 - MISSING_SHARE):
        return []
    return [
        Oddity(
            Weight.FAULT,
            f"{show_gib(seen)} of memory are seen, {show_gib(expected)} are fitted",
            "a module or channel is not in use: reseat it, or look for what firmware has set aside",
        )
    ]


def _cores(machine: Machine) -> list[Oddity]:
    seen, fitted = len(machine.cores), machine.cores_fitted
    if not seen or fitted is None or seen >= fitted:
        return []
    return [Oddity(Weight.OFF_STOCK, f"{seen} of {fitted} cores are on", "somebody may have switched off a weak one")]


def _all_rates(fitted: list[MemoryModule], machine: Machine) -> list[Oddity]:
    """What is said of several modules alike is said once."""
    slots: dict[Oddity, list[str]] = {}
    for module in fitted:
        for finding in _rates(module, machine):
            slots.setdefault(finding, []).append(module.slot)
    return [
        replace(finding, text=f"{' and '.join(names)} {'run' if len(names) > 1 else 'runs'} {finding.text}")
        for finding, names in slots.items()
    ]


def _rates(module: MemoryModule, machine: Machine) -> list[Oddity]:
    """What its rate gives cause to say, to be read after "it runs"."""
    rated, present = module.rated_mts, module.present_mts
    if rated is None or present is None:
        return []
    if abs(rated - 2 * present) <= SAME_RATE_MTS:
        return [
            Oddity(
                Weight.NOTE,
                f"at {present}: that reads as half of the rated {rated} MT/s",
                "firmware often reports the memory clock in MHz; the data rate is twice that. Compare with the setup",
            )
        ]
    if present < rated - SAME_RATE_MTS:
        return [
            Oddity(
                Weight.OFF_STOCK,
                f"at {present} MT/s, rated {rated} MT/s",
                "its memory profile is off, or the machine fell back to base values after a failed start",
            )
        ]
    base = [spd.rated_mts for spd in machine.spds if spd.part == module.part and spd.rated_mts]
    if base and present > base[0] + SAME_RATE_MTS:
        return [
            Oddity(
                Weight.OFF_STOCK,
                f"at {present} MT/s, above the JEDEC base of {base[0]} MT/s",
                "a memory profile or values by hand are set",
            )
        ]
    return []


def _above_spec(fitted: list[MemoryModule], machine: Machine) -> list[Oddity]:
    rates, spec = [one.present_mts for one in fitted if one.present_mts], machine.memory_spec_mts
    if not rates or spec is None or max(rates) <= spec + SAME_RATE_MTS:
        return []
    return [
        Oddity(
            Weight.OFF_STOCK,
            f"memory runs at {max(rates)} MT/s, the processor's data sheet says {spec} MT/s",
            "its controller is asked for more than its maker answers for",
        )
    ]


def _limits(machine: Machine) -> list[Oddity]:
    """Limits and clocks that are not as usual for this processor."""
    found = []
    for limit in machine.limits:
        if limit.usual is None or limit.value == limit.usual:
            continue
        if limit.name == "boost_on":
            found.append(Oddity(Weight.OFF_STOCK, "boost is off", "cores stay at their base clock"))
        elif limit.name == HIGHEST_CLOCK:
            text = f"its highest clock is held at {limit.value} of {limit.usual} MHz"
            found.append(Oddity(Weight.OFF_STOCK, text, "the system, or somebody, lowered it"))
        elif limit.name == GRAPHICS_POWER:
            text = f"graphics may draw {limit.value} % of what its driver takes for usual"
            found.append(Oddity(Weight.OFF_STOCK, text, "somebody, or a program at the start, moved it"))
        elif limit.value > limit.usual:
            what = limit.name.removesuffix("_w").replace("_", " ")
            text = f"{what} {limit.value} W, {limit.usual} W is usual for it"
            found.append(Oddity(Weight.OFF_STOCK, text, "somebody, or the board by itself, raised it"))
    return found


def _mixed(fitted: list[MemoryModule]) -> list[Oddity]:
    kinds = {(module.part, module.size_bytes, module.ranks) for module in fitted}
    if len(kinds) <= 1:
        return []
    listed = ", ".join(f"{module.slot} {module.part or 'unnamed'}" for module in fitted)
    return [Oddity(Weight.NOTE, f"unlike modules: {listed}", "the weakest sets the limit for all")]


def _checksums(machine: Machine) -> list[Oddity]:
    return [
        Oddity(
            Weight.FAULT,
            f"module {spd.part or spd.serial or 'without a name'}: the checksum of its SPD is wrong",
            "its contents were changed or are damaged; firmware may set wrong timings",
        )
        for spd in machine.spds
        if spd.check is Check.WRONG
    ]


def present_values(machine: Machine) -> dict[str, int]:
    """The knob values that firmware tables say are in force, by knob name: the lowest of all modules."""
    fitted = [module for module in machine.modules if module.fitted]
    values = {}
    rates = [module.present_mts for module in fitted if module.present_mts]
    voltages = [module.voltage_mv for module in fitted if module.voltage_mv]
    if rates:
        values[DATA_RATE] = min(rates)
    if voltages:
        values[MEMORY_VDD] = min(voltages)
    latencies = [cl for spd in machine.spds if rates and (cl := _base_latency(spd, min(rates)))]
    if latencies:
        values[T_CL] = max(latencies)
    values |= {one.name: one.value for one in machine.limits if one.name == GRAPHICS_POWER}
    # Limits of the processor are told and not taken for stock: systems move them while they run.
    # What stands in the controller itself is what is in force.
    return values | {one.knob: one.value for one in machine.registers}


def _base_latency(spd: Spd, rate_mts: int) -> int | None:
    """CAS latency of the JEDEC base profile, when that is the one in force: the lowest that the module lists and that
    lasts as long as its tAA.
    """
    if not spd.rated_mts or not spd.t_ck_min_ps or not spd.t_aa_ps or abs(spd.rated_mts - rate_mts) > SAME_RATE_MTS:
        return None
    # The standards forgive a small excess over whole clocks; 0.974 of a clock is DDR4's, the larger one.
    needed = spd.t_aa_ps / spd.t_ck_min_ps - (1 - 0.974)
    return min((cl for cl in spd.cas_latencies_nck if cl >= needed), default=None)
