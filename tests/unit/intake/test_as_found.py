"""What a machine came with is taken as it is, on the catalogue's grid or not, and is what it is asked for again."""

from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.benches.here import FromTheMachine
from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.bracket import bracket_of
from tenaz.core.knobs.knob import AboveCeiling, Knob, NeedsReason
from tenaz.core.knobs.readings import in_force_by, reading_of
from tenaz.core.knobs.timings.clocks import MemoryClock
from tenaz.core.machine.machine import Machine, MemoryModule
from tenaz.core.machine.parts_told import same_parts
from tenaz.core.ports.bench import StationReport
from tenaz.core.rigs.notes import NoteKind, ValueNote, refuse_locked
from tenaz.core.rigs.rescaled import rescaled_setpoint
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.record_text import parse_record
from tenaz.engine.confirming import confirm
from tenaz.intake.new_rigs import rig_from
from tenaz.journal.store import Store
from tenaz.papers.setpoint_files import Sheet, read_sheet, sheet_to_csv, sheet_to_toml
from tests.make import HOUR, RIG, SteppedClock

SOLD = {
    "DDR3": (800, 3600), "DDR4": (1333, 6000), "DDR5": (3200, 10400), "LPDDR4": (533, 5000), "LPDDR5": (533, 11500),
}  # fmt: skip
"""From where to where modules and boards go, and beyond what is sold."""
VOLTAGES_MV = {
    "DDR3": (1200, 2000), "DDR4": (1000, 1750), "DDR5": (900, 1700), "LPDDR4": (950, 1300), "LPDDR5": (900, 1250),
}  # fmt: skip


