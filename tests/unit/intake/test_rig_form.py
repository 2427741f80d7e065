"""A rig filled in by hand."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.benches.questions import changed_lines
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.base.tolerance import Tolerance
from tenaz.core.knobs.setpoint import AUTO, UNKNOWN
from tenaz.core.loads.plan import LoadKind
from tenaz.core.machine.machine import MemoryModule
from tenaz.core.machine.slots import parse_slots, show_slots
from tenaz.core.rigs.rig import GUARANTEED, OWN, BenchKind
from tenaz.demo.ridge import ridge
from tenaz.intake.rig_form import WrongEntry, blank_rig, filled_in, texts_of
from tests.make import indexed, trial


def test_what_is_not_touched_stays_to_the_last_serial_number() -> None:
    assert filled_in(ridge(), texts_of(ridge())) == ridge()


def test_a_blank_rig_is_filled_in_line_by_line() -> None:
    rig = blank_rig("back office", "ddr4")
    assert (rig.benches, rig.machine, rig.purpose) == ((BenchKind.HAND,), None, OWN)
    assert (rig.family, rig.stock["data_rate_mts"], rig.stock["t_cl_nck"]) == ("DDR4", UNKNOWN, AUTO)
    typed = {
        "owner": "the notary", "by_eye": "a bent contact in A2", "guarantee_months": "24",
        "purpose": GUARANTEED.name, "processor_ceiling": "80/90", "cores": "8", "memory": "31.9",
        "slots": "A1 empty; A2 16 GiB DDR4 LQ-16, rated 3200, runs 2400 MT/s, 2 ranks",
        "sensors_watched": "processor, fan", "sample_period_s": "0.5", "tolerated": "2 failures in 500 h, 90 %",
    }  # fmt: skip
    rig = filled_in(rig, {**texts_of(rig), **typed})
    tolerated = Tolerance(2, 500, 0.9)
    known = replace(GUARANTEED, processor_ceiling_c=(80.0, 90.0), tolerance=tolerated)
    assert rig.purpose == known, "a known purpose brings its own along"
    assert texts_of(rig)["tolerated"] == "2 in 500, 90 %"
    assert (rig.owner, rig.guarantee_months, rig.cores, rig.sample_period_s) == ("the notary", 24, 8, 0.5)
    assert rig.sensors_watched == ("processor", "fan")
    assert rig.machine is not None
    empty, module = rig.machine.modules
    assert (empty.size_bytes, module.channel, module.ranks) == (0, "A", 2)
    assert (module.kind, module.part, module.rated_mts, module.present_mts) == ("DDR4", "LQ-16", 3200, 2400)
    came = filled_in(
        rig, {**texts_of(rig), "stock": "3466 16-18-18-36 1.355V, tREFI 13000", "hours": "march 2h, solo 30m"}
    )
    assert texts_of(came)["stock"] == "3466 16-18-18-36 1.355V"
    assert (came.stock["t_refi_nck"], came.stock.stood[:2]) == (13000, ("t_cl_nck", "t_ras_nck"))
    assert dict(came.purpose.hours_asked) == {LoadKind.MARCH: 2.0, LoadKind.SOLO: 0.5}
    board = {"clearing": "jumper, 10 s", "start_codes": "55 no memory", "also_set": "boot order stick; fans quiet",
             "part_cooling": "tower", "part_supply": "650 W, 2019", "spec": "3200", "firmware": "F7"}  # fmt: skip
    known = filled_in(came, {**texts_of(came), **board})
    assert known.also_set == ("boot order stick", "fans quiet")
    assert dict(known.parts)["supply"] == "650 W, 2019"
    assert known.machine is not None
    assert (known.machine.memory_spec_mts, known.machine.firmware) == (3200, "F7")
    assert "▸ and fans quiet" in changed_lines(known, known.stock.replacing("t_cl_nck", 15), known.stock)
    other = filled_in(known, {**texts_of(known), "kind": "LPDDR5"})
    assert (other.family, other.knob("tRFCab").name, other.stock["core_7_offset_steps"]) == ("LPDDR5", "t_rfcab_nck", 0)
    again = filled_in(rig, {**texts_of(rig), "slots": "", "memory": ""})
    assert again.machine is None, "what is taken out is unknown again"


@pytest.mark.parametrize(
    ("key", "text", "words"),
    [
        ("purpose", "", "own machine"),
        ("guarantee_months", "long", "number of months"),
        ("tolerated", "seldom", "like 1 in 1000, 95 %"),
        ("tolerated", "1 in 1000, 20 %", "confidence in percent"),
        ("processor_ceiling", "95", "warning / stop"),
        ("module_ceiling", "85 / 80", "below the stop"),
        ("hours", "march -1", "no duration"),
        ("hours", "marsh 1h", "Near it: march"),
        ("kind", "DDR9", "one of DDR3, DDR4, DDR5"),
        ("stock", "6000 fast", "no knob '6000'|none of a line"),
        ("stock", "60000 40-40-40-77", "cannot have been"),
        ("spec", "quick", "data rate in MT/s"),
        ("sample_period_s", "0.01", "0.2 to 60"),
        ("slots", "A2 24 GiB DDR5 LQ-24 rated fast", "slot A2: 'rated'"),
        ("memory", "plenty", "size in GiB"),
    ],
)
def test_a_line_that_cannot_be_taken_is_named_with_what_would_do(key: str, text: str, words: str) -> None:
    with pytest.raises(WrongEntry, match=words) as wrong:
        filled_in(ridge(), {**texts_of(ridge()), key: text})
    assert wrong.value.key == key


def test_what_auto_stood_at_is_told_later_and_no_evidence_is_lost() -> None:
    rig = blank_rig("x", "ddr4").knowing("data_rate_mts", 2400).knowing("memory_vdd_mv", 1200)
    before = trial(Outcome.HELD, rig.stock, rig="x")
    known = filled_in(rig, {**texts_of(rig), "stock": "2400 17-17-17-39 1.2V"})
    (found,) = indexed([before.on_rig_of(known.stock)]).at(known.stock)
    assert found.setpoint["t_cl_nck"] == 17


@pytest.mark.parametrize(("name", "kind"), [("", "DDR4"), ("hut", "paper"), ("x" * 81, "DDR5")])
def test_what_is_no_rig_is_refused(name: str, kind: str) -> None:
    with pytest.raises(Refused):
        blank_rig(name, kind)


@pytest.mark.parametrize(
    ("typed", "shown"),
    [
        ("2x4GiB 1600", "slot_1 4 GiB, rated 1600; slot_2 4 GiB, rated 1600"),
        ("2 × 8 ddr4-3200", "slot_1 8 GiB DDR4, rated 3200; slot_2 8 GiB DDR4, rated 3200"),
        ("A2 8GB LPDDR4X-4266", "A2 8 GiB LPDDR4X, rated 4266"),
        ("A2 DDR4", "slot A2: how large is what sits there"),
        ("A2 8 GiB DDR4 LQ dingo", "'dingo' is not understood"),
    ],
)
def test_modules_as_people_write_them(typed: str, shown: str) -> None:
    try:
        read = show_slots(parse_slots(typed))
    except Refused as refused:
        read = str(refused)
    assert shown in read


modules = st.builds(
    MemoryModule,
    slot=st.from_regex(r"[A-D][1-4]", fullmatch=True),
    size_bytes=st.none() | st.just(0) | st.integers(1, 512).map(lambda gib: gib << 30),
    kind=st.sampled_from(["", "DDR4", "DDR5"]),
    part=st.sampled_from(["", "LQ-24-6400", "LQ 16"]),
    rated_mts=st.none() | st.integers(1600, 9600),
    present_mts=st.none() | st.integers(800, 9600),
    ranks=st.none() | st.integers(1, 4),
)


@given(st.lists(modules, unique_by=lambda module: module.slot))
def test_slots_come_back_as_they_are_shown(found: list[MemoryModule]) -> None:
    with pytest.raises(Refused, match="too long for the slots"):
        parse_slots("A1 " + "9" * 100_000)
    again = parse_slots(show_slots(found), found)
    assert show_slots(again) == show_slots(found)
    for one, other in zip(found, again, strict=True):
        assert one == other or not one.fitted
