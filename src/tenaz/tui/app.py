"""The workbench: what is set, what is happening, what has been shown.

The first picture needs little; what works on a view (:mod:`tenaz.tui.session`) is imported when the book is open.
"""

import asyncio
import os
import signal
import sys
import threading
from collections.abc import Callable, Iterable
from functools import partial
from typing import TYPE_CHECKING, Protocol, runtime_checkable

from textual import events
from textual.app import App, ComposeResult, SystemCommand
from textual.binding import Binding
from textual.containers import Horizontal
from textual.screen import Screen
from textual.widgets import Static

from tenaz.core.errors import TenazError
from tenaz.core.plain_text import plain
from tenaz.tui.bridge import Bridge, Told
from tenaz.tui.commands import COMMANDS
from tenaz.tui.desk import Brought, Desk, Done, Troubled, Viewed
from tenaz.tui.theme import CHALK, SOOT
from tenaz.tui.widgets.keys import KeyBar
from tenaz.tui.widgets.next_step import NextStep
from tenaz.tui.widgets.rail import Rail
from tenaz.tui.widgets.sheet import Sheet

if TYPE_CHECKING:
    from tenaz.tui.session import Session
    from tenaz.workshop.shop import Workshop

SMALLEST = (80, 24)
ROOMY = (126, 36)
"""Below that the panels fold: one at a time."""

PANELS = ("canvas", "tracks", "evidence", "log")


TERMINAL_LOOKED_AT_S = 1.0

IN_TURN = ("0", "enter")
"""Keys that must not overtake the digits typed before them: a binding acts at once, what is typed takes its turn."""


@runtime_checkable
class TakesAhead(Protocol):
    """A screen that takes what was typed before it came up."""

    ready: bool
    """Whether its line takes keys by itself."""

    def take_ahead(self, typed: str) -> None:
        """A letter, or, when empty, Enter."""
        ...


def terminal_is_there() -> bool:
    """Whether keys can still come and pictures still go."""
    try:
        return sys.__stdin__ is not None and os.isatty(sys.__stdin__.fileno())
    except (OSError, ValueError):
        return False


