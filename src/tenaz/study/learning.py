"""Priors learnt from simulated populations: how steep edges are there and how far behind them the wall stands."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from tenaz.core.base.amounts import to_digits
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.rigs.rescaled import rescaled_setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.margins.hazard import Numbers
from tenaz.margins.priors import EdgePrior, Slope, Tail, Wall, usual_prior
from tenaz.simulated.machine import LoadMix
from tenaz.simulated.made.scenarios import drawn_scenarios
from tenaz.simulated.truth import Truth
from tenaz.study.populations import RigsEntry
from tenaz.study.simulated_rigs import made

WIDER = 1.6
"""Rigs are not all like the simulated ones: slopes are believed so many times flatter and steeper than were found."""
MOST_LOOKED_AT = 600
LEAST_FOUND = 20
LEARNT_FROM = range(2_000_000, 2_000_040)
"""Seeds of the specimens: none of the table's."""
FLOOR = -6.9


@dataclass(frozen=True, slots=True)
class KindOfKnob:
    """Knobs that are learnt of together, in their unit; ``families`` say for which memory, and then ``rates`` at which
    data rates beside the one that they come with, all times kept.
    """

    name: str
    about: str
    knobs: tuple[str, ...]
    unit: str
    load: LoadKind = LoadKind.MARCH
    begins: int | None = None
    values: tuple[tuple[str, int], ...] = ()
    """Where stock leaves knobs to the firmware: what they begin at."""
    families: tuple[Family, ...] = ()
    rates: tuple[int, ...] = ()


RATES = {Family.DDR4: (2800, 3200), Family.DDR5: (5600, 6400)}


def _of_each_memory() -> Iterator[KindOfKnob]:
    """What a night goes by: each kind of memory apart, timings as times."""
    for family, rates in RATES.items():
        of, only = family.value.lower(), (family,)
        yield KindOfKnob(f"rate-{of}", f"the data rate of {family}", (DATA_RATE,), "MT/s", families=only)
        for name, about, knobs, unit in (
            ("read-time", "the time from a read to its data", ("t_cl_nck",), "ns"),
            ("row-times", "the times to open and to close a row", ("t_rcd_nck", "t_rp_nck"), "ns"),
            ("refresh-time", "the time of a refresh of all banks", ("t_rfc1_nck",), "ns"),
            ("refresh-interval", "the time between refreshes", ("t_refi_nck",), "%"),
            ("controller-voltage", "the supply of the memory controller", ("controller_mv",), "mV"),
            ("io-voltage", "the supply of the processor's side of the bus", ("io_mv",), "mV"),
        ):
            yield KindOfKnob(f"{name}-{of}", f"{about}, {family}", knobs, unit, families=only, rates=rates)
        about = f"what is taken off the cores' own voltage, beside {family}"
        yield KindOfKnob(
            f"core-offset-{of}", about, ("core_offset_mv",), "mV", LoadKind.TRANSFORM, families=only
        )  # fmt: skip


