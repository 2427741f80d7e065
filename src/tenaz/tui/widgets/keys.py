"""The footer: the keys that do something now."""

from tenaz.charts.cells import Cells
from tenaz.charts.marks import Role
from tenaz.tui.commands import COMMANDS, When
from tenaz.tui.widgets.sheet import Sheet


class KeyBar(Sheet):
    """One line of keys and words."""

    DEFAULT_CSS = "KeyBar { height: 1; }"

    def __init__(self) -> None:
        super().__init__(id="keys")
        self.show_state(busy=False)

    def show_state(self, busy: bool) -> None:
        """Show the keys for this state."""
        now = When.RUNNING if busy else When.IDLE
        self.show(lambda width, height: _draw(now, width, height))


def _draw(now: When, width: int, height: int) -> Cells:
    cells = Cells(width, height)
    column = 0
    for command in COMMANDS:
        if command.footer and command.when in (When.ALWAYS, now):
            cells.put(column, 0, command.shown, Role.LIT)
            cells.put(column + len(command.shown) + 1, 0, command.word, Role.FAINT)
            column += len(command.shown) + len(command.word) + 3
    return cells