class Workbench(App[None]):
    """The application. ``opening`` is called in the desk's thread with where to send events."""

    CSS_PATH = "app.tcss"
    TITLE = "Tenaz"
    BINDINGS = [  # noqa: RUF012 - Textual reads it from the class
        Binding(command.key, command.binding, command.help, show=False, priority=command.key == "tab")
        for command in COMMANDS
        if command.key not in IN_TURN
    ]

    def __init__(
        self, opening: Callable[[Callable[[object], None]], "Workshop"], clean_up: Callable[[], None] = lambda: None
    ) -> None:
        super().__init__()
        self._clean_up = clean_up
        self._ending = False
        self.register_theme(SOOT)
        self.register_theme(CHALK)
        self.theme = SOOT.name
        bridge = Bridge(self.post_message)
        self._desk = Desk(self.post_message, lambda: opening(bridge))
        self._session: Session | None = None
        self._early: list[tuple[str, tuple[object, ...]]] = []
        """Orders given before the book was open; carried out as soon as it is."""
        self._panel = 0

    def get_theme_variable_defaults(self) -> dict[str, str]:
        """Our own variables, for themes that do not have them."""
        return SOOT.variables

    def compose(self) -> ComposeResult:
        """Rail, knobs, canvas, evidence, next step, log, keys."""
        yield Rail()
        with Horizontal(id="middle"):
            yield Sheet("tracks")
            yield Sheet("canvas")
            yield Sheet("evidence")
        yield NextStep()
        yield Sheet("log")
        yield KeyBar()
        yield Static("", id="small")

    def on_mount(self) -> None:
        """Show the first picture, and only then open the book behind it."""
        self.query_one(NextStep).focus()
        for number in (signal.SIGTERM, signal.SIGHUP):
            asyncio.get_running_loop().add_signal_handler(number, self._end_for, number)
        self.set_interval(TERMINAL_LOOKED_AT_S, self._look_at_terminal)
        self.call_after_refresh(self._desk.start)

    def on_resize(self, event: events.Resize) -> None:
        """Fold on a small screen; say so on one that is too small."""
        width, height = event.size
        too_small = width < SMALLEST[0] or height < SMALLEST[1]
        folded = not too_small and (width < ROOMY[0] or height < ROOMY[1])
        self.screen.set_class(too_small, "small")
        self.screen.set_class(folded, "folded")
        self.query_one(KeyBar).fold(folded)
        self.query_one("#small", Static).update(
            f"Tenaz needs {SMALLEST[0]}×{SMALLEST[1]} cells; this window has {width}×{height}.\n"
            f"Make it larger, or its letters smaller. Nothing is lost, and what runs goes on."
        )
        self._show_panel()

    def _handle_exception(self, error: Exception) -> None:
        """Whatever a key leads to, what runs goes on; only a workbench that never came up ends with its traceback."""
        if self._session is None:
            super()._handle_exception(error)
            return
        from tenaz.workshop.mishaps import told  # noqa: PLC0415 - only what goes wrong needs it

        words = str(error) if isinstance(error, TenazError) else told(error, "What runs goes on.")
        self.query_one(NextStep).complain(words)

    def _end_for(self, number: int) -> None:
        """Asked from outside to end: what runs is stopped and recorded, the book closed, the terminal restored."""
        if not self._ending:
            self._ending = True
            threading.Thread(target=self._end, args=(number,), name="end", daemon=True).start()

    def _end(self, number: int) -> None:
        self._desk.close()
        if terminal_is_there():
            self.call_from_thread(self.exit, return_code=128 + number)
            return
        # Nothing can be drawn any more, and whoever tries waits for ever.
        self._clean_up()
        os._exit(128 + number)

    def _look_at_terminal(self) -> None:
        """A terminal that is gone tells nobody where hang-ups are ignored."""
        if not terminal_is_there():
            self._end_for(signal.SIGHUP)

    async def action_quit(self) -> None:
        """Leave; ask while something runs."""
        if self._session is None or not self._session.busy:
            self._leave_if(True)
            return
        from tenaz.tui.screens.confirm import Confirm  # noqa: PLC0415 - the first picture does not wait for it

        self.push_screen(
            Confirm("A trial is under way. Leave and record it as stopped by hand?", "stop it and leave", "stay"),
            self._leave_if,
        )

    def _leave_if(self, leave: bool | None) -> None:
        if leave:
            self.run_worker(self._leave, thread=True)

    def _leave(self) -> None:
        self._desk.close()
        self.call_from_thread(self.exit)

    def on_viewed(self, message: Viewed) -> None:
        """Show a fresh view; the first one begins the session."""
        if self._session is None:
            from tenaz.tui.session import Session  # noqa: PLC0415 - the first picture does not wait for it

            self._session = Session(self, self._desk, message.view)
            for name, arguments in self._early:
                self.action_order(name, *arguments)
        else:
            self._session.view_again(message.view)

    def on_troubled(self, message: Troubled) -> None:
        """Say what went wrong."""
        if message.fatal:
            self.query_one(NextStep).suggest("q   leave", "nothing was changed")
        self.query_one(NextStep).complain(message.trouble)

    def on_brought(self, message: Brought) -> None:
        """A past trial's load came from the book."""
        if self._session is not None:
            self._session.brought(message.trial_id, message.known)

    def on_done(self, message: Done) -> None:
        """Say what came of an order."""
        self.notify(plain(message.text), markup=False)

    def on_told(self, message: Told) -> None:
        """Something happened in the engine."""
        if self._session is not None:
            self._session.hear(message.event)

    def on_next_step_answered(self, message: NextStep.Answered) -> None:
        """The technician answered a question."""
        if self._session is not None:
            self._session.answered(message.answer)

    def on_sheet_picked(self, message: Sheet.Picked) -> None:
        """Something drawn was clicked: a key of the bar, a knob, a place on its track, a trial."""
        kind, which = message.target
        if kind == "key":
            self.run_worker(self.run_action(str(which)))
        else:
            self.action_order("picked", kind, which)

    async def on_event(self, event: events.Event) -> None:
        """Keys are looked at here, where they stand in the order in which they were typed."""
        if isinstance(event, events.Key) and not event.is_forwarded and self._take_key(event):
            return
        await super().on_event(event)

    def _take_key(self, event: events.Key) -> bool:
        """What was typed in a burst comes faster than the prompt that it is meant for: it gets all of it, in order.

        Digits begin a value, from 1 on; 0 dials stock, Enter follows what is next.
        """
        typed = "" if event.key == "enter" else event.character if event.is_printable else None
        if typed is None:
            return False
        if isinstance(self.screen, TakesAhead):
            if not self.screen.ready:
                self.screen.take_ahead(typed)
            return not self.screen.ready
        if len(self.screen_stack) > 1 or typed not in ("", *"0123456789"):
            return False
        self.action_order(*{"0": ("stock",), "": ("follow",)}.get(typed, ("type_value", typed)))
        return True

    def title_terminal(self, text: str) -> None:
        """Put a line into the title of the terminal's window: it is seen when the window is not."""
        if self._driver is not None:
            self._driver.write(f"\x1b]2;{plain(text)}\x07")

    def action_order(self, name: str, *arguments: object) -> None:
        """Carry out a command of the session."""
        if self._session is None:
            self._early.append((name, arguments))
        else:
            getattr(self._session, name)(*arguments)

    def action_fold(self) -> None:
        """The next panel, on a small screen."""
        self._panel = (self._panel + 1) % len(PANELS)
        self._show_panel()

    def show_canvas(self) -> None:
        """On a small screen: the panel of the canvases, because something was done there."""
        self._panel = PANELS.index("canvas")
        self._show_panel()

    def _show_panel(self) -> None:
        for number, panel in enumerate(PANELS):
            self.screen.set_class(number == self._panel, f"panel-{panel}")

    def action_theme(self) -> None:
        """The other theme."""
        self.theme = CHALK.name if self.theme == SOOT.name else SOOT.name

    def action_help(self) -> None:
        """All keys."""
        from tenaz.tui.screens.help import Help  # noqa: PLC0415 - the first picture does not wait for it

        self.push_screen(Help())

    def get_system_commands(self, screen: Screen[object]) -> Iterable[SystemCommand]:
        """Every command, for the palette."""
        del screen
        for command in COMMANDS:
            if command.in_palette:
                yield SystemCommand(command.help, f"key {command.shown}", partial(self.run_action, command.binding))
