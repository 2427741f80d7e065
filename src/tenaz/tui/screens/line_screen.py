"""What screens with lines to type into have in common: keys are dealt with in the order in which they were typed."""

from typing import TypeVar

from textual import events
from textual.message import Message

from tenaz.tui.base.sight import Sight
from tenaz.tui.screens.modal import Modal
from tenaz.tui.widgets.line import EDITS, Line

Result = TypeVar("Result")
WALKS = {"up": -1, "shift+tab": -1, "down": 1, "tab": 1}
"""Keys that go from line to line."""


class LineScreen(Modal[Result]):
    """Keys come from the application before anything else has looked at them; each is done with before the next."""

    read_first = False
    """It comes without being asked for: Enter counts once it can have been read."""

    def __init__(self) -> None:
        super().__init__()
        self._sight = Sight()

    def on_mount(self) -> None:
        """It can be read from here on."""
        self.call_after_refresh(self._sight.stands)

    class Typed(Message):
        """A key, in its turn."""

        def __init__(self, key: events.Key) -> None:
            super().__init__()
            self.key = key

    def takes(self, key: events.Key) -> bool:
        """Take letters, what edits a line, what walks over lines, Enter and Escape."""
        mine = key.is_printable or key.key in EDITS or key.key in WALKS or key.key == "escape"
        if mine:
            self.post_message(self.Typed(key))
        return mine

    async def on_line_screen_typed(self, message: Typed) -> None:
        """Deal with a key."""
        key, line = message.key, self.line_in_hand()
        if key.key == "escape":
            self.leave(None)
        elif key.key in WALKS:
            self.walk(WALKS[key.key])
        elif key.key == "enter":
            if not self.read_first or self._sight.was_read(key.time):
                self.entered(line.value)
        else:
            await line.typed(key)
            self.typed(line.value)

    def typed(self, value: str) -> None:
        """What stands in the line in hand may have changed."""

    def line_in_hand(self) -> Line:
        """The line that is typed into."""
        return self.focused if isinstance(self.focused, Line) else self.query(Line).first()

    def walk(self, step: int) -> None:
        """To the next line, or the one before."""
        lines = list(self.query(Line))
        self.set_focus(lines[(lines.index(self.line_in_hand()) + step) % len(lines)])

    def entered(self, value: str) -> None:
        """Enter was typed in a line."""
        raise NotImplementedError
