"""The first question aboard the stick: go on, or the workbench; left alone it goes on by itself."""

import time
from typing import TYPE_CHECKING

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from tenaz.core.base.plain_text import plain
from tenaz.tui.screens.modal import Modal

if TYPE_CHECKING:
    from tenaz.aboard.ending import Ending

PATIENCE_S = 30.0
"""So long it waits for a key before it goes on by itself."""

CHOICES = (
    ("enter", "⏎", "go", "go on now"),
    ("w", "w", "work", "the workbench"),
    ("l", "l", "ladder", "one module after the other: which is bad, or which slot"),
    ("e", "e", "change", "another standing order: loads, starts, what after a failure"),
    ("c", "c", "code", "what came of it, to be photographed with a telephone"),
    ("k", "k", "keyboard", "another layout of the keyboard"),
    ("r", "r", "restart", "restart the machine, to set something in its firmware"),
    ("o", "o", "off", "switch it off"),
)


class AboardQuestion(Modal[str]):
    """Dismissed with what was chosen; ``story`` tells where it stands, ``coming`` what is done when nobody answers (and
    ``waits`` whether that is anything at all).
    """

    DEFAULT_CSS = """
    AboardQuestion { align: center middle; background: $background 60%; }
    AboardQuestion > Vertical { width: 100; max-width: 100%; height: auto; max-height: 100%; padding: 1 2; }
    AboardQuestion > Vertical { background: $background; border: solid $primary; }
    AboardQuestion Static { width: 1fr; height: auto; }
    AboardQuestion .title { color: $primary; text-style: bold; margin-bottom: 1; }
    AboardQuestion .coming { color: $success; margin: 1 0; }
    AboardQuestion .left { color: $primary; }
    AboardQuestion .fine, AboardQuestion .wrong { text-style: bold reverse; padding: 1 2; margin-bottom: 1; }
    AboardQuestion .fine { color: $success; }
    AboardQuestion .wrong { color: $error; }
    """

    def __init__(
        self, rig: str, story: tuple[str, ...], coming: str, waits: bool, ended: "Ending | None" = None
    ) -> None:
        super().__init__()
        self._ended = ended
        self._rig, self._story, self._coming = rig, story, coming
        self._until_s: float | None = None if waits else time.monotonic() + PATIENCE_S

    def compose(self) -> ComposeResult:
        """Where it stands, what comes, what one can do."""
        with Vertical():
            yield Static(f"Tenaz, from its stick: {plain(self._rig)}", classes="title", markup=False)
            if self._ended is not None:
                yield Static(self._ended.headline, classes="fine" if self._ended.fine else "wrong", markup=False)
                for line in self._ended.lines:
                    yield Static(plain(line), markup=False)
                yield Static("")
            for line in self._story:
                yield Static(plain(line), markup=False)
            yield Static(f"next: {plain(self._coming)}", classes="coming", markup=False)
            for _, shown, _, words in CHOICES:
                yield Static(f"  {shown}   {words}", markup=False)
            yield Static("", classes="left", id="left")

    def on_mount(self) -> None:
        """Count down."""
        self._tell()
        self.set_interval(0.5, self._tell)

    def _tell(self) -> None:
        words = "It waits for you."
        if self._until_s is not None:
            left_s = self._until_s - time.monotonic()
            if left_s <= 0:
                self.leave("go")
                return
            words = f"Left alone it goes on in {left_s:.0f} s; any key stops that."
        self.query_one("#left", Static).update(f"\n{words}")

    def on_key(self, event: events.Key) -> None:
        """Somebody is here: nothing goes on by itself any more."""
        event.stop()
        self._until_s = None
        chosen = next((name for key, _, name, _ in CHOICES if key == event.key), None)
        if chosen is not None:
            self.leave(chosen)
        else:
            self._tell()


class SquareCode(Modal[None]):
    """What came of it as a square code; where the screen is too small for that, in letters."""

    DEFAULT_CSS = """
    SquareCode { align: center middle; background: $background 60%; }
    SquareCode > Vertical { width: auto; max-width: 100%; height: auto; padding: 0 1; background: $background; }
    SquareCode .code { width: auto; height: auto; color: black; background: white; }
    SquareCode .words { width: 100; max-width: 100%; height: auto; }
    """

    def __init__(self, ended: "Ending") -> None:
        super().__init__()
        self._ended = ended

    def compose(self) -> ComposeResult:
        """The code, or the words."""
        from tenaz.papers.square_code import square_rows  # noqa: PLC0415 - only where it is shown

        rows = square_rows(self._ended.brief)
        with Vertical():
            if len(rows) + 2 <= self.app.size.height and len(rows[0]) + 2 <= self.app.size.width:
                yield Static("\n".join(rows), classes="code", markup=False)
            else:
                yield Static(plain(self._ended.brief.replace("; ", "\n")), classes="words", markup=False)
            yield Static("any key goes back", markup=False)

    def on_key(self, event: events.Key) -> None:
        """Back."""
        event.stop()
        self.leave(None)