KINDS = (
    KindOfKnob("data-rate", "the data rate of memory", ("data_rate_mts",), "MT/s"),
    KindOfKnob("latency", "the timings counted from a command to data or to the next command of a row",
               ("t_cl_nck", "t_rcd_nck", "t_rp_nck", "t_ras_nck", "t_rc_nck"), "nCK"),
    KindOfKnob("spacing", "the timings between commands to different rows and turns of the bus",
               ("t_rrd_s_nck", "t_rrd_l_nck", "t_faw_nck", "t_wtr_s_nck", "t_wtr_l_nck", "t_wr_nck", "t_rtp_nck"),
               "nCK"),
    KindOfKnob("refresh", "the interval of refresh", ("t_refi_nck",), "nCK"),
    KindOfKnob("recovery", "the time of a refresh", ("t_rfc_nck", "t_rfc1_nck", "t_rfc2_nck", "t_rfcsb_nck"), "nCK"),
    KindOfKnob("core-ratio", "the ratio of the cores at a voltage that was set", ("core_ratio",), "", LoadKind.SOLVE,
               30, (("core_voltage_mv", 1200),)),
    KindOfKnob("memory-voltage", "the supplies of memory and its controller",
               ("memory_vdd_mv", "memory_vddq_mv", "controller_mv", "io_mv"), "mV"),
    *_of_each_memory(),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Shape:
    """An edge's slope in the knob's unit, the wall in slopes past x* (None: none within the grid), and x* itself."""

    slope: float
    wall: float | None
    x_star: float

    def unit_of(self, unit: str, at: Setpoint) -> float:
        """What one of the knob's own unit is in another."""
        if unit == "ns":
            return 2000.0 / at.number(DATA_RATE)
        return 100.0 / self.x_star if unit == "%" else 1.0


def learnt(kind: KindOfKnob, seeds: Sequence[int], told: Callable[[str], None]) -> EdgePrior | None:
    """The prior for one kind of knob, from all scenarios that have it; None where hardly any edge was found."""
    slopes, walls = list[float](), list[float]()
    for like in drawn_scenarios():
        for seed in seeds:
            rig, machine = made(RigsEntry(like=like, knob=""), seed)
            truth, known = Truth(machine), {knob.name: knob for knob in rig.knobs}
            for name in kind.knobs:
                if kind.families and rig.family not in kind.families:
                    continue
                came = _beginning(rig.stock, kind, name, known)
                for at in _carried(rig, came, kind.rates) if came is not None else ():
                    found = _edge_shape(truth, at, known[name], kind.load)
                    slopes += [found.slope * found.unit_of(kind.unit, at)] if found else []
                    walls += [found.wall] if found and found.wall is not None else []
        told(f"{kind.name}: {like}, {len(slopes)} edges")
    if len(slopes) < LEAST_FOUND:
        return None
    low, high = np.quantile(slopes, [0.05, 0.95])
    usual = usual_prior()
    wall = Wall(low=2.0, high=14.0, counted_in="slopes")
    if len(walls) >= LEAST_FOUND:
        near, far = np.quantile(walls, [0.05, 0.95])
        wall = Wall(low=to_digits(max(0.0, near / WIDER), 3), high=to_digits(far * WIDER, 3), counted_in="slopes")
    return EdgePrior(
        name=kind.name,
        about=kind.about,
        learnt_from=f"{', '.join(drawn_scenarios())}: {len(seeds)} specimens each from {seeds[0]}, {len(slopes)} edges",
        knobs=kind.knobs,
        unit=kind.unit,
        slope=Slope(
            low=to_digits(low / WIDER, 3),
            high=to_digits(high * WIDER, 3),
            shoulder=0.05,
            highest=to_digits(2 * high * WIDER, 3),
        ),
        wall=wall,
        tails=tuple(Tail(curvature=one.curvature, weight=one.weight) for one in usual.tails),
        warmths=usual.warmths,
        lucky_start=0.05,
        families=kind.families,
    )


def _carried(rig: Rig, came: Setpoint, rates: Sequence[int]) -> list[Setpoint]:
    """As it came, and at the data rates that its grid has, all times kept."""
    grid = rig.knob(DATA_RATE).grid
    return [came, *(rescaled_setpoint(rig, came, rate).setpoint for rate in rates if rate in grid)]


def _beginning(stock: Setpoint, kind: KindOfKnob, name: str, known: Mapping[str, Knob]) -> Setpoint | None:
    """Where the way along a knob begins; None where the rig has no such knob, or leaves it to the firmware."""
    if name not in known:
        return None
    for other, value in (*kind.values, *(((name, kind.begins),) if kind.begins is not None else ())):
        if other in known:
            stock = stock.replacing(other, value)
    return None if isinstance(stock[name], Auto) else stock


def _edge_shape(truth: Truth, setpoint: Setpoint, knob: Knob, load: LoadKind) -> _Shape | None:
    """The edge on the way from stock to the grid's end; None where there is none."""
    begin = knob.strain(setpoint.number(knob.name))
    end = knob.ends[1]
    if end - begin < 2:
        return None
    strains = np.arange(begin, end + 1, max(1, (end - begin) // MOST_LOOKED_AT), dtype=float)
    share = 0.5 if load.strains is Strains.MEMORY else None
    rates, chances = truth.along(setpoint, knob, [int(one) for one in strains], LoadMix((load,), (share,)))
    low, x_star = _first(strains, rates, FLOOR), _first(strains, rates, 0.0)
    if low is None or x_star is None or x_star - low < 1e-3 or low <= begin:
        return None
    slope = (x_star - low) / -FLOOR
    wall = _first(strains, -chances, -0.5)
    return _Shape(slope * knob.grid.spacing, None if wall is None else (wall - x_star) / slope, knob.between(x_star))


def _first(strains: Numbers, values: Numbers, level: float) -> float | None:
    above = np.flatnonzero(values > level)
    if not len(above) or above[0] == 0:
        return None
    at = int(above[0])
    part = (level - values[at - 1]) / (values[at] - values[at - 1])
    return float(strains[at - 1] + part * (strains[at] - strains[at - 1]))


def as_toml(prior: EdgePrior) -> str:
    """A prior as its file stands."""
    knobs = ", ".join(f'"{name}"' for name in prior.knobs)
    tails = ", ".join(f"{{ curvature = {one.curvature:g}, weight = {one.weight:g} }}" for one in prior.tails)
    warmths = ", ".join(f"{{ per_k = {one.per_k:g}, weight = {one.weight:g} }}" for one in prior.warmths)
    slope, wall = prior.slope, prior.wall
    named = ", ".join(f'"{one}"' for one in prior.families)
    families = f"\nfamilies = [{named}]" if named else ""
    return f"""# Learnt by `tenaz study --learn`; made to be edited.
name = "{prior.name}"
about = "{prior.about}"
learnt_from = "{prior.learnt_from}"
knobs = [{knobs}]
unit = "{prior.unit}"{families}
slope = {{ low = {slope.low:g}, high = {slope.high:g}, shoulder = {slope.shoulder:g}, highest = {slope.highest:g} }}
wall = {{ low = {wall.low:g}, high = {wall.high:g}, counted_in = "{wall.counted_in}" }}
tails = [{tails}]
warmths = [{warmths}]
stray_start = {prior.stray_start:g}
lucky_start = {prior.lucky_start:g}
"""
