"""Faulty parts: each leaves a print or a pattern of its own, and goes away with what takes it away."""

import statistics
from dataclasses import dataclass, field, replace

import pytest

from tenaz.benches.simulated.bench import simulated_bench
from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan, LoadReport, Mismatch, MismatchKind
from tenaz.core.parts.acts import Worked, work
from tenaz.core.rigs.rig import Rig
from tenaz.demo.sled import sled
from tenaz.simulated.acts import fitting_now, follow
from tenaz.simulated.machine import LoadMix, Machine
from tenaz.simulated.made.faults import Fault, FaultKind, parse_fault
from tenaz.simulated.made.scenarios import scenario, state_of
from tenaz.simulated.state import State
from tenaz.simulated.truth import Truth
from tests.unit.benches.test_simulated import Watch

FAULTS = {
    FaultKind.REGION: "2262", FaultKind.ROW: "2262", FaultKind.LANE: "2262", FaultKind.SLOT: "B1", FaultKind.CORE: "4",
    FaultKind.SUPPLY: "", FaultKind.COOLER: "", FaultKind.LYING: "", FaultKind.FROZEN: "", FaultKind.CONTACT: "B1",
    FaultKind.CHANNEL: "B", FaultKind.CONTROLLER: "", FaultKind.REGULATOR: "",
}  # fmt: skip
BATTERY = tuple(
    LoadPlan(kind, duration_s=3 * 3600.0, share=0.9, stop_at_first_error=False)
    for kind in (LoadKind.MARCH, LoadKind.RETAIN, LoadKind.TRANSFORM, LoadKind.PULSE)
)


@dataclass
class Day:
    """What a day with the battery showed."""

    wrong: list[Mismatch] = field(default_factory=list)
    outcomes: list[tuple[LoadKind, Outcome]] = field(default_factory=list)
    temperatures_c: list[float] = field(default_factory=list)
    clocks_mhz: list[float] = field(default_factory=list)
    rails_v: list[float] = field(default_factory=list)
    hidden: int = 0


def work_on(rig: Rig, state: State, text: str) -> tuple[Rig, Worked]:
    """Hands at the parts, felt by the machine."""
    done = work(fitting_now(rig, state), rig.cores or 1, text)
    follow(state, done.fitting)
    return done.fitting.into(rig), done


def faulty(*faults: Fault) -> tuple[Rig, State]:
    rig = sled()
    state = state_of(scenario("sled"), rig)
    state.faults = faults
    return rig, state


def spend_a_day(rig: Rig, state: State) -> Day:
    day, bench = Day(), simulated_bench(rig, state)
    for plan in BATTERY * 4:
        bench.setting.set(rig.stock, rig.stock)
        if bench.setting.boot().move not in (Move.CAME_UP, Move.CAME_UP_RETRAINED):
            continue
        day.hidden += any(not one.agrees for one in bench.reading.read_back(rig.stock))
        watch = Watch(bench)
        report = bench.loading.load(plan, watch)
        assert isinstance(report, LoadReport)
        day.wrong += report.mismatches
        day.outcomes.append((plan.kind, report.outcome))
        day.rails_v += [one for one in watch.of("simboard in1") if one is not None]
        if plan.kind is LoadKind.TRANSFORM:
            day.temperatures_c += [one for one in watch.of("processor") if one is not None]
            day.clocks_mhz += [one for one in watch.of("clock 0") if one is not None]
    return day