def rates_of(kind: str) -> list[int]:
    """Every multiple of 100 and of 133⅓ MT/s, cut and rounded as firmware, standards and people do."""
    low, high = SOLD[kind]
    thirds = {k for k in range(3 * low - 2, 3 * high + 1) if k % 300 == 0 or k % 400 == 0}
    return sorted({rate for k in thirds for rate in (k // 3, -(-k // 3))} - {0})


def machine(kind: str, rate_mts: int, voltage_mv: int | None) -> Machine:
    module = MemoryModule("A1", 8 << 30, kind, present_mts=rate_mts, voltage_mv=voltage_mv)
    return Machine(modules=(module,), memory_bytes=8 << 30)


def taken_through(rig: Rig, knob: Knob, value: int, same: Sequence[int], tmp_path: Path) -> None:
    """A value that a machine came with: confirmed in each of its spellings and in no other, tried, judged, exported and
    read back.
    """
    asked = rig.stock.number(knob.name)
    assert asked == value if knob.unit == "mV" else abs(asked - value) <= 1
    rig.check(rig.stock)
    assert all(reading_of(knob, asked, one).agrees for one in same)
    assert not any(reading_of(knob, asked, value + off).agrees for off in (-10, -3, 3, 10))
    assert knob.at_strain(knob.strain(asked)) == asked
    held = bracket_of(knob, [(asked, Verdict.PASS), (knob.grid.last + 1, Verdict.VOID)])
    assert held.held == asked
    assert in_force_by(rig.stock, [reading_of(knob, asked, value)]) == rig.stock, "a spelling is no other setpoint"
    for text in (sheet_to_toml(Sheet(rig.stock)), sheet_to_csv(Sheet(rig.stock), rig.knobs)):
        file = tmp_path / ("sheet.toml" if text.startswith("format") else "sheet.csv")
        file.write_text(text)
        assert read_sheet(file).setpoint[knob.name] == asked
    assert knob.parse(knob.show(asked)) == asked


@pytest.mark.parametrize("kind", SOLD)
def test_every_rate_is_taken_as_it_is_through_everything(kind: str, tmp_path: Path) -> None:
    usual = rig_from(machine(kind, SOLD[kind][0], None), "x", (BenchKind.HERE,))
    for rate_mts in rates_of(kind):
        rig = usual.came_with(
            usual.stock.replacing("data_rate_mts", usual.knob("data_rate_mts").nearest_alike(rate_mts))
        )
        thirds = MemoryClock(rate_mts).thirds_mts
        taken_through(rig, rig.knob("data_rate_mts"), rate_mts, (thirds // 3, -(-thirds // 3)), tmp_path)
        carried = rescaled_setpoint(rig, rig.stock, rig.knob("data_rate_mts").grid.values()[-2])
        assert carried.setpoint.number("data_rate_mts") > 0


@pytest.mark.parametrize("kind", SOLD)
def test_every_five_millivolts_are_taken_as_they_are_through_everything(kind: str, tmp_path: Path) -> None:
    usual = rig_from(machine(kind, SOLD[kind][1], None), "x", (BenchKind.HERE,))
    for voltage_mv in range(*VOLTAGES_MV[kind], 5):
        rig = usual.came_with(usual.stock.replacing("memory_vdd_mv", voltage_mv))
        knob = rig.knob("memory_vdd_mv")
        taken_through(rig, knob, voltage_mv, (voltage_mv,), tmp_path)
        assert knob.parse(f"{voltage_mv / 1000:.3f}") == knob.parse(f"{voltage_mv / 1000:.3f} V") == voltage_mv


@pytest.mark.parametrize(
    ("kind", "rate_mts", "voltage_mv", "family"),
    [("DDR3", 1333, 1500, "DDR3"), ("DDR4", 3467, 1355, "DDR4"), ("DDR5", 8200, 1550, "DDR5"),
     ("LPDDR4", 4267, 600, "LPDDR4"), ("LPDDR5", 7467, None, "LPDDR5"), ("DDR2", 800, 1800, "unknown"),
     ("", 400, None, "unknown")],
)  # fmt: skip
def test_what_is_read_of_a_machine_is_its_stock_and_is_confirmed_by_nobody(
    kind: str, rate_mts: int, voltage_mv: int | None, family: str
) -> None:
    rig = rig_from(machine(kind, rate_mts, voltage_mv), "x", (BenchKind.HERE,))
    assert rig.family == family
    assert voltage_mv is None or rig.stock["memory_vdd_mv"] == voltage_mv
    rig.check(rig.stock)
    rig.check_whole()
    same, other = (
        FromTheMachine(rig, lambda off=off: machine(kind, rate_mts + off, voltage_mv)).read_back(rig.stock)
        for off in (0, 200)
    )
    assert confirm(same, None)[0].move is Move.CONFIRMED
    assert [one.knob for one in other if not one.agrees] == ["data_rate_mts"]
    assert {"core_ratio", "base_clock_khz", "graphics_core_offset_mhz"} <= {knob.name for knob in rig.knobs}


def test_what_was_in_force_between_two_values_counts_and_lifts_no_ceiling(store: Store) -> None:
    rig, clock = RIG, SteppedClock()
    store.rigs.put(rig)
    odd, high = rig.stock.replacing("data_rate_mts", 6133), rig.stock.replacing("data_rate_mts", 8400)
    with pytest.raises(NeedsReason, match="6133 MT/s is not on its grid"):
        rig.check(odd)
    rig.check(odd, "the board has it so")
    begun = store.trials.begin(rig, BenchKind.HAND, odd, HOUR, clock)
    known = store.rigs.one(rig.name)
    assert 6133 in known.knob("data_rate_mts").grid
    known.check(odd)
    store.trials.move(begun, StationReport(Move.ENTERED), clock)
    past = PastTrial(high, HOUR, parse_record("held 1h"), None)
    known.check_past(past.setpoint)
    with pytest.raises(AboveCeiling):
        known.check(high, "because")
    store.afterwards.enter([(known, BenchKind.HAND, [past])], clock)
    known = store.rigs.one(rig.name)
    assert 8400 in known.knob("data_rate_mts").grid
    with pytest.raises(AboveCeiling):
        known.check(high, "because")
    with pytest.raises(Refused, match="60000 MT/s cannot have been"):
        known.check_past(rig.stock.replacing("data_rate_mts", 60000))


@pytest.mark.parametrize(
    ("one", "other", "same"),
    [
        ("A1 KIT; firmware 1", "A1 KIT 2262; firmware 1", True),
        ("A1 KIT", "A1 KIT; firmware 1", True),
        ("", "A1 KIT", True),
        ("firmware 1", "firmware 2", False),
        ("A1 KIT 2262", "A1 KIT 2263", False),
        ("A1 KIT 2262", "B1 KIT 2262", False),
        ("A1 KIT; B1 KIT", "A1 KIT", False),
        ("A1 KIT", "A1 KIT; A1 seated anew 1×", False),
        ("A1 KIT; core 3 off", "A1 KIT", False),
    ],
)
def test_what_was_not_known_then_is_no_work_on_the_parts(one: str, other: str, same: bool) -> None:
    assert same_parts(one, other) is same_parts(other, one) is same


def test_a_note_locks_what_it_says_it_locks() -> None:
    note = ValueNote("t_cl_nck", 40, NoteKind.LOCKED, "the owner asked for it")
    refuse_locked(RIG, RIG.stock, (note,))
    with pytest.raises(Refused, match="tCL is noted as locked at 40 nCK"):
        refuse_locked(RIG, RIG.stock.replacing("t_cl_nck", 38), (note,))
    refuse_locked(RIG, RIG.stock.replacing("t_cl_nck", 38), (replace(note, settled=True),))
