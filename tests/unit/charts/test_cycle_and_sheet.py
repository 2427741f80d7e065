"""The Cycle and Sheet pictures: to scale, never overdrawn, everything that is said of a value stands on them."""

import re
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.knobs.setpoint import AUTO, Setpoint
from tenaz.core.rigs.notes import NoteKind, ValueNote
from tenaz.core.trials.index import TrialIndex
from tenaz.demo.hut import hut
from tenaz.demo.ridge import ridge
from tenaz.pictures.cycle.cells import LABEL, draw_cycle
from tenaz.pictures.cycle.model import CyclePicture, cycle_picture
from tenaz.pictures.cycle.paper import export_cycle
from tenaz.pictures.drawing.paper_head import PaperHead
from tenaz.pictures.sheet.cells import Ticks, draw_sheet
from tenaz.pictures.sheet.model import sheet_picture
from tenaz.pictures.sheet.track import tracks_of
from tenaz.pictures.sheet.tracks import draw_tracks

if TYPE_CHECKING:
    from tenaz.pictures.drawing.cells import Cells

RIDGE = ridge()
HEAD = PaperHead("one row cycle", "ridge", datetime(2026, 1, 6, tzinfo=UTC), "data rate 4800 MT/s", "nothing yet")
TIGHT = RIDGE.stock.replacing("t_faw_nck", 28).replacing("t_ras_nck", 90)


def cycle(setpoint: Setpoint = TIGHT, selected: str = "t_ras_nck") -> CyclePicture:
    picture = cycle_picture(RIDGE, setpoint, selected, RIDGE.stock, "stock")
    assert picture is not None
    return picture


def test_the_read_lane_is_the_row_cycle_by_its_timings() -> None:
    read = cycle().lanes[0]
    at = {command.letter: command.at_ns for command in read.commands[:-1]}
    ck = 1000 / 2400
    assert at["R"] == pytest.approx(39 * ck)
    assert at["D"] == pytest.approx((39 + 40) * ck)
    assert at["P"] == pytest.approx(90 * ck), "tRAS holds the row open longer than tRCD + tRTP"
    assert read.commands[-1].at_ns == pytest.approx((90 + 39) * ck), "not before the row has closed, whatever tRC says"
    (ras,) = (s for row in read.rows for s in row if s.name == "t_ras_nck")
    assert ras.least_end_ns == pytest.approx((39 + 18) * ck)


def test_the_drawing_is_to_scale_with_ghost_marks_and_the_knob_in_hand_explained() -> None:
    text = draw_cycle(cycle(), 120, 32, "controller 2400 MHz").text()
    lines = text.splitlines()
    ruler = next(line for line in lines if line.startswith("ns"))
    ten = (ruler.index("20") - ruler.index("10")) / 10
    read = next(line for line in lines if line.startswith("read"))
    assert read.index("R") - LABEL == pytest.approx(39 / 2.4 * ten, abs=1)
    assert "tRAS 90 · 37.5 ns" in text
    assert "beneath, faint: stock" in text
    assert re.search(r"┄ tFAW 28 ┄+[┄┥╌]*╢ +!", text), "what is without effect is drawn broken, with its minimum"
    assert "tRAS 90 nCK = 37.50 ns: how long a row stays open" in text
    assert "P precharge" in text


@pytest.mark.parametrize("missing", ["data_rate_mts", "t_rcd_nck"])
def test_what_is_on_auto_is_not_drawn_and_said(missing: str) -> None:
    picture = cycle_picture(RIDGE, RIDGE.stock.replacing(missing, AUTO), missing)
    text = draw_cycle(picture, 100, 30).text()
    assert ("on auto: type one" in text) if missing == "data_rate_mts" else ("on auto, so not drawn: tRCD" in text)


@given(st.integers(0, 170), st.integers(0, 60), st.integers(0, 36), st.data())
def test_no_page_is_ever_overdrawn(width: int, height: int, at: int, data: st.DataObject) -> None:
    knob = RIDGE.knobs[at]
    value = data.draw(st.sampled_from(knob.grid.values()))
    dialled = RIDGE.stock.replacing(knob.name, value)
    picture = sheet_picture(RIDGE, dialled, RIDGE.stock, "sheet", [("stock", RIDGE.stock), ("tight", TIGHT)])
    tracks = tracks_of(RIDGE.knobs, dialled, RIDGE.stock, RIDGE.stock, TrialIndex())
    drawn: list[Cells] = [
        draw_cycle(cycle(dialled, knob.name), width, height, "clocks"),
        draw_sheet(picture, width, height, knob.name, Ticks((knob.name, "t_rc_nck"), (knob.name,))),
        draw_tracks(tracks, at, width, height),
    ]
    for cells in drawn:
        assert len(cells.rows()) == height
        assert all(sum(len(run.text) for run in row) == width for row in cells.rows())


def test_the_sheet_shows_change_time_remark_note_and_what_is_compared() -> None:
    notes = (ValueNote("t_cl_nck", 40, NoteKind.LOOSE, "two less"), ValueNote("t_cl_nck", 38, NoteKind.FLOOR))
    dialled = TIGHT.replacing("t_of_another_board_nck", 3)
    plain = sheet_picture(RIDGE, dialled, RIDGE.stock, "sheet", notes=notes)
    text = draw_sheet(plain, 130, 110, "t_faw_nck", Ticks(("t_faw_nck", "t_ras_nck"), ("t_faw_nck",))).text()
    assert re.search(r"\[x\] tFAW +28 nCK +11.67 ns +was 32 nCK · no effect, least 32", text)
    assert re.search(r"\[ \]▸tRAS +90 nCK", text)
    assert re.search(r"tCL +40 nCK +16.67 ns +loose: two less", text), "a note on another value is not this value's"
    assert "not known on this rig" in text
    assert "to follow up" in text
    beside = sheet_picture(RIDGE, dialled, RIDGE.stock, "", [("winter", RIDGE.stock.replacing("data_rate_mts", 6000))])
    differing = beside.only([row.name for row in beside.rows if row.differs])
    assert [row.label for row in differing.rows] == ["data rate", "tRAS", "tFAW", "t_of_another_board_nck"]
    assert re.search(r"tRAS +90 nCK +37.50 ns +77 +25.67 ns", draw_sheet(differing, 130, 20).text())


def test_the_cycle_on_paper_says_why_a_value_has_no_effect(tmp_path: Path) -> None:
    export_cycle(cycle(), tmp_path / "cycle.svg", HEAD)
    export_cycle(cycle(), tmp_path / "again.svg", HEAD)
    svg = (tmp_path / "cycle.svg").read_text()
    assert svg == (tmp_path / "again.svg").read_text(), "the same setpoint is the same file"
    assert {"read-activate", "read-precharge", "write-write", "compared-read-read"} <= set(
        re.findall(r'id="([^"]+)"', svg)
    )
    four = cycle_picture(hut(), hut().stock, "t_rp_nck")
    assert four is not None
    export_cycle(four, tmp_path / "cycle.pdf", HEAD)
    assert (tmp_path / "cycle.pdf").read_bytes().startswith(b"%PDF")
