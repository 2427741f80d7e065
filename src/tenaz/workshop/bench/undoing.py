"""What was done since the book was opened, so that it can be taken back, several steps and the newest first; and done
again.
"""

from collections.abc import Callable
from dataclasses import dataclass

from tenaz.core.base.errors import Refused

MOST_STEPS = 100


@dataclass(frozen=True, slots=True)
class Done:
    """Something that was done, in words, how it is taken back, and how it is done again then; both may give words."""

    words: str
    back: Callable[[], object]
    again: Callable[[], object] | None = None


class Undoing:
    """The steps back and forth. Taking one back is itself no step. ``made`` counts what was ever done."""

    def __init__(self) -> None:
        self._steps: list[Done] = []
        self._back: list[Done] = []
        self._again = False
        self.made = 0

    def push(self, words: str, back: Callable[[], object], again: Callable[[], object] | None = None) -> None:
        """Something was done; what was taken back before it can be done again no more."""
        self._steps.append(Done(words, back, again))
        del self._steps[:-MOST_STEPS]
        self.made += 1
        if not self._again:
            self._back.clear()

    def by_order(self, since: int, again: Callable[[], object]) -> None:
        """What one order did, all since ``since``, is one step, and done again by the same order."""
        count = min(self.made - since, len(self._steps))
        if count < 1:
            return
        done = self._steps[-count:]

        def back() -> object:
            said = [step.back() for step in reversed(done)]
            return said[-1]

        words = done[0].words if count == 1 else f"{done[0].words} and {count - 1} more"
        self._steps[-count:] = [Done(words, back, done[0].again or again)]

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
        self._back.append(step)
        return said if isinstance(said, str) and said else f"taken back: {step.words}"

    def taken_back(self, words: str, again: Callable[[], object]) -> None:
        """Something of before the book was opened was taken back."""
        self._back.append(Done(words, lambda: None, again))

    def forth(self) -> str:
        """Do again what was taken back last; gives words about it.

        Raises:
            Refused: nothing was, or it cannot be done again as things stand.
        """
        if not self._back:
            raise Refused("There is nothing that was taken back, and could be done again.")
        step = self._back[-1]
        if step.again is None:
            raise Refused(f"It cannot be done again by a key: {step.words}. Do it anew.")
        self._again = True
        try:
            step.again()
        finally:
            self._again = False
        self._back.pop()
        return f"done again: {step.words}"

    def forget(self) -> None:
        """Another book: nothing of the one before can be taken back."""
        self._steps.clear()
        self._back.clear()
