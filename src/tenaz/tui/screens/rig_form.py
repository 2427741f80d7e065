"""A rig filled in by hand, line by line; a line that cannot be taken says so, and what was typed stays."""

from textual import events
from textual.app import ComposeResult
from textual.containers import Horizontal, Vertical, VerticalScroll
from textual.widgets import Input, Static

from tenaz.core.base.errors import TenazError
from tenaz.core.base.plain_text import plain
from tenaz.core.rigs.rig import Rig
from tenaz.intake.form.entry import Entry
from tenaz.intake.rig_form import ENTRIES, WrongEntry, filled_in, texts_of
from tenaz.tui.screens.line_screen import LineScreen
from tenaz.tui.widgets.line import Line

CHOOSES = {"left": -1, "right": 1}
LONGEST_IN_LINE = 84
"""Letters that a line has room for."""


class RigForm(LineScreen[Rig | None]):
    """Dismissed with the rig as filled in, or with None by escape."""

    DEFAULT_CSS = """
    RigForm { align: center middle; background: $background 60%; }
    RigForm > VerticalScroll {
        width: 112; max-width: 100%; height: 1fr; padding: 0 2; background: $background;
        border: solid $primary; border-bottom: none;
    }
    RigForm > .foot {
        width: 112; max-width: 100%; height: auto; padding: 0 2; background: $background;
        border: solid $primary; border-top: none;
    }
    RigForm .title { color: $primary; text-style: bold; }
    RigForm .group { color: $faint; margin-top: 1; }
    RigForm Horizontal { height: 1; }
    RigForm .label { width: 20; }
    RigForm Input { width: 1fr; height: 1; border: none; padding: 0 1; background: $frame 30%; }
    RigForm Input:focus { border: none; background: $frame; color: $primary; }
    RigForm .hint, RigForm .trouble { width: 1fr; height: auto; }
    RigForm .hint { color: $faint; }
    RigForm .button { width: auto; padding: 0 2; margin-right: 2; background: $frame; color: $primary; }
    RigForm .label-wide { width: 1fr; color: $faint; }
    RigForm .trouble { color: $error; }
    """

    def __init__(self, rig: Rig) -> None:
        super().__init__()
        self._rig = rig

    def compose(self) -> ComposeResult:
        """A line an entry, a heading a group; below, the hint of the line in hand and what is wrong."""
        texts, group = texts_of(self._rig), ""
        with VerticalScroll(can_focus=False):
            yield Static(plain(f"{self._rig.name}: what is known of it"), classes="title", markup=False)
            for entry in ENTRIES:
                if entry.group != group:
                    group = entry.group
                    yield Static(group, classes="group", markup=False)
                with Horizontal():
                    yield Static(entry.label, classes="label", markup=False)
                    yield Line(plain(texts[entry.key]), id=f"entry-{entry.key}")
        with Vertical(classes="foot"):
            yield Static("", classes="hint", markup=False)
            yield Static("", classes="trouble", markup=False)
            with Horizontal():
                yield Static("Enter keep all", id="keep", classes="button", markup=False)
                yield Static("Escape leave it", id="leave", classes="button", markup=False)
                yield Static("↑ ↓ line   ← → choice", classes="label-wide", markup=False)

    async def on_line_screen_typed(self, message: LineScreen.Typed) -> None:
        """Arrows go through the choices of a line that has some; every other key is as in any line."""
        entry, step = self._entry_in_hand(), CHOOSES.get(message.key.key)
        line = self.line_in_hand()
        if entry is not None and entry.choices and step and (not line.value or line.value in entry.choices):
            at = entry.choices.index(line.value) if line.value in entry.choices else -1
            line.value = entry.choices[(at + step) % len(entry.choices)]
            line.cursor_position = len(line.value)
            # By itself a message goes on to the class above.
            message.prevent_default()

    def on_click(self, event: events.Click) -> None:
        """What the keys do, by the mouse."""
        if event.widget is not None and event.widget.id == "keep":
            self.entered("")
        elif event.widget is not None and event.widget.id == "leave":
            self.leave(None)

    def _entry_in_hand(self) -> Entry | None:
        line = self.line_in_hand()
        return next((entry for entry in ENTRIES if line.id == f"entry-{entry.key}"), None)

    def on_descendant_focus(self, event: events.DescendantFocus) -> None:
        """Tell what belongs into the line in hand."""
        for entry in ENTRIES:
            if event.widget.id == f"entry-{entry.key}":
                value = self.query_one(f"#entry-{entry.key}", Input).value
                # A line longer than its place is shown whole while it is in hand.
                whole = f"\n{value}" if len(value) > LONGEST_IN_LINE else ""
                choices = f"  ·  ← → {' / '.join(entry.choices)}" if entry.choices else ""
                self.query_one(".hint", Static).update(f"{entry.label}: {entry.hint}{choices}{whole}")

    def entered(self, value: str) -> None:
        """Keep all lines when all can be taken."""
        del value
        texts = {entry.key: self.query_one(f"#entry-{entry.key}", Input).value for entry in ENTRIES}
        try:
            rig = filled_in(self._rig, texts)
        except WrongEntry as wrong:
            self.query_one(".trouble", Static).update(plain(str(wrong)))
            self.set_focus(self.query_one(f"#entry-{wrong.key}", Line))
            return
        except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
            words = str(error) if isinstance(error, TenazError) else f"that cannot be taken ({type(error).__name__})"
            self.query_one(".trouble", Static).update(plain(words))
            return
        self.leave(rig)
