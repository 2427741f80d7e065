"""A line to type, perhaps with a list to pick from; what is wrong is said beside it, and what was typed stays."""

from collections.abc import Callable, Sequence

from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from tenaz.core.base.errors import TenazError
from tenaz.core.base.plain_text import plain, plain_lines
from tenaz.pictures.drawing.cells import wrapped
from tenaz.tui.screens.line_screen import LineScreen
from tenaz.tui.screens.picks import ABOUT_ROWS, Pick, draw_picks, narrowed
from tenaz.tui.widgets.line import Line
from tenaz.tui.widgets.panel import Panel

MOST_ROWS = 16
ROWS_BESIDE, WIDTH = 13, 112
"""What frame, title, line and what is wrong take of the screen; and how wide a prompt with a list is at most."""

TAKES = "Enter takes it, Escape leaves everything as it was."
MOVES = f"↑ ↓ puts one into the line, {TAKES}"


class Prompt(LineScreen[str | None]):
    """Asks for one line. ``check`` raises TenazError for what cannot be taken; dismissed with None by escape.

    With ``picks``, up and down put one after the other into the line; Enter takes the line as it stands, or, where that
    cannot be taken, the first pick that it begins.
    """

    DEFAULT_CSS = """
    Prompt { align: center middle; background: $background 60%; }
    Prompt > Vertical { width: 76; height: auto; padding: 1 2; background: $background; border: solid $primary; }
    Prompt > Vertical.wide { width: 112; max-width: 100%; }
    Prompt Static { width: 1fr; height: auto; }
    Prompt .title { color: $primary; text-style: bold; }
    Prompt .hint { color: $faint; }
    Prompt .trouble { color: $error; }
    Prompt Input { margin: 1 0; border: solid $frame; background: $background; }
    Prompt Input:focus { border: solid $primary; }
    Prompt Panel { padding: 0; margin: 0 0 1 0; }
    """

    def __init__(
        self,
        title: str,
        hint: str,
        value: str,
        check: Callable[[str], object],
        select: bool = True,
        picks: Sequence[Pick] = (),
        at: int | None = None,
        narrow: Callable[[Sequence[Pick], str], tuple[Pick, ...]] = narrowed,
        read_first: bool = False,
    ) -> None:
        super().__init__()
        self._title, self._hint, self._value, self._check, self._select = title, hint, value, check, select
        self._picks, self._at, self._narrow = tuple(picks), at, narrow
        self._shown = self._picks
        self.read_first = read_first

    def compose(self) -> ComposeResult:
        """Title, line, list, what is wrong, hint."""
        with Vertical(classes="wide" if self._picks else ""):
            yield Static(plain(self._title), classes="title", markup=False)
            yield Line(plain(self._value))
            if self._picks:
                yield Panel("picks")
            yield Static("", classes="trouble", markup=False)
            yield Static(
                f"{plain_lines(self._hint)}\n{MOVES if self._picks else TAKES}".lstrip(),
                classes="hint",
                markup=False,
            )

    def on_mount(self) -> None:
        """The line is in hand."""
        super().on_mount()
        line = self.query_one(Line)
        self.set_focus(line)
        if self._select:
            line.select_whole()
        if self._picks:
            self._draw()

    def take_picks(self, picks: Sequence[Pick]) -> None:
        """More is known of what can be picked; what is typed, and which is in hand, stays."""
        self._picks = tuple(picks)
        if self.is_mounted:
            self._shown = self._narrow(self._picks, self.query_one(Line).value)
            self._draw()

    def walk(self, step: int) -> None:
        """The next pick, or the one before, into the line."""
        if not self._shown:
            return
        before = -1 if self._at is None and step > 0 else self._at or 0
        self._take_pick((before + step) % len(self._shown))

    def _take_pick(self, at: int) -> None:
        self._at = at
        line = self.query_one(Line)
        line.value = plain(self._shown[at].text)
        line.select_whole()
        self._draw()

    def typed(self, value: str) -> None:
        """Narrow the list to what was typed."""
        if self._picks:
            self._shown = self._narrow(self._picks, value)
            self._at = 0 if value.strip() and 0 < len(self._shown) < len(self._picks) else None
            self._draw()

    def on_panel_picked(self, message: Panel.Picked) -> None:
        """A row was clicked: it is put into the line; clicked again, it is taken."""
        message.stop()
        at = int(message.target[1])
        if at == self._at:
            self.entered(self.query_one(Line).value)
        else:
            self._take_pick(at)

    def _draw(self) -> None:
        picks, at = self._shown, self._at
        panel = self.query_one("#picks", Panel)
        width, height = self.app.size
        told = sum(len(wrapped(line, min(width, WIDTH) - 6)) or 1 for line in (*self._hint.split("\n"), MOVES))
        most = max(3, min(MOST_ROWS, height - ROWS_BESIDE - ABOUT_ROWS - 1 - told))
        panel.styles.height = min(len(self._picks), most) + ABOUT_ROWS + 1
        panel.show(lambda width, height: draw_picks(picks, at, width, height))

    def entered(self, value: str) -> None:
        """Take the line when it can be taken; else what it begins."""
        trouble = self._trouble(value)
        if self._at is not None and (trouble or not value.strip()):
            picked = self._shown[self._at].text
            if not self._trouble(picked):
                value, trouble = picked, ""
        if trouble:
            self.query_one(".trouble", Static).update(plain_lines(trouble))
        else:
            self.leave(value)

    def _trouble(self, value: str) -> str:
        """Why a line cannot be taken; empty: it can. What is typed is kept, whatever it led to."""
        try:
            self._check(value)
        except TenazError as error:
            return str(error)
        except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
            return f"that cannot be taken ({type(error).__name__})"
        return ""
