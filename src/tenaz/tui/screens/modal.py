"""What all screens over the workbench have in common: they are left once, however fast keys come."""

from typing import TypeVar

from textual.screen import ModalScreen

Result = TypeVar("Result")


class Modal(ModalScreen[Result]):
    """A screen over the workbench."""

    _left = False

    @property
    def gone(self) -> bool:
        """Whether it was answered, and only not taken off the screen yet."""
        return self._left

    def leave(self, result: Result | None) -> None:
        """Go, with a result; a key that comes after that finds nobody any more."""
        if not self._left:
            self._left = True
            self.dismiss(result)
