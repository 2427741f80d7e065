"""The Climb canvas."""

from tenaz.charts.cells import Cells
from tenaz.charts.climb import ClimbPicture
from tenaz.charts.climb_cells import draw_climb
from tenaz.charts.marks import Role
from tenaz.tui.widgets.sheet import Sheet


class ClimbCanvas(Sheet):
    """Trials in order against the selected knob's value, and where the edge lies."""

    DEFAULT_CSS = "ClimbCanvas { padding: 0 1; }"

    def __init__(self) -> None:
        super().__init__(id="climb")
        self._picture: ClimbPicture | None = None
        self._knob = ""
        self._cursor: int | None = None

    def show(self, picture: ClimbPicture | None, knob: str, cursor: int | None) -> None:
        """Show a climb along the knob of this label (None: there has been none), one trial pointed at."""
        self._picture, self._knob, self._cursor = picture, knob, cursor
        self.changed()

    def draw(self, width: int, height: int) -> Cells:
        """Draw the picture, or how to begin one."""
        if self._picture is not None:
            return draw_climb(self._picture, width - 2, height, self._cursor)
        cells = Cells(width - 2, height)
        if self._knob:
            cells.put(0, 0, self._knob, Role.TEXT)
            cells.put(0, 2, f"No climb along {self._knob} on this bench yet.", Role.FAINT)
            cells.put(0, 4, "c   climb from the dialled values, one grid step a trial", Role.TEXT)
            cells.put(0, 5, "t   one trial at the dialled values", Role.TEXT)
        else:
            cells.put(0, 0, "opening the book …", Role.FAINT)
        return cells
