"""The simulated machine held against what is published, as properties over populations with fixed seeds."""

from dataclasses import replace
from functools import cache
from typing import TYPE_CHECKING

import numpy as np
import pytest

from tenaz.core.knobs.setpoint import AUTO, UNKNOWN, Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.demo.hut import hut
from tenaz.demo.ridge import ridge
from tenaz.demo.sled import sled
from tenaz.simulated.machine import LoadMix, Machine
from tenaz.simulated.made.faults import Fault, FaultKind
from tenaz.simulated.made.populations import population
from tenaz.simulated.made.scenarios import scenario, state_of
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.effects import EFFECTS, NONE, effect_of
from tenaz.simulated.state import State
from tenaz.simulated.truth import Truth
from tests.doors.truth import truth_of

if TYPE_CHECKING:
    from tenaz.core.rigs.rig import Rig

MARCH = LoadMix((LoadKind.MARCH,), (0.5,))


RIGS = {rig.name: rig for rig in (ridge(), hut(), sled())}
HARDEST = (LoadKind.COPY, LoadKind.DISTURB, LoadKind.TRANSFORM, LoadKind.PULSE, LoadKind.SOLO, LoadKind.PROGRAM)


@cache
def machine(seed: int = 5, name: str = "ridge", kind: str = "") -> Machine:
    rig = replace(RIGS[name], seed=seed)
    state = state_of(scenario(name), rig)
    return Machine(rig, replace(state, faults=(), population=population(kind) if kind else state.population))


def strained(kind: LoadKind) -> LoadMix:
    return LoadMix((kind,), (0.5 if kind.strains == "memory" else None,))


def bandwidth(one: Machine, at: Setpoint) -> float:
    return float(one.speed(one.values(at), MARCH, np.array([50.0])).bandwidth_gb_s[0])


def test_the_data_rate_edge_spreads_by_more_than_two_steps_and_stock_holds() -> None:
    rig = ridge()
    knob = rig.knob("data_rate_mts")
    edges = [Truth(machine(seed)).edge(rig.stock, knob) for seed in range(200)]
    assert np.std(edges) >= 2.0
    assert min(edges) > knob.strain(4800) + 0.5
    for name in ("ridge", "hut", "sled"):
        some = [Truth(machine(seed, name)) for seed in range(12)]
        hardest = max(one.log_rate(RIGS[name].stock, strained(kind)) for one in some for kind in HARDEST)
        assert hardest < np.log(1 / 100), f"{name} at stock is no candidate for failure"


def test_voltage_needed_rises_faster_than_linearly_with_clock() -> None:
    for seed in range(20):
        one = machine(seed)
        truth, needed = Truth(one), []
        for ratio in (40, 43, 46, 49):
            at = one.rig.stock.replacing("core_ratio", ratio).replacing("core_voltage_mv", 1350)
            low_w = at.replacing("power_limit_w", 300).replacing("current_limit_a", 400)
            knob = one.rig.knob("core_voltage_mv")
            needed.append(knob.between(truth.edge(low_w, knob, strain=strained(LoadKind.SOLO))))
        steps = np.diff(needed)
        assert all(steps > 0)
        assert all(np.diff(steps) > 0), needed


def test_retention_halves_every_ten_degrees() -> None:
    one = machine()
    knob, place = one.rig.knob("t_refi_nck"), [str(c.weak) for c in one.columns].index("retention")
    counts = np.arange(9360, 65535, 50, dtype=float)
    values = one.along(one.rig.stock, {knob.name: counts})

    def holds(module_c: float) -> float:
        modules = np.full((len(counts), 2), module_c)
        rates = one.log_hazards(values, strained(LoadKind.RETAIN), np.full(len(counts), 50.0), modules)[place]
        return float(np.interp(0.0, rates, counts))

    assert holds(45.0) / holds(55.0) == pytest.approx(2.0, rel=0.02)
    assert holds(35.0) / holds(45.0) > 1.0


