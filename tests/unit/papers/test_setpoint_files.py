"""Setpoints as files: a round trip loses nothing, a malformed file is told with its place."""

import csv
import io
import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import AUTO, Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.rigs.notes import NoteKind, ValueNote
from tenaz.demo.ridge import ridge
from tenaz.papers.setpoint_files import Sheet, sheet_from_csv, sheet_from_toml, sheet_to_csv, sheet_to_toml
from tenaz.papers.sheets import paper_rig, refusals, write_sheet

names = st.from_regex(r"[a-z][a-z0-9_]{1,20}", fullmatch=True)
values = st.one_of(st.integers(-(2**40), 2**40), st.just(AUTO))
words = st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=30)


@st.composite
def sheets(draw: st.DrawFn) -> Sheet:
    setpoint = Setpoint.of(draw(st.dictionaries(names, values, min_size=1, max_size=12)))
    noted = draw(st.lists(st.sampled_from(list(setpoint)), max_size=4))
    kinds, texts = st.sampled_from(NoteKind), words.map(str.strip)
    notes = tuple(ValueNote(name, setpoint[name], draw(kinds), draw(texts), draw(st.booleans())) for name in noted)
    return Sheet(setpoint, draw(words), draw(words), draw(st.sampled_from([None, *Family])), draw(words), notes)


@given(sheets())
def test_a_round_trip_loses_nothing(sheet: Sheet) -> None:
    back = sheet_from_toml(sheet_to_toml(sheet), "there")
    assert back == sheet
    assert back.setpoint.items_by_name == sheet.setpoint.items_by_name, "order and auto are kept too"
    spread = sheet_from_csv(sheet_to_csv(sheet), "there")
    assert spread.setpoint.items_by_name == sheet.setpoint.items_by_name
    told = [(note.knob, note.kind, note.text) for note in sheet.notes]
    assert sorted((note.knob, note.kind, note.text) for note in spread.notes) == sorted(told)


TOML = 'format = "tenaz.setpoint/1"\nmemory = "DDR5"\n[values]\ndata_rate_mts = 5200\nt_cl_nck = 44\n'


@pytest.mark.parametrize(
    ("change", "told"),
    [
        (("= 44", "= 44.5"), "line 5: t_cl_nck: 44.5 is no whole number"),
        (("= 44", '= "fast"'), "line 5: t_cl_nck: 'fast' is no whole number"),
        (("= 44", "= = 44"), r"at line 5, column 12"),
        (("setpoint/1", "setpoint/9"), r"line 1: format: .*tenaz\.setpoint/1"),
        (("[values]", "[value]"), "values: Field required"),
        (('"DDR5"', '"DDR9"'), "line 2: memory: "),
    ],
)
def test_what_is_wrong_in_a_setpoint_file_is_told_with_line_and_knob(change: tuple[str, str], told: str) -> None:
    with pytest.raises(Refused, match=told):
        sheet_from_toml(TOML.replace(*change), "winter.toml")


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("name,value\nx,1\n", "line 1: the heading 'knob' is missing"),
        ("knob,value\nt_cl_nck,fast\n", "line 2: t_cl_nck: 'fast' is no whole number and not auto"),
        ("knob,value\n,7\n", "line 2: a value without a knob"),
        ("knob,value\nt_cl_nck,40\nt_cl_nck,41\n", "line 3: t_cl_nck stands in it twice"),
        ("knob,value,note_kind\nt_cl_nck,40,soft\n", "'soft' is no kind of note; it is one of floor, loose"),
        ("knob,value\n", "holds no values"),
    ],
)
def test_what_is_wrong_in_a_spreadsheet_is_told_with_line_and_knob(text: str, told: str) -> None:
    with pytest.raises(Refused, match=told):
        sheet_from_csv(text, "winter.csv")


def test_a_sheet_is_written_in_each_form_and_checked_on_paper(tmp_path: Path) -> None:
    rig = ridge()
    setpoint = rig.stock.replacing("t_faw_nck", 28).replacing("t_of_another_board_nck", 3)
    notes = (ValueNote("t_cl_nck", 40, NoteKind.LOOSE, "two less"),)
    sheet = Sheet(setpoint, "winter", rig.name, rig.family, notes=notes)
    for ending in ("toml", "csv", "txt", "pdf"):
        write_sheet(rig, sheet, tmp_path / f"sheet.{ending}", rig.stock)
    text = (tmp_path / "sheet.txt").read_text()
    assert "▸ tFAW" in text
    assert "was 32 nCK   no effect: 4 × tRRD_S is 32" in text
    assert re.search(r"not known on this rig\n\[ \] ▸ t_of_another_board_nck +3 +was auto", text)
    assert "to follow up\n  tCL 40 nCK: loose: two less" in text
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")
    with pytest.raises(Refused, match="name a file ending in"):
        write_sheet(rig, sheet, tmp_path / "sheet.xls")
    four = paper_rig(Sheet(Setpoint.of({"data_rate_mts": 3200, "t_cl_nck": 5})))
    assert (four.family, len(refusals(four, four.stock))) == (Family.DDR4, 1)


@pytest.mark.parametrize("text", ["=cmd|' /C calc'!A0", "+1", "-1", "@sum", "'=1", "'plain", "plain"])
def test_a_spreadsheet_runs_no_cell_and_the_text_comes_back(text: str) -> None:
    sheet = Sheet(ridge().stock, notes=(ValueNote("t_cl_nck", ridge().stock["t_cl_nck"], NoteKind.FREE, text),))
    written = sheet_to_csv(sheet, ridge().knobs)
    cells = [cell for row in csv.reader(io.StringIO(written)) for cell in row]
    assert not any(cell.startswith(("=", "+", "-", "@", "\t")) and not cell.lstrip("-").isdigit() for cell in cells)
    assert sheet_from_csv(written, "x.csv").notes[0].text == text
