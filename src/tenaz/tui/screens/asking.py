"""Asks before something that took time would be lost."""

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from tenaz.core.base.plain_text import plain
from tenaz.tui.screens.modal import Modal


class Ask(Modal[str]):
    """A question answered by one of some keys; dismissed with that key, or an empty text for leaving all as it is."""

    DEFAULT_CSS = """
    Ask { align: center middle; background: $background 60%; }
    Ask > Vertical { width: 72; height: auto; padding: 1 2; background: $background; border: solid $primary; }
    Ask Static { width: 1fr; height: auto; }
    Ask .keys { color: $primary; margin-top: 1; text-style: bold; }
    """

    def __init__(self, question: str, answers: dict[str, str]) -> None:
        super().__init__()
        self._question, self._answers = question, answers

    def compose(self) -> ComposeResult:
        """The question and its keys."""
        with Vertical():
            yield Static(plain(self._question), markup=False)
            yield Static(
                "\n".join(f"{key}  {words}" for key, words in self._answers.items()), classes="keys", markup=False
            )

    def takes(self, key: events.Key) -> bool:
        """Answer; in the order of the keys, so that what is typed behind an answer finds it given."""
        if key.key == "escape":
            self.leave("")
        elif key.key in self._answers:
            self.leave(key.key)
        return key.is_printable or key.key in ("escape", "enter")
