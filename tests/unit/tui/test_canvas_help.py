"""Each canvas explains itself, and only by keys that there are."""

import pytest

from tenaz.tui.base.commands import BY_ACTION
from tenaz.tui.canvases.canvas import Canvas
from tenaz.tui.canvases.strip import BY_NAME, CANVASES


@pytest.mark.parametrize("canvas", CANVASES, ids=lambda canvas: canvas.name)
def test_a_canvas_tells_what_it_shows_by_which_marks_and_keys(canvas: type[Canvas]) -> None:
    told = canvas.help
    assert BY_NAME[canvas.name] is canvas
    assert told.shows.endswith(".")
    assert told.sums.endswith(".")
    assert told.marks
    assert told.keys
    assert set(told.keys) <= set(BY_ACTION)
