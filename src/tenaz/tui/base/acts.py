"""What the technician did last, in front of the screen and in the book, so that one key takes back just that."""

from collections.abc import Callable
from dataclasses import dataclass

MOST_ACTS = 300


@dataclass(frozen=True, slots=True)
class Act:
    """Something that was done, how it is taken back and done again. ``of_book``: the workshop keeps it and says what
    came of taking it back; else ``words`` do.
    """

    words: str
    back: Callable[[], object]
    again: Callable[[], object]
    of_book: bool = False


class Acts:
    """The newest first."""

    def __init__(self) -> None:
        self._done: list[Act] = []
        self._back: list[Act] = []

    def did(self, act: Act) -> None:
        """Something was done; what was taken back before stays so."""
        self._done.append(act)
        del self._done[:-MOST_ACTS]
        self._back.clear()

    def back(self) -> Act | None:
        """Take the last act back; None where there is none."""
        return self._move(self._done, self._back, lambda act: act.back())

    def again(self) -> Act | None:
        """Do again what was taken back last; None where nothing was."""
        return self._move(self._back, self._done, lambda act: act.again())

    @staticmethod
    def _move(here: list[Act], there: list[Act], do: Callable[[Act], object]) -> Act | None:
        if not here:
            return None
        act = here.pop()
        do(act)
        there.append(act)
        return act
