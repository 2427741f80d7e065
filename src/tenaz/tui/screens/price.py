"""What an act costs a real machine, before it is done: Enter does it, anything else does not."""

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from tenaz.advice.prices import Price
from tenaz.core.base.plain_text import plain
from tenaz.tui.base.sight import READ_S, Sight
from tenaz.tui.screens.modal import Modal


class PriceScreen(Modal[bool]):
    """Dismissed with whether it is to be done. Enter counts once what it says can have been read: typed ahead it was
    meant for something else.
    """

    DEFAULT_CSS = """
    PriceScreen { align: center middle; background: $background 60%; }
    PriceScreen > Vertical { width: 84; max-width: 100%; height: auto; padding: 1 2; }
    PriceScreen > Vertical { background: $background; border: solid $primary; }
    PriceScreen Static { width: 1fr; height: auto; }
    PriceScreen .what { color: $primary; text-style: bold; }
    PriceScreen .keys { margin-top: 1; text-style: bold; }
    """

    def __init__(self, price: Price) -> None:
        super().__init__()
        self._price = price
        self._sight = Sight()

    def compose(self) -> ComposeResult:
        """What, what it costs, how it is done."""
        with Vertical():
            yield Static(plain(self._price.what), classes="what", markup=False)
            yield Static("\n".join(plain(line) for line in self._price.costs), markup=False)
            yield Static("Esc leaves all as it is", classes="keys", markup=False)

    def on_mount(self) -> None:
        """It can be read from here on; what Enter does is said once it does it."""
        self.call_after_refresh(lambda: self.set_timer(READ_S, self._was_read))

    def _was_read(self) -> None:
        self._sight.stands()
        self.query_one(".keys", Static).update(f"⏎ {self._price.does}   Esc leaves all as it is")

    def takes(self, key: events.Key) -> bool:
        """Enter does it, Escape does not, a letter does nothing."""
        if key.key == "escape":
            self.leave(False)
        elif key.key == "enter" and self._sight.was_read(key.time, 0):
            self.leave(True)
        return key.is_printable or key.key in ("escape", "enter")
