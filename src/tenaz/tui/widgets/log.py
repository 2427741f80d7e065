"""The merged log, newest line last."""

from tenaz.charts.cells import Cells
from tenaz.charts.marks import Role
from tenaz.tui.widgets.sheet import Sheet


class LogPanel(Sheet):
    """All that was said, by whom, and when."""

    DEFAULT_CSS = "LogPanel { height: 8; padding: 0 1; }"

    def __init__(self) -> None:
        super().__init__(id="log")
        self._lines: tuple[tuple[str, str, str], ...] = ()

    def show(self, lines: tuple[tuple[str, str, str], ...]) -> None:
        """Show these lines as (time, source, text)."""
        self._lines = lines
        self.changed()

    def draw(self, width: int, height: int) -> Cells:
        """Draw as many of the newest lines as there is room for."""
        cells = Cells(width - 2, height)
        for row, (at, source, text) in enumerate(self._lines[-height:]):
            newest = row == min(height, len(self._lines)) - 1
            cells.put(0, row, at, Role.FAINT)
            cells.put(10, row, source, Role.MEASURED)
            cells.put(20, row, text, Role.TEXT if newest else Role.FAINT)
        return cells
