"""A line to type into; a screen with lines gives each key to the line in hand, one after the other."""

from textual import events
from textual.binding import Binding
from textual.widgets import Input
from textual.widgets.input import Selection

EDITS = {
    key: binding.action for binding in Input.BINDINGS if isinstance(binding, Binding) for key in binding.key.split(",")
}
"""The keys that edit a line."""


class Line(Input):
    """An input that deals with a key at once.

    By itself an input takes letters where they arrive, while keys that edit or move first travel up to the application
    and come back: in a burst the letters behind such a key overtake it.
    """

    def __init__(self, value: str, id: str | None = None) -> None:
        super().__init__(value, select_on_focus=False, id=id)

    def select_whole(self) -> None:
        """What is typed next replaces what stands there."""
        self.selection = Selection(0, len(self.value))

    async def typed(self, key: events.Key) -> None:
        """Take one key."""
        if key.is_printable and key.character is not None:
            self.replace(key.character, *self.selection)
        elif key.key in EDITS:
            await self.run_action(EDITS[key.key])
