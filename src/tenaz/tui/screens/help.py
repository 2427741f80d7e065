"""Help: what the page in sight shows, then all keys; made from the commands and the marks."""

from collections.abc import Mapping

from rich.console import Group
from rich.markup import escape
from rich.style import Style
from rich.table import Table
from rich.text import Text
from textual import events
from textual.app import ComposeResult
from textual.containers import VerticalScroll
from textual.widgets import Static

from tenaz.pictures.drawing.marks import ALARM_MARKS, MARKS, NEXT, RUNNING, Role
from tenaz.tui.base.commands import BY_ACTION, COMMANDS, foot_of
from tenaz.tui.base.menus import MENUS, PATH, keys_of
from tenaz.tui.base.theme import role_styles
from tenaz.tui.pages.page import Page
from tenaz.tui.screens.modal import Modal

TWO_COLUMNS_FROM = 140
"""Terminal width in columns."""
LONGEST_KEY = 5

TRACK_SIGNS = (
    ("s", "stock"),
    ("▴", "dialled"),
    ("│", "set now"),
    ("╴ ▾", "where the edge of the purpose lies, and the hardest value that can be advised"),
    ("┄", "between what held and what failed"),
    ("╎", "advised ceiling"),
    ("▓", "above the hard ceiling"),
)


def _block(heading: str) -> Table:
    """Keys or signs on the left, what they mean on the right."""
    block = Table.grid(padding=(0, 2))
    block.add_column(min_width=LONGEST_KEY)
    block.add_row("", f"[bold]{heading}[/]")
    return block


def _keys() -> list[Table]:
    """What acts everywhere, then a block a menu."""
    everywhere = _block("everywhere")
    for command in COMMANDS:
        if command.key and not command.pages:
            everywhere.add_row(f"[bold]{escape(command.shown)}[/]", command.help)
    everywhere.add_row("[bold]0…9[/]", "type a value of the knob in hand, or a whole line")
    blocks = [everywhere]
    for menu in MENUS:
        block = _block(f"{menu.letter}   {menu.name}")
        for entry in menu.entries():
            block.add_row(f"[bold]{menu.letter}{PATH}{entry.letter}[/]", entry.words)
        blocks.append(block)
    return blocks


def _page(page: Page, styles: Mapping[Role, Style], width: int) -> Group:
    """What the page in sight tells of itself."""
    told = page.help
    colours = {mark.sign: styles[mark.role].color for mark in (*MARKS.values(), *ALARM_MARKS.values(), RUNNING, NEXT)}
    marks = Table.grid(padding=(0, 2))
    pairs = [
        (Text(sign, style=Style(color=colours.get(sign.strip()), bold=True)), Text(words)) for sign, words in told.marks
    ]
    if width >= TWO_COLUMNS_FROM:
        half = (len(pairs) + 1) // 2
        for left, right in zip(pairs[:half], [*pairs[half:], (Text(""), Text(""))], strict=False):
            marks.add_row(*left, *right)
    else:
        for pair in pairs:
            marks.add_row(*pair)
    own = "   ".join(f"[bold]{escape(shown)}[/] {word}" for shown, word in foot_of(page.name))
    keys = "   ".join(f"[bold]{escape(keys_of(action))}[/] {BY_ACTION[action].help}" for action in told.keys)
    return Group(
        Text.from_markup(f"[bold]the page {page.name}[/]"),
        Text(told.shows),
        Text(""),
        marks,
        Text(""),
        Text.from_markup(f"{own}   {keys}"),
        *((Text(""), Text(told.sums, style="italic")) if told.sums else ()),
        Text(""),
    )


def _signs() -> Table:
    block = _block("signs on the tracks")
    for sign, meaning in TRACK_SIGNS:
        block.add_row(sign, meaning)
    return block


class Help(Modal[None]):
    """A page over the workbench: the page in sight first, then all keys. Any key closes it."""

    DEFAULT_CSS = """
    Help { align: center middle; background: $background 60%; }
    Help > VerticalScroll { width: 150; max-width: 100%; height: 96%; padding: 1 2; }
    Help > VerticalScroll { background: $background; border: solid $primary; }
    Help > VerticalScroll { scrollbar-color: $frame; scrollbar-background: $background; scrollbar-size-vertical: 1; }
    Help Static { width: 1fr; height: auto; }
    """

    def __init__(self, page: Page) -> None:
        super().__init__()
        self._page = page

    def compose(self) -> ComposeResult:
        """The page in sight, keys by group, signs of the tracks."""
        width = self.app.size.width
        blocks = [*_keys(), _signs()]
        page = Table.grid(padding=(0, 2))
        if width < TWO_COLUMNS_FROM:
            page.add_row(Group(*blocks))
        else:
            rows = [block.row_count for block in blocks]
            left = min(range(1, len(rows)), key=lambda count: max(sum(rows[:count]), sum(rows[count:])))
            page.add_row(Group(*blocks[:left]), Group(*blocks[left:]))
        with VerticalScroll():
            yield Static(_page(self._page, role_styles(self.app.theme), width))
            yield Static("↑ ↓ scroll to all keys; any other key closes this", classes="hint", markup=False)
            yield Static("")
            yield Static(page)

    def on_key(self, event: events.Key) -> None:
        """Scroll, or close."""
        if event.key in ("up", "down", "pageup", "pagedown", "home", "end"):
            return
        event.stop()
        self.leave(None)
