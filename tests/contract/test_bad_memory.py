"""Every load over memory on bad memory: each word takes two values a lap, no fault is passed over or never ends."""

from dataclasses import replace

import pytest

from tenaz.core.loads.plan import DataKind, LoadKind, LoadPlan, MarchMode
from tenaz.loads.kinds import disturbing
from tests.doors.bad_memory import Fault, lost_writes, run_on, stuck, stuck_line

BLOCK_BYTES = 8 * 2**20
LOADS = {
    "march": LoadPlan(LoadKind.MARCH),
    "ss in blocks": LoadPlan(LoadKind.MARCH, mode=MarchMode.BLOCKS, test="SS"),
    "hash": LoadPlan(LoadKind.MARCH, data=DataKind.HASH),
    "checker": LoadPlan(LoadKind.CHECKER),
    "permute": LoadPlan(LoadKind.PERMUTE),
    "copy": LoadPlan(LoadKind.COPY),
    "retain": LoadPlan(LoadKind.RETAIN, wait_s=0.1),
    "disturb": LoadPlan(LoadKind.DISTURB),
}
AT = 5 * 2**20 + 8 * 4321
LAPS = 2
"""What the last lap wrote, the next finds: two laps, or what a lap verifies at its own end."""

FAULTS: dict[str, Fault] = {
    "a cell that is stuck at 0": stuck(AT, 37, 0),
    "a cell that is stuck at 1": stuck(AT, 12, 1),
    "a line that is stuck at 1": stuck_line(21, 1, 1 << 15),
}


@pytest.fixture(params=list(LOADS))
def plan(request: pytest.FixtureRequest, monkeypatch: pytest.MonkeyPatch) -> LoadPlan:
    # Faults here are of cells, not of neighbours: reading these an eighth as often asks the same.
    monkeypatch.setattr(disturbing, "CALLS_A_VICTIM", 2)
    laps = 1 if request.param == "disturb" else LAPS
    return replace(LOADS[request.param], size_bytes=BLOCK_BYTES, workers=1, laps=laps, stop_at_first_error=False)


@pytest.mark.parametrize("fault", list(FAULTS))
def test_a_fault_is_found_and_never_keeps_a_load_from_ending(plan: LoadPlan, fault: str) -> None:
    if plan.kind is LoadKind.DISTURB and fault != "a cell that is stuck at 0":
        pytest.skip("its laps are long, and it looks at values as the others do")
    line = run_on(replace(plan, laps=LAPS), 120.0, FAULTS[fault])
    wrong = line.told["mismatch"]
    assert wrong, f"{fault} was passed over"
    assert line.told["done"][0]["laps"] == LAPS, "it ended by its laps, not because it was stopped"
    bits = {bit for one in wrong for bit in range(64) if (one["expected"] ^ one["read"]) >> bit & 1}
    assert bits in ({37}, {12}, {21})


def test_writes_that_are_lost_are_found(plan: LoadPlan) -> None:
    line = run_on(replace(plan, laps=LAPS), 120.0, lost_writes(AT // 4096 * 4096, 4096))
    assert len({one["address"] // 4096 for one in line.told["mismatch"]}) == 1


def test_each_word_takes_two_values_a_lap_and_all_is_verified(plan: LoadPlan) -> None:
    if plan.kind is LoadKind.DISTURB:
        plan = replace(plan, laps=LAPS)
    looked_at = tuple(range(0, BLOCK_BYTES, BLOCK_BYTES // 64 + 8))
    line = run_on(plan, 120.0, looked_at=looked_at)
    assert not line.told["mismatch"]
    assert not line.told["unchecked"]
    assert min(len(line.values[offset]) for offset in looked_at) >= 2
    assert line.told["done"][0]["covered"] == 1.0


def test_what_was_not_read_after_it_was_strained_is_not_covered() -> None:
    def covered(plan: LoadPlan, most_s: float) -> float:
        return float(run_on(replace(plan, size_bytes=BLOCK_BYTES, workers=1), most_s).told["done"][0]["covered"])

    assert covered(LoadPlan(LoadKind.RETAIN, wait_s=60.0), 0.7) == 0.0, "it waited, and read nothing"
    once = covered(LoadPlan(LoadKind.RETAIN, wait_s=0.5), 0.8)
    assert once == 0.5, "each value is to be held through a wait"
    assert covered(LoadPlan(LoadKind.DISTURB), 0.4) < 1.0, "only victims' pages were looked at"
