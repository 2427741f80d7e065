"""The first start: a book that was made just now, and what one could begin with."""

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from tenaz.tui.screens.modal import Modal

CHOICES = (
    ("d", "demo", "look around in the demo: three rigs of a workshop, a climb half done; thrown away afterwards"),
    ("i", "this", "work on this machine: what can be read of it is there, the rest is filled in"),
    ("n", "new", "work on a rig that stands beside: you enter values there and tell here what happened"),
    ("p", "practise", "practise on a simulated rig, in this book"),
)


class Welcome(Modal[str | None]):
    """Dismissed with what was chosen; None by any other key."""

    DEFAULT_CSS = """
    Welcome { align: center middle; background: $background 60%; }
    Welcome > Vertical { width: 104; max-width: 100%; height: auto; padding: 1 2; background: $background; }
    Welcome > Vertical { border: solid $primary; }
    Welcome Static { width: 1fr; height: auto; }
    Welcome .title { color: $primary; text-style: bold; margin-bottom: 1; }
    Welcome .hint { color: $faint; margin-top: 1; }
    """

    def __init__(self, place: str) -> None:
        super().__init__()
        self._place = place

    def compose(self) -> ComposeResult:
        """What there is to begin with."""
        with Vertical():
            yield Static("a new book", classes="title")
            yield Static(
                f"Everything that is done is kept in {self._place}, before it is done: it survives the crash of the "
                f"machine under test. Begin with",
                markup=False,
            )
            yield Static("")
            for key, _, words in CHOICES:
                yield Static(f"  {key}   {words}", markup=False)
            yield Static(
                "any other key: just look. ? tells what is shown and all keys, wherever you are.", classes="hint"
            )

    def on_key(self, event: events.Key) -> None:
        """One key chooses."""
        event.stop()
        self.leave(next((name for key, name, _ in CHOICES if key == event.key), None))
