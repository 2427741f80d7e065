"""The menus: one letter opens one, another does what stands beside it; however fast they are typed."""

from collections.abc import Callable

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from tenaz.pictures.status.menu import MenuLine, draw_menu
from tenaz.tui.base.menus import MENUS, Entry, Menu
from tenaz.tui.base.typed_ahead import BURST_S
from tenaz.tui.screens.modal import Modal
from tenaz.tui.widgets.panel import Panel


class MenuScreen(Modal[Entry | None]):
    """Dismissed with the entry that was chosen; None by Escape. ``why_not`` tells why an action makes no sense now."""

    DEFAULT_CSS = """
    MenuScreen { align: center middle; background: $background 60%; }
    MenuScreen > Vertical { width: 100; max-width: 100%; height: auto; max-height: 100%; padding: 0 1; }
    MenuScreen > Vertical { background: $background; border: solid $primary; }
    MenuScreen .title { color: $primary; text-style: bold; width: 1fr; height: 1; padding: 0 1; }
    MenuScreen .hint { color: $faint; width: 1fr; height: auto; padding: 0 1; }
    """

    def __init__(self, why_not: Callable[[str], str], letter: str = "") -> None:
        super().__init__()
        self._why_not = why_not
        self._open: Menu | None = next((menu for menu in MENUS if menu.letter == letter), None)
        self._trouble = ""
        self._refused_s = -BURST_S

    def compose(self) -> ComposeResult:
        """All menus; then the one that was opened."""
        with Vertical():
            yield Static("", classes="title", markup=False)
            yield Panel("menu-lines")
            yield Static("", classes="hint", markup=False)

    def on_mount(self) -> None:
        """The menus, or what was opened before there was anything to be seen."""
        self._show()

    def takes(self, key: events.Key) -> bool:
        """A letter opens a menu, or is an entry; Escape and Backspace go back."""
        letter = key.character or ""
        if key.is_printable and key.time - self._refused_s < BURST_S:
            # What was typed behind a letter that does nothing was meant for what that would have opened.
            self._refused_s = key.time
            return True
        self._trouble = ""
        if key.key in ("escape", "backspace"):
            back, self._open = self._open is None or key.key == "escape", None
            if back:
                self.leave(None)
                return True
        elif self._open is None:
            self._open = next((menu for menu in MENUS if menu.letter == letter), None)
            self._refused_s = key.time if self._open is None else self._refused_s
        else:
            self._choose(next((one for one in self._open.entries() if one.letter == letter), None), key.time)
        if self.is_mounted:
            self._show()
        return True

    def _choose(self, entry: Entry | None, pressed_s: float) -> None:
        self._trouble = self._why_not(entry.action) if entry is not None else ""
        if entry is None or self._trouble:
            self._refused_s = pressed_s
        else:
            self.leave(entry)

    def on_panel_picked(self, message: Panel.Picked) -> None:
        """A line was clicked."""
        message.stop()
        letter = str(message.target[1])
        self.takes(events.Key(letter, letter))

    def _show(self) -> None:
        if self._open is None:
            title, lines = "menus", tuple(MenuLine(one.letter, f"{one.name}: {one.about}") for one in MENUS)
        else:
            title = self._open.name
            lines = tuple(
                MenuLine(one.letter, one.words, one.key, self._why_not(one.action)) for one in self._open.entries()
            )
        self.query_one(".title", Static).update(title)
        panel = self.query_one("#menu-lines", Panel)
        panel.styles.height = len(lines)
        panel.show(lambda width, height: draw_menu(lines, width, height))
        back = "a letter opens it" if self._open is None else "a letter does it, Backspace goes back"
        self.query_one(".hint", Static).update(self._trouble or f"{back}, Escape leaves all as it was")