def test_a_higher_rate_out_of_step_can_be_slower() -> None:
    one = machine()
    in_step, out, faster = (
        bandwidth(one, one.rig.stock.replacing("data_rate_mts", rate)) for rate in (4800, 5000, 5800)
    )
    assert out < in_step < faster


def test_margin_in_steps_times_slope_gives_the_stated_hazard_ratio() -> None:
    """One rank's signal alone: each sharpness of margin divides the hazard by e."""
    one = machine()
    place = [str(c.weak) for c in one.columns].index("signal")
    rates = np.array([6000.0, 6000.0 + 2 * one.parts["signal_sharpness_mts"]])
    values = one.along(one.rig.stock, {"data_rate_mts": rates})
    logs = one.log_hazards(values, MARCH, np.full(2, 45.0), np.full((2, 2), 45.0))[place]
    assert logs[1] - logs[0] == pytest.approx(2.0, abs=1e-9)


def test_one_kind_of_load_alone_misses_what_another_finds() -> None:
    """At the edge by all loads together: in how many of 40 machines and knobs each load alone would have held."""
    moves = {"t_rcd_nck": 0, "t_refi_nck": 0, "core_offset_mv": 0, "data_rate_mts": 0, "t_xp_nck": 0}
    kinds = [kind for kind in LoadKind if kind is not LoadKind.PROGRAM and not kind.declared.on_cards]
    missed = dict.fromkeys(kinds, 0)
    for seed in range(8):
        one = machine(seed)
        truth = Truth(one)
        for name in moves:
            knob = one.rig.knob(name)
            edges = {kind: truth.edge(one.rig.stock, knob, strain=strained(kind)) for kind in kinds}
            for kind in kinds:
                missed[kind] += edges[kind] > min(edges.values()) + 0.5
    assert all(8 <= count < 40 for count in missed.values()), missed
    found_by = {kind: 40 - count for kind, count in missed.items()}
    assert found_by[LoadKind.MARCH] < 25, "march is no all-rounder"


def test_each_knob_does_something_or_stands_in_the_table_of_those_that_do_not() -> None:
    for name in ("ridge", "hut", "sled"):
        one = machine(5, name)
        for knob in one.rig.knobs:
            effect = effect_of(one, knob)
            listed = (name, knob.name) in EFFECTS or knob.name == one.firmware.not_taken
            assert (effect == NONE) == listed, f"{name}: {knob.name}: {effect}"


def test_too_much_and_too_little_of_a_supply_are_both_edges() -> None:
    for name, stock in (("memory_vdd_mv", 1100), ("controller_mv", 1100), ("io_mv", 1100), ("termination_ohm", 48)):
        one = machine()
        knob = one.rig.knob(name)
        at = one.rig.stock.replacing(name, stock)
        edge = int(Truth(one).edge(at, one.rig.knob("data_rate_mts")))
        at = at.replacing("data_rate_mts", one.rig.knob("data_rate_mts").at_strain(edge))
        if name == "memory_vdd_mv":
            at = at.replacing("memory_vddq_mv", 1200)
        window = Truth(one).window(at, knob)
        assert window.low is not None, name
        assert window.high is not None, name
        assert window.low < knob.strain(stock) < window.high


def test_what_is_not_used_in_a_refresh_mode_does_not_fail_there() -> None:
    one = machine()
    truth, tight = Truth(one), one.rig.stock.replacing("t_rfc2_nck", 200)
    assert truth.log_rate(tight) < -6
    assert truth.log_rate(tight.replacing("refresh_fineness", 2)) > 2


def test_automatic_values_are_safe_and_values_below_their_minima_have_no_effect() -> None:
    one = machine()
    truth, fast = Truth(one), one.rig.stock.replacing("data_rate_mts", 6000)
    relaxed = fast
    for name in ("t_cl_nck", "t_rcd_nck", "t_rp_nck", "t_rfc1_nck"):
        relaxed = relaxed.replacing(name, AUTO)
    assert one.values(relaxed)["t_rcd_nck"][0] == 49, "16.25 ns as at 4800, in clocks of 6000"
    assert truth.log_rate(relaxed) <= truth.log_rate(fast)
    assert truth.log_rate(one.rig.stock.replacing("t_rc_nck", 60)) == truth.log_rate(one.rig.stock)


