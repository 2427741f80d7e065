"""Catalogues of knobs: what comes along is sound, what a technician writes is read or refused with its place."""

from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.catalogues.format import CatalogueFile
from tenaz.catalogues.reading import BUILT_IN, built_in, knobs_of, parse_toml, read_catalogue
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.grid import Grid
from tenaz.core.knobs.setpoint import AUTO
from tenaz.core.knobs.timings.minima import check_timings
from tenaz.core.knobs.timings.rules import RULES
from tenaz.core.machine.machine import Machine
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.demo.hut import hut
from tenaz.demo.ridge import ridge
from tenaz.demo.sled import sled
from tenaz.intake.new_rigs import rig_from
from tenaz.intake.rig_knobs import with_catalogue, with_cores
from tenaz.papers.schemas import SCHEMAS, schema_text

DOCS = Path(__file__).parents[3] / "docs" / "schemas"

BOARD = """
board = "Pizarra P2"

[[change]]
knob = "t_rrd_s_nck"
label = "RRD short"
first = 9
last = 20

[[change]]
knob = "controller_ratio"
locked = "the firmware shows it and ignores it"

[[knob]]
name = "row_hammer_cure"
label = "row cure"
domain = "memory"
group = "refresh"
harder = "down"
grid = { values = [0, 1, 4] }
default = 1
"""


@pytest.mark.parametrize("name", BUILT_IN)
def test_each_knob_that_comes_along_can_be_understood(name: str) -> None:
    for knob in knobs_of(name):
        assert knob.group, f"{knob.name} stands on no page"
        assert knob.affects, f"{knob.name} does not say what moves with it"
        assert knob.default is not None
        knob.check(knob.default)
    if name == "ddr4":
        # JESD79-4, mode register 1: RZQ/7 and RZQ/5 of 240 Ω, and no third.
        assert next(knob for knob in knobs_of(name) if knob.name == "drive_ohm").grid == Grid.of((34, 48))


@pytest.mark.parametrize("rig", [ridge(), hut(), sled()], ids=lambda rig: rig.name)
def test_the_demos_sheets_are_complete_and_keep_every_minimum(rig: Rig) -> None:
    rig.check(rig.stock)
    assert check_timings(rig.stock.numbers(), rig.family) == ()
    timings = [knob.name for knob in rig.knobs if knob.name in RULES[rig.family] and knob.default != AUTO]
    assert len(timings) >= 18
    assert [name for name in timings if name not in rig.stock.numbers()] == []


def test_a_board_spells_narrows_locks_and_adds() -> None:
    rig = with_catalogue(ridge(), parse_toml(CatalogueFile, BOARD, "board.toml"))
    spelled, locked, added = rig.knob("RRD short"), rig.knob("controller_ratio"), rig.knob("row_hammer_cure")
    assert (spelled.name, spelled.standard_label, spelled.grid.first) == ("t_rrd_s_nck", "tRRD_S", 8)
    assert tuple(spelled.grid.values()[:2]) == (8, 9), "what it runs with is one of its values, whatever the board says"
    assert (rig.stock["row_hammer_cure"], added.grid.values()) == (1, (0, 1, 4))
    groups = [knob.group for knob in rig.knobs]
    assert groups.index("tertiary timings") > rig.knobs.index(added) > groups.index("refresh")
    moved = rig.stock.replacing("t_rrd_s_nck", 9).replacing("controller_ratio", 2)
    with pytest.raises(Refused, match="the firmware shows it and ignores it"):
        rig.check(moved)
    assert locked.locked
    few_cores = with_catalogue(replace(ridge(), knobs=knobs_of("ddr5"), cores=2), read_catalogue("processor"))
    assert [k.name for k in few_cores.knobs if k.group == "per core"] == ["core_0_offset_steps", "core_1_offset_steps"]


