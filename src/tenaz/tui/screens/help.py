"""All keys and all signs, made from the commands and the marks."""

from collections.abc import Mapping
from itertools import groupby

from rich.console import Group
from rich.style import Style
from rich.table import Table
from textual import events
from textual.app import ComposeResult
from textual.containers import VerticalScroll
from textual.screen import ModalScreen
from textual.widgets import Static

from tenaz.charts.marks import MARKS, NEXT, RUNNING, Role
from tenaz.tui.commands import COMMANDS
from tenaz.tui.theme import role_styles

TWO_COLUMNS_FROM = 140
"""Terminal width in columns."""
LONGEST_KEY = max(len(command.shown) for command in COMMANDS)

OTHER_SIGNS = (
    ("s", "stock"),
    ("▴", "dialled"),
    ("│", "in force"),
    ("▒", "guard band; on the row cycle: data on the bus"),
    ("╴ ▾", "on a track: where the edge of the purpose lies, and the hardest value that can be advised"),
    ("┊ •", "hours to a failure: what the purpose tolerates, and a value's own"),
    ("┄", "between what held and what failed; on the row cycle: without effect, or too low"),
    ("↑", "chances stand at the easier value: the edge lies from there to the next row up"),
    ("╎", "advised ceiling; on the row cycle: least that the other timings ask for"),
    ("▓", "above the hard ceiling"),
)


def _block(heading: str) -> Table:
    """Keys or signs on the left, what they mean on the right."""
    block = Table.grid(padding=(0, 2))
    block.add_column(min_width=LONGEST_KEY)
    block.add_row("", f"[bold]{heading}[/]")
    return block


def _keys() -> list[Table]:
    """A block a group of commands."""
    blocks = []
    for group, commands in groupby(COMMANDS, key=lambda command: command.group):
        block = _block(group)
        for command in commands:
            block.add_row(f"[bold]{command.shown}[/]", command.help)
        blocks.append(block)
    return blocks


def _signs(styles: Mapping[Role, Style]) -> Table:
    block = _block("signs")
    for mark in (*MARKS.values(), RUNNING, NEXT):
        block.add_row(f"[{styles[mark.role].color.name}]{mark.sign}[/]", mark.word)  # type: ignore[union-attr]
    for sign, meaning in OTHER_SIGNS:
        block.add_row(sign, meaning)
    return block


class Help(ModalScreen[None]):
    """A page over the workbench; any key closes it."""

    DEFAULT_CSS = """
    Help { align: center middle; background: $background 60%; }
    Help > VerticalScroll { width: 150; max-width: 100%; height: 96%; padding: 1 2; }
    Help > VerticalScroll { background: $background; border: solid $primary; }
    Help Static { width: 1fr; height: auto; }
    """

    def compose(self) -> ComposeResult:
        """Keys by group, then signs."""
        blocks = [*_keys(), _signs(role_styles(self.app.theme))]
        page = Table.grid(padding=(0, 2))
        if self.app.size.width < TWO_COLUMNS_FROM:
            page.add_row(Group(*blocks))
        else:
            rows = [block.row_count for block in blocks]
            left = min(range(1, len(rows)), key=lambda count: max(sum(rows[:count]), sum(rows[count:])))
            page.add_row(Group(*blocks[:left]), Group(*blocks[left:]))
        with VerticalScroll():
            yield Static(page)

    def on_key(self, event: events.Key) -> None:
        """Scroll, or close."""
        if event.key in ("up", "down", "pageup", "pagedown", "home", "end"):
            return
        event.stop()
        self.dismiss(None)
