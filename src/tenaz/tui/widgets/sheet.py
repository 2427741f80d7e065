"""A widget that shows cells: subclasses draw, this one paints."""

from rich.segment import Segment
from rich.style import Style
from textual.geometry import Size
from textual.strip import Strip
from textual.widget import Widget

from tenaz.charts.cells import Cells
from tenaz.tui.theme import role_styles


class Sheet(Widget):
    """Paints the cells of :meth:`draw`; they are drawn once for each change, not once for each line."""

    DEFAULT_CSS = "Sheet { width: 1fr; height: 1fr; }"

    def __init__(self, id: str) -> None:
        super().__init__(id=id)
        self._painted: list[Strip] | None = None
        self._painted_for: tuple[Size, str] | None = None

    def draw(self, width: int, height: int) -> Cells:
        """Draw the widget's content."""
        raise NotImplementedError

    def changed(self) -> None:
        """The content changed: draw anew at the next chance."""
        self._painted = None
        self.refresh()

    def render_line(self, y: int) -> Strip:
        """One painted line."""
        wanted = (self.size, self.app.theme)
        if self._painted is None or self._painted_for != wanted:
            self._painted = self._paint()
            self._painted_for = wanted
        return self._painted[y] if y < len(self._painted) else Strip.blank(self.size.width)

    def _paint(self) -> list[Strip]:
        styles = role_styles(self.app.theme)
        cells = self.draw(self.size.width, self.size.height)
        return [
            Strip(
                [Segment(run.text, self.style_of(row, run.text) or styles[run.role]) for run in runs],
                cells.width,
            )
            for row, runs in enumerate(cells.rows())
        ]

    def style_of(self, row: int, text: str) -> Style | None:
        """A style that overrides the role's, for the rare cell that needs one."""
        del row, text
        return None
