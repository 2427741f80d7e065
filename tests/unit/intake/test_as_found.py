"""What a machine came with is taken as it is, on the catalogue's grid or not, and is what it is asked for again."""

from dataclasses import replace

import pytest

from tenaz.benches.here import FromTheMachine
from tenaz.core.base.errors import Refused
from tenaz.core.machine.machine import Machine, MemoryModule
from tenaz.core.machine.parts_told import same_parts
from tenaz.core.rigs.notes import NoteKind, ValueNote, refuse_locked
from tenaz.core.rigs.rig import BenchKind
from tenaz.intake.new_rigs import rig_from
from tests.make import RIG

OLD_RATES = (1600, 1867, 2133, 2134, 2400, 2666, 2667, 2933, 3333, 3466, 3467, 3666, 3733, 4266, 4267, 5333)
NEW_RATES = (4800, 5200, 5600, 6133, 6266, 6400, 7866, 8400, 9200)


def machine(kind: str, rate_mts: int, voltage_mv: int | None) -> Machine:
    module = MemoryModule("A1", 8 << 30, kind, present_mts=rate_mts, voltage_mv=voltage_mv)
    return Machine(modules=(module,), memory_bytes=8 << 30)


@pytest.mark.parametrize(
    ("kind", "rate_mts", "voltage_mv"),
    [
        *(("DDR4", rate, voltage) for rate in OLD_RATES for voltage in (1200, 1355, 1550)),
        *(("DDR5", rate, voltage) for rate in NEW_RATES for voltage in (1100, 1105, 1435, None)),
    ],
)
def test_stock_is_what_was_read_and_is_confirmed_by_nobody(kind: str, rate_mts: int, voltage_mv: int | None) -> None:
    read = machine(kind, rate_mts, voltage_mv)
    rig = rig_from(read, "x", (BenchKind.HERE,))
    assert abs(rig.stock.number("data_rate_mts") - rate_mts) <= 1
    assert voltage_mv is None or rig.stock["memory_vdd_mv"] == voltage_mv
    rig.check(rig.stock)
    rate = rig.knob("data_rate_mts")
    assert rate.at_strain(rate.strain(rig.stock.number(rate.name))) == rig.stock[rate.name]
    for told in (rate_mts, rate_mts - 1) if rate_mts % 100 else (rate_mts,):
        read_back = FromTheMachine(rig, lambda told=told: machine(kind, told, voltage_mv)).read_back(rig.stock)
        assert all(one.agrees for one in read_back) or told != rate_mts
    other = FromTheMachine(rig, lambda: machine(kind, rate_mts - 400, voltage_mv)).read_back(rig.stock)
    assert [one.knob for one in other if not one.agrees] == ["data_rate_mts"]


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