def pattern(day: Day, machine: Machine) -> tuple[object, ...]:
    """What stands out, in coarse words."""
    cells = [machine.map.cell(one.physical) for one in day.wrong if one.physical is not None]
    stored = [one.kind is MismatchKind.STORED for one in day.wrong]
    lanes = {lane for one in day.wrong if one.address for lane in one.wrong_bits}
    hot = max(day.temperatures_c, default=0.0)
    down = [outcome for _, outcome in day.outcomes if outcome.machine_went_down]
    return (
        "stored"
        if stored and sum(stored) > 0.5 * len(stored)
        else "moving"
        if cells
        else "computed"
        if day.wrong
        else "",
        "one row" if cells and len({cell.row for cell in cells}) == 1 else "",
        "one module" if cells and len({cell.module for cell in cells}) == 1 else "",
        "one channel" if cells and len({machine.seated[cell.module].channel for cell in cells}) == 1 else "",
        "sags" if day.rails_v and min(day.rails_v) < 11.95 else "",
        "one core" if day.wrong and len({one.core for one in day.wrong if not one.address}) == 1 else "",
        "few lanes" if lanes and len(lanes) <= 4 else "a byte" if lanes and len(lanes) <= 8 else "",
        "restarts" if len(down) >= 2 and not day.wrong else "",
        "hidden" if day.hidden else "",
        "hot" if hot > 80 else "flat" if len(set(day.temperatures_c)) == 1 else "cold" if hot < 45 else "",
        "slow" if day.clocks_mhz and min(day.clocks_mhz) < 3300 else "",
    )


def test_every_fault_leaves_a_pattern_that_differs_from_the_others() -> None:
    patterns = {}
    for kind, where in FAULTS.items():
        rig, state = faulty(Fault(kind, where))
        patterns[kind] = pattern(spend_a_day(rig, state), Machine(rig, state))
    rig, state = faulty()
    patterns["none"] = pattern(spend_a_day(rig, state), Machine(rig, state))
    assert len(set(patterns.values())) == len(patterns), "\n".join(f"{k}: {v}" for k, v in patterns.items())


def at_interval(t_refi_nck: int) -> tuple[Rig, State]:
    rig, state = faulty()
    state.entered = state.in_force = dict(rig.stock.replacing("t_refi_nck", t_refi_nck).items_by_name)
    return rig, state


def test_a_row_hammered_fails_near_not_far() -> None:
    rig, state = at_interval(44_900)
    bench, machine = simulated_bench(rig, state), Machine(rig, state)
    hammering, away = LoadPlan(LoadKind.DISTURB, duration_s=8 * 3600.0, stop_at_first_error=False), list[float]()
    for _ in range(4):
        found = bench.loading.load(hammering, Watch()).mismatches
        cells = [machine.map.cell(one.physical) for one in found if one.physical is not None]
        for module in range(4):
            rows = [cell.row for cell in cells if cell.module == module]
            away += [abs(row - statistics.median(rows)) for row in rows]
    assert len(away) > 20
    near = sum(one <= 4 for one in away)
    assert near >= 0.9 * len(away), "two rows either way of the one that is opened; a weak cell among them is chance"


