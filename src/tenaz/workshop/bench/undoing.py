"""What was done since the book was opened, so that it can be taken back, several steps and the newest first."""

from collections.abc import Callable
from dataclasses import dataclass

from tenaz.core.base.errors import Refused

MOST_STEPS = 100


@dataclass(frozen=True, slots=True)
class Done:
    """Something that was done, in words, and how it is taken back; that may give words of its own."""

    words: str
    back: Callable[[], object]


class Undoing:
    """The steps back. Taking one back is itself no step: what was taken back is told, and can be done again."""

    def __init__(self) -> None:
        self._steps: list[Done] = []

    def push(self, words: str, back: Callable[[], object]) -> None:
        """Something was done."""
        self._steps.append(Done(words, back))
        del self._steps[:-MOST_STEPS]

    @property
    def next(self) -> str:
        """What would be taken back next; empty where there is nothing."""
        return self._steps[-1].words if self._steps else ""

    def back(self) -> str:
        """Take the newest step back; gives words about it.

        Raises:
            Refused: there is none, or it cannot be taken back as things stand; it then stays the next one.
        """
        if not self._steps:
            raise Refused("There is nothing to take back.")
        step = self._steps[-1]
        said = step.back()
        self._steps.pop()
        return said if isinstance(said, str) and said else f"taken back: {step.words}"

    def forget(self) -> None:
        """Another book: nothing of the one before can be taken back."""
        self._steps.clear()
