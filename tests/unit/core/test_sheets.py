"""Whole sheets: carried onto a rig's grids, steps with more than one culprit, clocks in step, notes."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.clock_tree import (
    best_stand,
    clocks_in_brief,
    clocks_in_words,
    in_step_rates,
    nearest_in_step,
    stand,
)
from tenaz.core.knobs.setpoint import AUTO
from tenaz.core.knobs.timings.clocks import MemoryClock, Rounding
from tenaz.core.knobs.timings.minima import TimingFault, check_timings
from tenaz.core.knobs.timings.rules import RULES, Scaling
from tenaz.core.rigs.notes import NoteKind, parse_note
from tenaz.core.rigs.rescaled import rescaled_setpoint
from tenaz.core.rigs.steps import step_between
from tenaz.demo.hut import hut
from tenaz.demo.ridge import ridge
from tenaz.demo.sled import sled
from tenaz.pictures.sheet.model import sheet_picture

RIGS = {rig.name: rig for rig in (ridge(), hut(), sled())}


@given(st.data(), st.sampled_from(sorted(RIGS)), st.sampled_from(Rounding))
def test_a_sheet_carried_on_a_rig_stands_on_its_grids_and_keeps_its_minima(
    data: st.DataObject, name: str, rounding: Rounding
) -> None:
    rig = RIGS[name]
    rates = [rate for rate in rig.knob("data_rate_mts").grid.values() if rate <= rig.knob("data_rate_mts").most]
    to_mts = data.draw(st.sampled_from(rates))
    done = rescaled_setpoint(rig, rig.stock, to_mts, rounding)
    carried, at_an_end = done.setpoint, {one.name for one in done.out_of_reach}
    rig.check(carried, reason="carried")
    assert [r for r in check_timings(carried.numbers(), rig.family) if r.name not in at_an_end] == []
    before, after = MemoryClock(rig.stock.number("data_rate_mts")), MemoryClock(to_mts)
    for timing, rule in RULES[rig.family].items():
        if rule.stays(rig.stock.numbers().get(timing, 0)) or timing not in carried.numbers():
            continue
        if rule.scaling is not Scaling.LONGEST and timing not in at_an_end:
            lost_ns = before.ns(rig.stock.number(timing)) - after.ns(carried.number(timing))
            assert lost_ns <= (0 if rounding is Rounding.CAUTIOUS else after.ns(1)) + 1e-9, timing
    others = {c.knob for c in carried.changes_from(rig.stock)} - RULES[rig.family].keys() - {"data_rate_mts"}
    assert others == set(), "what is no timing stays"


@pytest.mark.parametrize(
    ("rig", "tight", "to_mts", "out_of_reach"),
    [
        ("ridge", {}, 8000, set()),
        ("ridge", {"t_cl_nck": 60, "t_cwl_nck": 58}, 8000, {"t_cl_nck", "t_cwl_nck"}),
        ("ridge", {"t_refi_nck": 2500}, 4000, set()),
        ("ridge", {"t_refi_nck": 2300}, 4000, {"t_refi_nck"}),
        ("hut", {}, 3200, set()),
        ("hut", {}, 5000, {"t_cl_nck", "t_cwl_nck"}),
    ],
)
def test_what_a_grid_cannot_hold_is_told_with_what_was_asked(
    rig: str, tight: dict[str, int], to_mts: int, out_of_reach: set[str]
) -> None:
    stock = RIGS[rig].stock
    for name, value in tight.items():
        stock = stock.replacing(name, value)
    done = rescaled_setpoint(RIGS[rig], stock, to_mts)
    assert {one.name for one in done.out_of_reach} == out_of_reach
    before, after = MemoryClock(stock.number("data_rate_mts")), MemoryClock(to_mts)
    for one in done.out_of_reach:
        asked_ns = before.ns(stock.number(one.name))
        assert abs(after.ns(one.least_nck) - asked_ns) <= after.ns(2), "what was asked keeps its time"
        assert "asked: this sheet does not keep its times at that rate" in one.text
    picture = sheet_picture(RIGS[rig], done.setpoint, stock, also=done.out_of_reach)
    marked = {row.name for row in picture.rows if row.remark and row.remark.standing is TimingFault.OUT_OF_REACH}
    assert marked == out_of_reach
    assert done.setpoint["t_rfc1_nck"] == -(-stock.number("t_rfc1_nck") * to_mts // before.rate_mts // 4) * 4


def test_a_sheet_on_auto_or_beyond_the_grid_cannot_be_carried() -> None:
    rig = RIGS["ridge"]
    with pytest.raises(Refused, match="on auto"):
        rescaled_setpoint(rig, rig.stock.replacing("data_rate_mts", AUTO), 5200)
    with pytest.raises(Refused, match="not on its grid"):
        rescaled_setpoint(rig, rig.stock, 3250)
    assert rescaled_setpoint(rig, rig.stock, 5250).setpoint["data_rate_mts"] == 5250, "an odd rate is one"


@pytest.mark.parametrize(
    ("moves", "told"),
    [
        ({"data_rate_mts": 5000}, ""),
        ({"data_rate_mts": 5000, "t_cl_nck": 38}, r"2 knobs at once \(data rate, tCL\)"),
        ({"data_rate_mts": 5000, "memory_vdd_mv": 1150}, "2 knobs at once"),
        ({"t_cl_nck": 38, "controller_ratio": 2}, "memory and clocks together"),
        ({"t_cl_nck": 38, "t_of_another_board_nck": 3}, r"tCL, t_of_another_board_nck"),
    ],
)
def test_a_step_with_more_than_one_culprit_is_warned_of(moves: dict[str, int], told: str) -> None:
    rig, after = RIGS["ridge"], RIGS["ridge"].stock
    for name, value in reversed(moves.items()):
        after = after.replacing(name, value)
    step = step_between(rig, rig.stock, after)
    assert [change.knob for change in step.changes] == list(moves), "in the order of the firmware"
    assert bool(step.warning) == bool(told)
    assert re.search(told, step.warning)


def test_the_clock_tree_tells_which_rates_run_in_step() -> None:
    platform = RIGS["hut"].platform
    assert platform is not None
    rates = list(RIGS["hut"].knob("data_rate_mts").grid.values())
    here = stand(platform, 3200, 1)
    assert (here.controller_mhz, here.fabric_mhz, here.in_step, here.crossing_ns) == (1600, 1600, True, 0)
    assert not stand(platform, 3200, 1, 1500).in_step
    halved = stand(platform, 4000, 2)
    assert (halved.controller_mhz, halved.in_step) == (1000, True)
    assert best_stand(platform, 4400).controller_ratio == 2, "beyond the fabric's reach only the half runs in step"
    assert max(in_step_rates(platform, rates)) == 3800
    assert nearest_in_step(platform, rates, 2666) == (2600, 2800)
    words = clocks_in_words(platform, stand(platform, 4400, 1), rates)
    assert "out of step: +" in words
    assert "3800 below" in words
    assert "this rate at 1:2" in words
    assert clocks_in_brief(platform, here, rates) == "controller and fabric in step at 1:1"
    assert clocks_in_brief(platform, stand(platform, 4400, 1), rates).endswith("ns out of step · in step 3800")


@pytest.mark.parametrize(
    ("typed", "kind", "text", "follows"),
    [
        ("loose: two less", NoteKind.LOOSE, "two less", True),
        ("Floor", NoteKind.FLOOR, "", False),
        ("locked by the board", NoteKind.LOCKED, "by the board", False),
        ("ask the owner", NoteKind.FREE, "ask the owner", True),
    ],
)
def test_a_note_begins_with_its_kind_or_is_free(typed: str, kind: NoteKind, text: str, follows: bool) -> None:
    note = parse_note("t_cl_nck", 40, typed)
    assert (note.kind, note.text, note.open) == (kind, text, follows)
