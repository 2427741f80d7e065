"""A panel: a widget that paints a drawing of cells."""

from collections.abc import Callable

from rich.segment import Segment
from rich.style import Style
from textual import events
from textual.geometry import Region, Size
from textual.message import Message
from textual.strip import Strip
from textual.widget import Widget

from tenaz.pictures.drawing.cells import CellRun, Cells, Target
from tenaz.tui.base.theme import role_styles

Drawing = Callable[[int, int], Cells]
"""Draws on a panel of the given width and height, in cells."""


class Panel(Widget):
    """Paints a drawing; only lines that differ from what stands there are painted anew."""

    DEFAULT_CSS = "Panel { width: 1fr; height: 1fr; padding: 0 1; }"

    class Picked(Message):
        """Something drawn was clicked."""

        def __init__(self, panel: str, target: Target) -> None:
            super().__init__()
            self.panel, self.target = panel, target

    def __init__(self, id: str) -> None:
        super().__init__(id=id)
        self._drawing: Drawing = Cells
        self._cells = Cells(0, 0)
        self._rows: list[list[CellRun]] = []
        self._painted: list[Strip] = []
        self._painted_for: tuple[Size, str] | None = None

    def show(self, drawing: Drawing) -> None:
        """Show another drawing."""
        self._drawing = drawing
        if self.is_mounted and self._painted_for == (self.size, self.app.theme):
            self._paint_changes()
        else:
            self.refresh()

    def drawn(self, width: int, height: int) -> Cells:
        """What it shows, in so much room."""
        return self._drawing(width, height)

    @property
    def cells(self) -> Cells:
        """What is drawn on it now."""
        return self._cells

    def on_click(self, event: events.Click) -> None:
        """Tell what was clicked, where anything was."""
        at = event.get_content_offset(self)
        target = self._cells.target_at(at.x, at.y) if at is not None else None
        if target is not None:
            event.stop()
            self.post_message(self.Picked(self.id or "", target))

    def render_line(self, y: int) -> Strip:
        """One painted line."""
        wanted = (self.size, self.app.theme)
        if self._painted_for != wanted:
            self._painted_for = wanted
            self._rows = self._draw()
            self._painted = [self._paint(y, row) for y, row in enumerate(self._rows)]
        return self._painted[y] if y < len(self._painted) else Strip.blank(self.size.width)

    def _draw(self) -> list[list[CellRun]]:
        self._cells = self._drawing(self.size.width, self.size.height)
        return self._cells.rows()

    def _paint_changes(self) -> None:
        rows = self._draw()
        dirty = []
        for y, row in enumerate(rows):
            if y >= len(self._rows) or row != self._rows[y]:
                self._painted[y : y + 1] = [self._paint(y, row)]
                dirty.append(Region(0, y, self.size.width, 1))
        for y in range(len(rows), len(self._rows)):
            self._painted[y] = Strip.blank(self.size.width)
            dirty.append(Region(0, y, self.size.width, 1))
        self._rows = rows
        if dirty:
            self.refresh(*dirty)

    def _paint(self, y: int, row: list[CellRun]) -> Strip:
        styles = role_styles(self.app.theme)
        return Strip(
            [Segment(run.text, self.style_of(y, run.text) or styles[run.role]) for run in row], self.size.width
        )

    def style_of(self, row: int, text: str) -> Style | None:
        """A style that overrides the role's, for the rare cell that needs one."""
        del row, text
        return None