def test_what_nobody_knows_of_a_rig_is_as_it_comes() -> None:
    """A machine taken in where nothing could be read, and knobs of a board's own that say no default."""
    rig = ridge()
    bare = tuple(replace(knob, default=None) for knob in rig.knobs)
    unknown = Setpoint.of({knob.name: UNKNOWN for knob in rig.knobs})
    for knobs in (rig.knobs, bare, rig.knobs[:3]):
        state = replace(machine().state)
        truth = Truth(Machine(replace(rig, knobs=knobs, machine=None, cores=None, memory_bytes=None), state))
        assert truth.log_rate(unknown) < -4
        assert truth.starts(unknown)


def test_less_voltage_is_cooler_and_no_slower() -> None:
    one = machine(5, "hut")
    down = one.rig.stock.replacing("core_offset_mv", -60)
    hot, cool = (one.warmed(one.values(at), strained(LoadKind.TRANSFORM))[0][0] for at in (one.rig.stock, down))
    assert cool < hot - 2
    assert Truth(one).log_rate(down, strained(LoadKind.TRANSFORM)) > Truth(one).log_rate(
        one.rig.stock, strained(LoadKind.TRANSFORM)
    )


@pytest.mark.parametrize("kind", ["early", "flat", "drifting", "frail", "soft"])
def test_models_against_ours_differ_in_what_they_say(kind: str) -> None:
    usual, other = machine(3), machine(3, kind=kind)
    assert usual.parts.drawn == other.parts.drawn, "the same parts"
    assert usual.manners != other.manners
    easy = usual.rig.stock.replacing("data_rate_mts", 5600)
    rates = [float(one.log_rates(one.values(easy), MARCH)[0]) for one in (usual, other)]
    assert (rates[1] > rates[0] + 1) == (kind == "flat")


def test_modules_go_where_they_are_moved_and_pulling_one_is_felt() -> None:
    rig: Rig = sled()
    state = State(population("field-ddr4"), 7, state_of(scenario("sled"), rig).begun_utc)
    assert rig.machine is not None
    modules = rig.machine.modules
    swapped = tuple(replace(one, serial=other.serial) for one, other in zip(modules, modules[::-1], strict=True))
    moved = replace(rig, machine=replace(rig.machine, modules=swapped))
    whole, other = Machine(rig, state), Machine(moved, state)
    assert [one.parts.lane for one in whole.seated] == [one.parts.lane for one in other.seated[::-1]]
    alone = replace(
        rig,
        machine=replace(
            rig.machine, modules=tuple(replace(one, size_bytes=0) if one.slot != "A1" else one for one in modules)
        ),
    )
    lone = Machine(alone, state)
    assert lone.memory_bytes == whole.memory_bytes // 4
    knob = rig.knob("data_rate_mts")
    assert Truth(lone).edge(rig.stock, knob) > Truth(whole).edge(rig.stock, knob), "one module asks less of the bus"
    assert bandwidth(lone, rig.stock) < 0.6 * bandwidth(whole, rig.stock)


def test_the_truth_knows_culprits_and_faulty_parts() -> None:
    rig = ridge()
    state = state_of(scenario("ridge"), rig)
    state.faults = (Fault(FaultKind.CORE, "5"),)
    truth = truth_of(rig, state)
    (worst, rate), *_ = truth.culprits(rig.stock.replacing("core_offset_mv", -40), strained(LoadKind.TRANSFORM))
    assert worst == "core 5"
    assert rate > 0
    assert truth.faults() == ("weak-core 5: a core that needs more voltage than the others",)
    assert k("edge_rate") == 1.0
