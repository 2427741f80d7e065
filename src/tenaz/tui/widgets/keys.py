"""The footer: the keys that do something now."""

from tenaz.charts.cells import Cells
from tenaz.charts.marks import Role
from tenaz.tui.commands import COMMANDS, When
from tenaz.tui.widgets.sheet import Sheet


class KeyBar(Sheet):
    """One line of keys and words."""

    DEFAULT_CSS = "KeyBar { height: 1; padding: 0 1; }"

    def __init__(self) -> None:
        super().__init__(id="keys")
        self._running = False

    def show(self, running: bool) -> None:
        """Show the keys for this state."""
        self._running = running
        self.changed()

    def draw(self, width: int, height: int) -> Cells:
        """Draw the line."""
        cells = Cells(width - 2, height)
        column = 0
        now = When.RUNNING if self._running else When.IDLE
        for command in COMMANDS:
            if command.footer and command.when in (When.ALWAYS, now):
                cells.put(column, 0, command.shown, Role.LIT)
                cells.put(column + len(command.shown) + 1, 0, command.word, Role.FAINT)
                column += len(command.shown) + len(command.word) + 3
        return cells
