"""A line to type; what is wrong with it is said beside it, and what was typed stays."""

from collections.abc import Callable

from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from tenaz.core.errors import TenazError
from tenaz.core.plain_text import plain, plain_lines
from tenaz.tui.screens.line_screen import LineScreen
from tenaz.tui.widgets.line import Line


class Prompt(LineScreen[str | None]):
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
        self._title, self._hint, self._value, self._check, self._select = title, hint, value, check, select

    def compose(self) -> ComposeResult:
        """Title, line, what is wrong, hint."""
        with Vertical():
            yield Static(plain(self._title), classes="title", markup=False)
            yield Line(plain(self._value))
            yield Static("", classes="trouble", markup=False)
            yield Static(
                f"{plain_lines(self._hint)}\nEnter takes it, Escape leaves everything as it was.",
                classes="hint",
                markup=False,
            )

    def on_mount(self) -> None:
        """The line is in hand."""
        line = self.query_one(Line)
        self.set_focus(line)
        if self._select:
            line.select_whole()

    def entered(self, value: str) -> None:
        """Take the line when it can be taken."""
        try:
            self._check(value)
        except Exception as error:
            # What is typed is kept, whatever it led to.
            words = str(error) if isinstance(error, TenazError) else f"that cannot be taken ({type(error).__name__})"
            self.query_one(".trouble", Static).update(plain_lines(words))
            return
        self.dismiss(value)
