"""All keys and all signs, made from the commands and the marks."""

from itertools import groupby

from rich.table import Table
from textual import events
from textual.app import ComposeResult
from textual.containers import VerticalScroll
from textual.screen import ModalScreen
from textual.widgets import Static

from tenaz.charts.marks import MARKS, NEXT, RUNNING
from tenaz.tui.commands import COMMANDS
from tenaz.tui.theme import role_styles


class Help(ModalScreen[None]):
    """A page over the workbench; any key closes it."""

    DEFAULT_CSS = """
    Help { align: center middle; background: $background 60%; }
    Help > VerticalScroll { width: 92; height: 90%; padding: 1 2; background: $background; border: solid $primary; }
    Help Static { width: 1fr; height: auto; }
    """

    def compose(self) -> ComposeResult:
        """Keys by group, then signs."""
        styles = role_styles(self.app.theme)
        table = Table.grid(padding=(0, 2))
        for group, commands in groupby(COMMANDS, key=lambda command: command.group):
            table.add_row("", f"[bold]{group}[/]")
            for command in commands:
                table.add_row(f"[bold]{command.shown}[/]", command.help)
        table.add_row("", "")
        table.add_row("", "[bold]signs[/]")
        for mark in (*MARKS.values(), RUNNING, NEXT):
            table.add_row(f"[{styles[mark.role].color.name}]{mark.sign}[/]", mark.word)  # type: ignore[union-attr]
        for sign, meaning in (
            ("s", "stock"),
            ("▴", "dialled"),
            ("│", "in force"),
            ("▒", "guard band"),
            ("┄", "between what held and what failed"),
            ("╎", "advised ceiling"),
            ("▓", "above the hard ceiling"),
        ):
            table.add_row(sign, meaning)
        with VerticalScroll():
            yield Static(table)

    def on_key(self, event: events.Key) -> None:
        """Scroll, or close."""
        if event.key in ("up", "down", "pageup", "pagedown", "home", "end"):
            return
        event.stop()
        self.dismiss(None)
