"""A line to type; what is wrong with it is said beside it, and what was typed stays."""

from collections.abc import Callable

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.screen import ModalScreen
from textual.widgets import Input, Static

from tenaz.core.errors import TenazError
from tenaz.core.plain_text import plain, plain_lines
from tenaz.tui.widgets.line import Line


class Prompt(ModalScreen[str | None]):
    """Asks for one line. ``check`` raises TenazError for what cannot be taken; dismissed with None by escape."""

    DEFAULT_CSS = """
    Prompt { align: center middle; background: $background 60%; }
    Prompt > Vertical { width: 76; height: auto; padding: 1 2; background: $background; border: solid $primary; }
    Prompt Static { width: 1fr; height: auto; }
    Prompt .title { color: $primary; text-style: bold; }
    Prompt .hint { color: $faint; }
    Prompt .trouble { color: $error; }
    Prompt Input { margin: 1 0; border: solid $frame; background: $background; }
    Prompt Input:focus { border: solid $primary; }
    """

    def __init__(self, title: str, hint: str, value: str, check: Callable[[str], object], select: bool = True) -> None:
        super().__init__()
        self.ready = False
        self._ahead: list[events.Key] = []
        """What was typed before the line could take it."""
        self._title, self._hint, self._value, self._check, self._select = title, hint, value, check, select

    def compose(self) -> ComposeResult:
        """Title, line, what is wrong, hint."""
        with Vertical():
            yield Static(plain(self._title), classes="title", markup=False)
            yield Line(plain(self._value), select_on_focus=self._select)
            yield Static("", classes="trouble", markup=False)
            yield Static(
                f"{plain_lines(self._hint)}\nEnter takes it, Escape leaves everything as it was.",
                classes="hint",
                markup=False,
            )

    def on_mount(self) -> None:
        """Take what was typed while the prompt came up."""
        self.query_one(Input).focus()
        self.call_after_refresh(self._catch_up)

    def take_ahead(self, key: events.Key) -> None:
        """A key that came before the line could take it."""
        self._ahead.append(key)

    def _catch_up(self) -> None:
        self.ready = True
        line = self.query_one(Line)
        for key in self._ahead:
            line.take(key)
        self._ahead.clear()

    def on_input_submitted(self, event: Input.Submitted) -> None:
        """Take the line when it can be taken."""
        try:
            self._check(event.value)
        except Exception as error:
            # What is typed is kept, whatever it led to.
            words = str(error) if isinstance(error, TenazError) else f"that cannot be taken ({type(error).__name__})"
            self.query_one(".trouble", Static).update(plain_lines(words))
            return
        self.dismiss(event.value)

    def on_key(self, event: events.Key) -> None:
        """Escape leaves."""
        if event.key == "escape":
            event.stop()
            self.dismiss(None)