@pytest.mark.parametrize(
    ("change", "told"),
    [
        (("first = 9", "first = nine"), r"board.toml: .*\(at line 7, column 9\)"),
        (("first = 9", 'first = "nine"'), "board.toml, line 7: t_rrd_s_nck: .*first: 'nine' is no whole number"),
        (("default = 1", "default = 2"), r"line 14: row_hammer_cure: default 2 is not on its grid \(0, 1, 4\)"),
        (('label = "row cure"', 'lable = "row cure"'), "row_hammer_cure: label: Field required"),
        (("values = [0, 1, 4]", "first = 0, last = 5, step = 3"), "cannot be walked in steps of 3"),
        (("values = [0, 1, 4]", "first = 0, last = 5"), "give first, last and step, or values; not both"),
        (('name = "row_hammer_cure"', 'name = "Row cure"'), "line 15: .*name: String should match"),
    ],
)
def test_what_is_wrong_in_a_catalogue_is_told_with_line_knob_and_remedy(change: tuple[str, str], told: str) -> None:
    assert change[0] in BOARD
    with pytest.raises(Refused, match=told):
        parse_toml(CatalogueFile, BOARD.replace(*change), "board.toml")


@pytest.mark.parametrize(
    ("change", "told"),
    [
        ('knob = "t_rrd_x_nck"\nfirst = 9', "no knob t_rrd_x_nck to change"),
        ('knob = "t_rrd_s_nck"\nfirst = 900', "leaves none of its"),
        ('knob = "t_rrd_s_nck"\nlast = 20', "changes nothing"),
        ('knob = "data_rate_mts"\nlast = 9000', "above its hard ceiling of 8000, so that nothing is gained"),
        ('knob = "drive_ohm"\nlast = 60', "which are a list; give step, or all of them"),
        ('knob = "t_cl_nck"\nlast = 90\nvalues = [30]', "not both"),
    ],
)
def test_a_change_must_find_its_knob_leave_it_values_and_change_something(change: str, told: str) -> None:
    with pytest.raises(Refused, match=told):
        with_catalogue(ridge(), parse_toml(CatalogueFile, f"[[change]]\n{change}\n", "board.toml"))


def test_a_board_reaches_further_and_changes_what_there_is_one_each_of() -> None:
    wider = """
[[change]]
knob = "data_rate_mts"
last = 9000
hard_ceiling = 8800

[[change]]
knob = "core_n_offset_steps"
first = -50

[[change]]
knob = "memory_vdd_mv"
step = 5
"""
    rig = with_catalogue(ridge(), parse_toml(CatalogueFile, wider, "board.toml"))
    rate = rig.knob("data_rate_mts")
    assert (list(rate.grid.values()[-3:]), rate.most) == ([8600, 8800, 9000], 8800)
    offsets = [knob for knob in rig.knobs if knob.group == "per core"]
    assert len(offsets) == rig.cores
    assert {knob.grid.first for knob in offsets} == {-50}
    rig.check(rig.stock.replacing("memory_vdd_mv", 1155))


def test_each_core_has_knobs_of_its_own() -> None:
    rig = rig_from(Machine(), "x", (BenchKind.HAND,), memory="DDR5")
    assert rig.cores_known == 0
    many = with_cores(rig, 24)
    assert {"core_23_offset_steps", "ratio_24_busy", "ratio_1_busy"} <= {knob.name for knob in many.knobs}
    moved = replace(many, stock=many.stock.replacing("core_1_offset_steps", -10))
    few = with_cores(moved, 2)
    assert (few.stock["core_1_offset_steps"], len(few.knobs)) == (-10, len(rig.knobs) + 4)
    assert with_cores(few, 2) == few


def test_files_that_are_none_are_refused(tmp_path: Path) -> None:
    (tmp_path / "picture.toml").write_bytes(b"\x89PNG\xff")
    (tmp_path / "large.toml").write_text("#" * (2 << 20))
    for name, told in (("picture.toml", "no text"), ("large.toml", "too large"), ("gone.toml", "could not be read")):
        with pytest.raises(Refused, match=told):
            read_catalogue(tmp_path / name)


@pytest.mark.parametrize("name", SCHEMAS)
def test_the_published_schema_is_that_of_the_program(name: str) -> None:
    assert (DOCS / f"{name}.schema.json").read_text() == schema_text(name)


def test_auto_is_no_number() -> None:
    knob = next(knob for knob in knobs_of("ddr4") if knob.default == AUTO)
    assert knob.may_be_auto
    assert built_in("ddr4").family == "DDR4"
    with pytest.raises(Refused, match="cannot be left to the firmware"):
        ridge().knob("data_rate_mts").check(AUTO)
