"""Memory profiles that the modules themselves store: the base of their standard, and the slower rates that it covers.

What makers lay into the areas beside it has no open format: it is only told that something is there. What such a
profile holds stands on the module's label, and is typed in as there.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.knobs.names import DATA_RATE, MEMORY_VDD, T_CL, T_CWL, T_FAW, T_RAS, T_RC, T_RCD, T_RFC1, T_RP, T_WR
from tenaz.core.knobs.timings.clocks import Family, MemoryClock, Rounding, to_clocks
from tenaz.core.machine.machine import SAME_RATE_MTS, Machine
from tenaz.core.machine.spd import Spd

STANDARD_RATES_MTS = {
    Family.DDR3: (800, 1066, 1333, 1600, 1866, 2133),
    Family.DDR4: (1600, 1866, 2133, 2400, 2666, 2933, 3200),
    Family.DDR5: (3200, 3600, 4000, 4400, 4800, 5200, 5600, 6000, 6400, 6800, 7200, 7600, 8000, 8400, 8800, 9200),
}
"""Rates of the standards' speed bins (JESD79-3, -4, -5)."""
NOMINAL_VDD_MV = {Family.DDR3: 1500, Family.DDR4: 1200, Family.DDR5: 1100}


@dataclass(frozen=True, slots=True)
class MemoryProfile:
    """Values by knob at one rate; ``base`` says that it is the fastest of the standard's that the modules store."""

    rate_mts: int
    values: tuple[tuple[str, int], ...]
    base: bool

    @property
    def name(self) -> str:
        """Like ``base 4800``."""
        return f"{'base' if self.base else 'standard'} {self.rate_mts}"

    def show(self) -> str:
        """In trade notation, like ``4800 40-40-40-77 1.1V``."""
        known = dict(self.values)
        primary = "-".join(str(known[name]) for name in (T_CL, T_RCD, T_RP, T_RAS) if name in known)
        return f"{self.rate_mts} {primary} {known[MEMORY_VDD] / 1000:g}V"


def profiles_of(machine: Machine) -> tuple[MemoryProfile, ...]:
    """The profiles that all modules together allow: each value as the slowest of them asks it; the fastest first."""
    spds = [spd for spd in machine.spds if spd.rated_mts and spd.t_ck_min_ps]
    kinds = {spd.kind for spd in spds}
    family = Family.of(next(iter(kinds), ""))
    if len(kinds) != 1 or family not in STANDARD_RATES_MTS:
        return ()
    fastest = min(spd.rated_mts or 0 for spd in spds)
    rates = sorted({fastest, *(one for one in STANDARD_RATES_MTS[family] if one < fastest)}, reverse=True)
    found = (_profile(spds, family, rate, rate == fastest) for rate in rates)
    return tuple(one for one in found if one is not None)


def _profile(spds: Sequence[Spd], family: Family, rate_mts: int, base: bool) -> MemoryProfile | None:
    clock = MemoryClock.of(rate_mts, family)

    def clocks(times_ps: Sequence[int | None]) -> int | None:
        known = [one for one in times_ps if one]
        return to_clocks(max(known), clock, family, Rounding.STANDARD) if len(known) == len(times_ps) else None

    asked = clocks([spd.t_aa_ps for spd in spds])
    shared = set(spds[0].cas_latencies_nck).intersection(*(spd.cas_latencies_nck for spd in spds))
    latency = min((cl for cl in shared if asked is not None and cl >= asked), default=None)
    if latency is None:
        return None
    refresh = "t_rfc_nck" if family is Family.DDR3 else T_RFC1
    values: dict[str, int | None] = {
        DATA_RATE: rate_mts,
        T_CL: latency,
        T_RCD: clocks([spd.t_rcd_ps for spd in spds]),
        T_RP: clocks([spd.t_rp_ps for spd in spds]),
        T_RAS: clocks([spd.t_ras_ps for spd in spds]),
        T_RC: clocks([spd.t_rc_ps for spd in spds]),
        T_WR: clocks([spd.t_wr_ps for spd in spds]),
        T_FAW: clocks([spd.t_faw_ps for spd in spds]),
        refresh: clocks([spd.t_rfc1_ps for spd in spds]),
        T_CWL: latency - 2 if family is Family.DDR5 else None,
        MEMORY_VDD: max(spd.vdd_mv or NOMINAL_VDD_MV[family] for spd in spds),
    }
    return MemoryProfile(rate_mts, tuple((name, value) for name, value in values.items() if value is not None), base)


def profile_in_words(machine: Machine) -> str:
    """Which profile the present rate fits, in words; empty where neither is known."""
    rates = [module.present_mts for module in machine.modules if module.fitted and module.present_mts]
    profiles = profiles_of(machine)
    if not rates or not profiles:
        return ""
    rate = min(rates)
    fits = next((one for one in profiles if abs(one.rate_mts - rate) <= SAME_RATE_MTS), None)
    if fits is not None:
        return f"{rate} MT/s is that of the profile {fits.name} ({fits.show()})"
    if rate > profiles[0].rate_mts:
        beside = any(spd.vendor_block for spd in machine.spds)
        more = "another profile of the modules, or values by hand" if beside else "values by hand"
        return f"{rate} MT/s is above the base profile of {profiles[0].rate_mts}: {more}"
    return f"{rate} MT/s is no standard's rate: values by hand"
