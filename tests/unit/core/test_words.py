"""What the trade says is understood, wherever it is typed; what means nothing says what is near it."""

from pathlib import Path

import pytest

from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadKind
from tenaz.core.machine.machine import Machine
from tenaz.core.parts.acts import ACTS, check_act
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.rigs.trade_line import is_trade_line, with_trade_line
from tenaz.core.trials.record_text import parse_record
from tenaz.core.words.finding import ALL, find, names_for
from tenaz.core.words.word import About
from tenaz.finding.symptoms import Symptom, not_understood, symptoms_in
from tenaz.intake.new_rigs import rig_from
from tenaz.intake.rig_knobs import with_cores
from tenaz.papers.glossary import glossary_text
from tenaz.papers.paper_lists import moved_values
from tenaz.tui.base.commands import BY_ACTION
from tenaz.tui.pages.strip import PAGES

GLOSSARY = Path(__file__).parents[3] / "docs" / "glossary.md"


def rig(memory: str = "DDR5") -> Rig:
    return with_cores(rig_from(Machine(), "x", (BenchKind.HAND,), memory=memory), 8)


def test_each_word_names_something_that_there_is() -> None:
    names = {family: {knob.name for knob in rig(family).knobs} for family in Family}
    knobs = set.union(*names.values()) | {"core_ratio_quarters"}
    of = {about: [word.name for word in ALL if word.about is about] for about in About}
    assert set(of[About.KNOB]) <= knobs
    assert set(of[About.LOAD]) == set(LoadKind)
    assert set(of[About.OUTCOME]) == {one.value for one in Outcome} - {"starved", "unchecked"}
    assert of[About.SYMPTOM] == list(Symptom)
    assert set(of[About.ACTION]) <= set(BY_ACTION) | {f"page {name}" for name in PAGES}
    assert of[About.ACT] == [act.word for act in ACTS]
    for about in About:
        assert len(set(of[about])) == len(of[about]), about


@pytest.mark.parametrize(
    ("typed", "knob"),
    [
        ("multiplier", "core_ratio"), ("core clock", "core_ratio"), ("memory speed", "data_rate_mts"),
        ("CAS latency", "t_cl_nck"), ("cl", "t_cl_nck"), ("refresh interval", "t_refi_nck"),
        ("row cycle", "t_rc_nck"), ("load-line calibration", "load_line_step"), ("LLC", "load_line_step"),
        ("on-die termination", "termination_ohm"), ("ODT", "termination_ohm"), ("DRAM voltage", "memory_vdd_mv"),
        ("vcore", "core_voltage_mv"), ("BCLK", "base_clock_khz"), ("RAS to CAS delay", "t_rcd_nck"),
        ("undervolt", "core_offset_mv"), ("power limit", "power_limit_w"), ("gpu clock", "graphics_core_offset_mhz"),
        ("write recovery", "t_wr_nck"), ("four activate window", "t_faw_nck"), ("trfc", "t_rfc1_nck"),
        ("command rate", "command_rate_nck"), ("drive strength", "drive_ohm"),
    ],
)  # fmt: skip
def test_a_knob_is_found_by_what_the_trade_calls_it(typed: str, knob: str) -> None:
    assert rig().knob(typed).name == knob


@pytest.mark.parametrize(
    ("typed", "kind"),
    [
        ("memory test 30m 50%", LoadKind.MARCH), ("row hammer 10m", LoadKind.DISTURB),
        ("rowhammer for 10m", LoadKind.DISTURB), ("cpu stress 1h", LoadKind.TRANSFORM),
        ("FFT L2 5m", LoadKind.TRANSFORM),
        ("single core 10m", LoadKind.SOLO), ("retention test 20m", LoadKind.RETAIN),
        ("load steps 10m", LoadKind.PULSE), ("linear algebra 10m", LoadKind.SOLVE), ("march 1h", LoadKind.MARCH),
    ],
)  # fmt: skip
def test_a_load_is_read_as_the_trade_calls_it(typed: str, kind: LoadKind) -> None:
    assert parse_load(typed).kind is kind


@pytest.mark.parametrize(
    ("typed", "outcome", "shown"),
    [
        ("blue screen 0x124 after 12m", Outcome.STOP_CODE, "stop code 12m 0x124"),
        ("black screen 5m", Outcome.RESTARTED, "restarted 5m"),
        ("shuts off after 2h", Outcome.RESTARTED, "restarted 2h"),
        ("does not start", Outcome.NO_BOOT, "no boot"),
        ("artifacts 20m 84C", Outcome.PICTURE, "picture faults 20m 84C"),
        ("crashed about 40m", Outcome.RESTARTED, "restarted about 40m"),
        ("held 1h 412 W", Outcome.HELD, "held 1h 412W"),
        ("passed 8h 61.5°C", Outcome.HELD, "held 8h 61.5C"),
        ("locked up 3m", Outcome.FROZE, "froze 3m"),
        ("errors 12m 3 errors", Outcome.ERRED, "erred 12m 3 errors"),
        ("kernel panic 1h", Outcome.STOP_CODE, "stop code 1h"),
    ],
)
def test_an_end_is_read_as_the_trade_calls_it(typed: str, outcome: Outcome, shown: str) -> None:
    record = parse_record(typed)
    assert (record.outcome, record.show()) == (outcome, shown)
    assert parse_record(shown) == record


