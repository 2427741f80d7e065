"""The footer: the keys that do something now, those that lead everywhere first."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role
from tenaz.tui.base.commands import COMMANDS
from tenaz.tui.base.menus import MENUS
from tenaz.tui.widgets.panel import Panel

IDLE, BUSY = ("start_trial", "climb", "undo"), ("stop_run",)
LAST = ("find_anything", "next_page", "help", "quit")
ASKED = ("next_page", "help", "quit")
"""While a question stands: beside its answers."""
ALL_MENUS_FROM = 132
"""Columns from which on each menu is named; else the key of all menus is."""


class KeyBar(Panel):
    """One line of keys and words."""

    DEFAULT_CSS = "KeyBar { height: 1; }"

    def __init__(self) -> None:
        super().__init__(id="keys")
        self._busy, self._folded = False, False
        self._answers: tuple[tuple[str, str], ...] = ()
        self._redraw()

    def show_state(self, busy: bool) -> None:
        """Show the keys for this state."""
        self._busy = busy
        self._redraw()

    def leave_to(self, answers: Iterable[tuple[str, str]]) -> None:
        """Keys that answer an open question, with their words: as long as it stands, nothing else acts."""
        self._answers = tuple(answers)
        self._redraw()

    def fold(self, folded: bool) -> None:
        """Whether panels are shown one at a time."""
        self._folded = folded
        self._redraw()

    def _redraw(self) -> None:
        busy, folded, answers = self._busy, self._folded, self._answers
        self.show(lambda width, height: _draw(keys_now(busy, folded, answers, width >= ALL_MENUS_FROM), width, height))


@dataclass(frozen=True, slots=True)
class OnBar:
    """A key of the bar, its word, and what a click on it does."""

    key: str
    word: str
    does: str = ""


def keys_now(
    busy: bool, folded: bool, answers: Sequence[tuple[str, str]] = (), each_menu: bool = True
) -> tuple[OnBar, ...]:
    """What the bar shows, in order."""
    if answers:
        asked = tuple(OnBar(key, word) for key, word in answers)
        taken = {key for key, _ in answers}
        # What the run asks cannot wait, what is asked of a trial that nothing runs can.
        first = _of(("stop_run",)) if busy else (OnBar("Esc", "later", "order('page_back')"),)
        return (*asked, *(one for one in (*first, *_of(ASKED)) if one.key not in taken))
    if each_menu:
        menus = tuple(OnBar(m.letter, m.name, f"order('show_menu', '{m.letter}')") for m in MENUS)
    else:
        menus = _of(("show_menu",))
    last = _of((*LAST[:2], *(("fold",) if folded else ()), *LAST[2:]))
    if not each_menu:
        last = tuple(replace(one, word=one.word.removeprefix("next ")) for one in last)
    return (*_of(BUSY if busy else IDLE), *menus, *last)


def _of(names: Iterable[str]) -> tuple[OnBar, ...]:
    by_name = {command.action: command for command in COMMANDS}
    return tuple(OnBar(one.shown, one.word, one.binding) for one in (by_name[name] for name in names) if one.key)


def _draw(keys: tuple[OnBar, ...], width: int, height: int) -> Cells:
    cells = Cells(width, height)
    column = 0
    for one in keys:
        length = len(one.key) + 1 + len(one.word)
        if column + length > width:
            break
        cells.put(column, 0, one.key, Role.LIT)
        cells.put(column + len(one.key) + 1, 0, one.word, Role.FAINT)
        if one.does:
            cells.aim(column, 0, length, ("key", one.does))
        column += length + 2
    return cells
