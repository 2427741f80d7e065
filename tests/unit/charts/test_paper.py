"""What every picture on paper says of itself, and pages as they stood on the screen."""

import re
import xml.etree.ElementTree as ET
import zlib
from datetime import UTC, datetime
from pathlib import Path

import pytest

from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import TenazError
from tenaz.core.base.outcomes import Outcome
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.papers.setpoint_files import Sheet
from tenaz.papers.sheets import write_sheet
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.cells_paper import export_cells
from tenaz.pictures.drawing.paper_head import paper_head
from tests.make import RIG, indexed, trial

FASTER = RIG.stock.replacing("data_rate_mts", 6000).replacing("memory_vdd_mv", 1200)
TRIALS = [trial(Outcome.HELD, FASTER), trial(Outcome.ERRED, FASTER, plan=LoadPlan(LoadKind.SOLVE))]


def head_of(setpoint: Setpoint = FASTER):  # type: ignore[no-untyped-def]
    evidence = evidence_at(setpoint, indexed(TRIALS), RIG)
    return paper_head("load", RIG, setpoint, evidence, datetime(2026, 1, 6, 9, 30, tzinfo=UTC))


def test_the_head_says_whose_of_when_at_what_and_what_was_shown() -> None:
    assert head_of().lines == (
        "ridge: load · 2026-01-06 09:30 UTC",
        f"set: data rate 6000 MT/s, memory VDD 1200 mV, the other {len(RIG.knobs) - 2} at stock",
        "tested there: march 1.0 h; solve 0.0 h, 1 failed",
    )
    assert head_of(RIG.stock).shown == "nothing yet"


@pytest.mark.parametrize("ending", [".svg", ".pdf"])
def test_a_page_is_written_as_letters_under_its_head(tmp_path: Path, ending: str) -> None:
    cells = Cells(60, 5)
    cells.put(3, 2, "core 0   ━━━━ 4300 MHz  ▁▃▅█")
    out = tmp_path / f"load{ending}"
    export_cells(cells, head_of(), out)
    if ending == ".svg":
        words = " ".join(element.text or "" for element in ET.parse(out).iter())
        assert "core 0   ━━━━ 4300 MHz  ▁▃▅█" in words
        assert "ridge: load · 2026-01-06 09:30 UTC" in words
    else:
        raw = out.read_bytes()
        assert b"/Subtype /Image" not in raw, "lines and letters, no pixels"
        drawn = b"".join(zlib.decompress(part) for part in re.findall(rb"stream\r?\n(x.*?)\r?\nendstream", raw, re.S))
        assert drawn.count(b"BT") >= 4, "a line of text each for the head's three and the page's one"


def test_a_file_is_private_whole_or_not_there_and_follows_no_link(tmp_path: Path) -> None:
    out, elsewhere = tmp_path / "sheet.toml", tmp_path / "elsewhere"
    elsewhere.write_text("mine")
    out.symlink_to(elsewhere)
    write_sheet(RIG, Sheet(RIG.stock), out)
    assert (elsewhere.read_text(), out.is_symlink(), out.stat().st_mode & 0o077) == ("mine", False, 0)
    with pytest.raises(TenazError, match="is no file"):
        write_whole(tmp_path, "x")
    assert sorted(path.name for path in tmp_path.iterdir()) == ["elsewhere", "sheet.toml"]
