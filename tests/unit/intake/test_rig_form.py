"""A rig filled in by hand."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.base.tolerance import Tolerance
from tenaz.core.knobs.setpoint import AUTO, UNKNOWN
from tenaz.core.machine.machine import MemoryModule
from tenaz.core.machine.slots import parse_slots, show_slots
from tenaz.core.rigs.rig import GUARANTEED, OWN, BenchKind
from tenaz.demo.ridge import ridge
from tenaz.intake.rig_form import WrongEntry, blank_rig, filled_in, texts_of


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
        ("hours_march", "-1", "number of hours"),
        ("sample_period_s", "0.01", "0.2 to 60"),
        ("slots", "A2 24 GiB DDR5 LQ-24 rated fast", "slot A2: 'rated'"),
        ("memory", "plenty", "size in GiB"),
    ],
)
def test_a_line_that_cannot_be_taken_is_named_with_what_would_do(key: str, text: str, words: str) -> None:
    with pytest.raises(WrongEntry, match=words) as wrong:
        filled_in(ridge(), {**texts_of(ridge()), key: text})
    assert wrong.value.key == key


@pytest.mark.parametrize(("name", "kind"), [("", "DDR4"), ("hut", "paper"), ("x" * 81, "DDR5")])
def test_what_is_no_rig_is_refused(name: str, kind: str) -> None:
    with pytest.raises(Refused):
        blank_rig(name, kind)


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
