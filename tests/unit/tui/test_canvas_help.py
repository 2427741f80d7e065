"""Each canvas explains itself, and only by keys that there are."""

from tenaz.tui.base.commands import BY_ACTION
from tenaz.tui.canvases.help import HELP
from tenaz.tui.canvases.names import NAMES


def test_every_canvas_tells_what_it_shows_by_which_marks_and_keys() -> None:
    assert tuple(HELP) == NAMES
    for name, told in HELP.items():
        assert told.shows.endswith("."), name
        assert told.marks, name
        assert told.keys, name
        assert set(told.keys) <= set(BY_ACTION), name
        assert told.sums.endswith("."), name
