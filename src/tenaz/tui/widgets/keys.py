"""The footer: the keys that do something now, those that lead everywhere first."""

from collections.abc import Iterable

from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role
from tenaz.tui.base.commands import COMMANDS, Command, Need
from tenaz.tui.widgets.panel import Panel

ALWAYS_FIRST = ("show_menu", "turn_canvas", "help", "quit")
"""Whatever the width, these are in sight: where else one can look, all keys, and the way out."""
FOLDED_FIRST = ("fold",)
"""On a small screen also the way to its other panels."""


class KeyBar(Panel):
    """One line of keys and words."""

    DEFAULT_CSS = "KeyBar { height: 1; }"

    def __init__(self) -> None:
        super().__init__(id="keys")
        self._busy, self._folded = False, False
        self._taken = frozenset[str]()
        self._redraw()

    def show_state(self, busy: bool) -> None:
        """Show the keys for this state."""
        self._busy = busy
        self._redraw()

    def leave_to(self, keys: Iterable[str]) -> None:
        """Keys that answer an open question: they do nothing else meanwhile, and are not offered."""
        self._taken = frozenset(keys)
        self._redraw()

    def fold(self, folded: bool) -> None:
        """Whether panels are shown one at a time."""
        self._folded = folded
        self._redraw()

    def _redraw(self) -> None:
        commands = tuple(one for one in keys_now(self._busy, self._folded) if one.key not in self._taken)
        self.show(lambda width, height: _draw(commands, width, height))


def keys_now(busy: bool, folded: bool) -> tuple[Command, ...]:
    """The commands of the bar, in order."""
    first = (*ALWAYS_FIRST, *(FOLDED_FIRST if folded else ()))
    other, now = (Need.IDLE, Need.RUNNING) if busy else (Need.RUNNING, Need.IDLE)
    fit = [command for command in COMMANDS if other not in command.needs]
    leading = [command for name in first for command in fit if command.action == name]
    # What belongs to this state before what is always there.
    rest = sorted(
        (command for command in fit if command.footer and command not in leading),
        key=lambda command: now not in command.needs,
    )
    return (*leading, *rest)


def _draw(commands: tuple[Command, ...], width: int, height: int) -> Cells:
    cells = Cells(width, height)
    column = 0
    for command in commands:
        length = len(command.shown) + 1 + len(command.word)
        if column + length > width:
            break
        cells.put(column, 0, command.shown, Role.LIT)
        cells.put(column + len(command.shown) + 1, 0, command.word, Role.FAINT)
        cells.aim(column, 0, length, ("key", command.binding))
        column += length + 2
    return cells