@pytest.mark.parametrize(
    ("typed", "act"),
    [("remove A2", "pull"), ("swap A1 B1", "move"), ("take out A2", "pull"), ("repaste", "clean"), ("psu", "supply"),
     ("re-seat A2", "reseat")],
)  # fmt: skip
def test_work_on_parts_is_read_as_the_trade_calls_it(typed: str, act: str) -> None:
    assert check_act(typed)[0].word == act


@pytest.mark.parametrize(
    ("complaint", "told", "left"),
    [
        ("Blue screens twice a week, always when gaming", (Symptom.CRASH,), ("gaming",)),
        ("no blue screens, but it hangs after an hour", (Symptom.FREEZE, Symptom.WHEN_HOT), ()),
        ("artifacts and shuts off; the cat sleeps on it", (Symptom.CRASH, Symptom.ARTEFACTS), ("cat", "sleeps")),
        ("won't boot sometimes, half the RAM is missing", (Symptom.NO_START, Symptom.LESS_MEMORY), ("missing",)),
        ("", (), ()),
    ],
)
def test_a_complaint_is_understood_and_what_is_not_is_said(
    complaint: str, told: tuple[Symptom, ...], left: tuple[str, ...]
) -> None:
    assert symptoms_in(complaint) == told
    assert not_understood(complaint) == left


@pytest.mark.parametrize(
    ("line", "memory", "values"),
    [
        ("6000 30-38-38-96 1.35V", "DDR5",
         {"data_rate_mts": 6000, "t_cl_nck": 30, "t_rcd_nck": 38, "t_rp_nck": 38, "t_ras_nck": 96,
          "memory_vdd_mv": 1350, "memory_vddq_mv": 1350}),
        ("DDR4-3600 CL16-19-19-39-58 2T @ 1.35 V", "DDR4",
         {"data_rate_mts": 3600, "t_cl_nck": 16, "t_rcd_nck": 19, "t_rp_nck": 19, "t_ras_nck": 39, "t_rc_nck": 58,
          "command_rate_nck": 2, "memory_vdd_mv": 1350}),
        ("2133 MT/s 11-11-11-30-1T 1,65v", "DDR3",
         {"data_rate_mts": 2133, "t_cl_nck": 11, "t_ras_nck": 30, "command_rate_nck": 1, "memory_vdd_mv": 1650}),
        ("8200 1.55/1.50V", "DDR5", {"data_rate_mts": 8200, "memory_vdd_mv": 1550, "memory_vddq_mv": 1500}),
        ("3467 cl 16", "DDR4", {"data_rate_mts": 3466, "t_cl_nck": 16}),
    ],
)  # fmt: skip
def test_a_line_in_trade_notation_sets_a_sheet(line: str, memory: str, values: dict[str, int]) -> None:
    one = rig(memory)
    line = line.replace("@ ", "@")
    assert is_trade_line(line)
    set_to = with_trade_line(line, one, one.stock)
    assert {name: set_to[name] for name in values} == values
    assert moved_values(f"{line}, tWR 48", one, one.stock).numbers() == {**set_to.numbers(), "t_wr_nck": 48}


@pytest.mark.parametrize("line", ["6000", "march 1h", "2026-11-20", "30-38", "", "core ratio 50", "6000 fast"])
def test_what_is_no_trade_notation_is_left_alone(line: str) -> None:
    assert not is_trade_line(line)


def test_what_means_nothing_says_what_is_near() -> None:
    for ask, near in (
        (lambda: rig().knob("multiplyer"), "core_ratio"),
        (lambda: parse_load("disturbe 10m"), "disturb"),
        (lambda: parse_record("bluscreen 4m"), "stop code"),
        (lambda: check_act("rseat A2"), "reseat"),
    ):
        with pytest.raises(Refused, match=near):
            ask()
    assert find("multiplyer")[0].word.name == "core_ratio"
    assert find("zzzzqqqq") == ()
    assert names_for(About.KNOB, "CAS-Latency") == ("t_cl_nck",)


def test_the_glossary_is_made_from_the_table() -> None:
    assert GLOSSARY.read_text() == glossary_text()