def test_weak_cells_repeat_at_their_place() -> None:
    bench = simulated_bench(*at_interval(57_000))
    waiting = LoadPlan(LoadKind.RETAIN, duration_s=8 * 3600.0, share=0.9, stop_at_first_error=False)
    found = [one for _ in range(6) for one in bench.loading.load(waiting, Watch()).mismatches]
    lines = [one.physical // 64 for one in found if one.physical is not None]
    assert len(lines) > 20
    assert len(set(lines)) < len(lines) / 2


@pytest.mark.parametrize(
    ("fault", "acts", "cured"),
    [
        (Fault(FaultKind.COOLER), ["clean"], True),
        (Fault(FaultKind.SUPPLY), ["supply"], True),
        (Fault(FaultKind.CONTACT, "B1"), ["reseat B1", "reseat B1"], True),
        (Fault(FaultKind.REGION, "2262", 5.0), ["reseat B1"], False),
        (Fault(FaultKind.REGION, "2262", 5.0), ["replace B1"], True),
        (Fault(FaultKind.SLOT, "B1"), ["replace B1"], False),
        (Fault(FaultKind.SLOT, "B1"), ["pull B1"], True),
        (Fault(FaultKind.CORE, "4"), ["off 4"], True),
        (Fault(FaultKind.LANE, "2262"), ["move B1 A2"], False),
        (Fault(FaultKind.CHANNEL, "B"), ["replace B1", "replace B2"], False),
        (Fault(FaultKind.CHANNEL, "B"), ["pull B1; pull B2"], True),
        (Fault(FaultKind.CONTROLLER), ["alone A1", "replace A1"], False),
        (Fault(FaultKind.REGULATOR), ["supply"], False),
        (Fault(FaultKind.REGION, "2262", 5.0), ["fan on"], True),
    ],
)
def test_what_hands_do_takes_away_what_it_can(fault: Fault, acts: list[str], cured: bool) -> None:
    def hardest() -> float:
        kinds = (LoadKind.MARCH, LoadKind.RETAIN, LoadKind.TRANSFORM, LoadKind.PULSE)
        truth = Truth(Machine(rig, state))
        return max(truth.log_rate(at, LoadMix((kind,), (0.9,))) for kind in kinds)

    rig, state = faulty(fault)
    at = rig.stock.replacing("core_offset_mv", -25) if fault.kind is FaultKind.CORE else rig.stock
    before, hot = hardest(), Machine(rig, state).network.cooler_k_per_w
    for act in acts:
        rig, done = work_on(rig, state, act)
        assert done.minutes > 0
    if fault.kind is FaultKind.COOLER:
        assert Machine(rig, state).network.cooler_k_per_w < hot / 2
    else:
        assert (hardest() < before - 1.0) == cured


@pytest.mark.parametrize(
    ("act", "told"),
    [
        ("", "type one of: move A2 B1"),
        ("polish A2", "'polish A2' is nothing that is done to parts"),
        ("pull", "pull: type it like: pull A2"),
        ("pull Z9", "there is no slot Z9; there are A1, A2, B1, B2"),
        ("move A1 A1", "sits in A1 already"),
        ("fit 9 A1", "no module 9 was laid aside; there are: none"),
        ("off 12", "there is no core 12; there are 0 to 5"),
    ],
)
def test_what_cannot_be_done_says_what_can(act: str, told: str) -> None:
    rig, state = faulty()
    with pytest.raises(Refused, match=told):
        work_on(rig, state, act)


def test_modules_are_laid_aside_and_fitted_again_and_one_core_stays_on() -> None:
    rig, state = faulty()
    for act in ("alone A2", "fit 2260 B2"):
        rig, _ = work_on(rig, state, act)
    assert rig.machine is not None
    assert [(one.slot, one.serial) for one in rig.machine.modules if one.fitted] == [("A2", "2261"), ("B2", "2260")]
    with pytest.raises(Refused, match="slot B2 holds a module already: pull it first"):
        work_on(rig, state, "fit 2262 B2")
    for core in range(5):
        work_on(rig, state, f"off {core}")
    with pytest.raises(Refused, match="one core must stay on"):
        work_on(rig, state, "off 5")


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "there are: weak-region, bad-row"),
        ("bad-lane", "bad-lane : give a module, like: bad-lane B2"),
        ("bad-lane Q7", "no module sits in Q7; there are modules in A1, A2, B1, B2"),
        ("bad-slot Q7", "there is no slot Q7"),
        ("weak-core 6", "there is no core 6; there are 0 to 5"),
        ("weak-core three", "there is no core three"),
        ("dusty-cooler x11", "strength 11 is outside 0.1 to 10 times the usual"),
        ("dusty-cooler A1", "give no place"),
    ],
)
def test_a_fault_that_cannot_be_is_refused(text: str, told: str) -> None:
    rig, _ = faulty()
    assert rig.machine is not None
    slots = tuple(one.slot for one in rig.machine.modules)
    with pytest.raises(Refused, match=told):
        parse_fault(text, {one.slot: one.serial for one in rig.machine.modules}, slots, 6)
    assert parse_fault("bad-lane A1 x2", {"A1": "2260"}, slots, 6) == Fault(FaultKind.LANE, "2260", 2.0)
    assert replace(Fault(FaultKind.LANE, "2260", 2.0), strength=1.0).show().startswith("bad-lane 2260: a data lane")
