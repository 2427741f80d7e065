"""A routine composed in place: from loads and times, picked, ordered, repeated, beside each other or in turn."""

from collections.abc import Callable, Mapping, Sequence

from textual import events
from textual.app import ComposeResult
from textual.containers import Vertical
from textual.widgets import Static

from tenaz.core.base.errors import Refused
from tenaz.core.base.plain_text import plain_lines
from tenaz.core.loads.composing import Draft
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadKind
from tenaz.core.loads.routines import check_name, parse_routine
from tenaz.core.loads.text import load_text
from tenaz.pictures.load.routine import draw_routine
from tenaz.tui.screens.modal import Modal
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt
from tenaz.tui.widgets.panel import Panel

KEYS = "a add   e change   r repeat   - drop   < > earlier, later   b beside, apart   n known ones   u back   k keep"


MOST_ROWS, ROWS_BESIDE = 24, 12
CHANGES: dict[str, Callable[[Draft], Draft]] = {
    "less_than_sign": lambda draft: draft.move(-1),
    "shift+up": lambda draft: draft.move(-1),
    "greater_than_sign": lambda draft: draft.move(1),
    "shift+down": lambda draft: draft.move(1),
    "r": Draft.repeat,
    "minus": Draft.drop,
    "delete": Draft.drop,
    "b": Draft.beside,
}
WALKS = {"up": -1, "down": 1}


class Compose(Modal[Draft | None]):
    """Dismissed with the routine that is to run, or with None by escape. ``keep`` is called with a name and a line."""

    DEFAULT_CSS = """
    Compose { align: center middle; background: $background 60%; }
    Compose > Vertical { width: 124; max-width: 100%; height: auto; max-height: 96%; padding: 1 2; }
    Compose > Vertical { background: $background; border: solid $primary; }
    Compose Static { width: 1fr; height: auto; }
    Compose Panel { height: 20; padding: 0; margin: 1 0; }
    Compose .title { color: $primary; text-style: bold; }
    Compose .hint { color: $faint; }
    Compose .trouble { color: $error; }
    """

    def __init__(
        self,
        draft: Draft,
        heat: Mapping[LoadKind, float],
        loads: Sequence[Pick],
        routines: Sequence[Pick],
        own: Mapping[str, str],
        keep: Callable[[str, str], None],
    ) -> None:
        super().__init__()
        self._draft, self._heat, self._keep = draft, heat, keep
        self._loads, self._routines, self._own = tuple(loads), tuple(routines), dict(own)
        self._before: list[Draft] = []
        self._others: dict[str, Callable[[], object]] = {
            "escape": lambda: self.leave(None),
            "enter": self._run,
            "u": self._back,
            "a": self._add,
            "e": self._change,
            "n": self._ask_routine,
            "k": self._ask_name,
        }

    def compose(self) -> ComposeResult:
        """The steps, what is wrong, the keys."""
        with Vertical():
            yield Static("loads in turn at the dialled values, until one does not hold", classes="title")
            yield Panel("steps")
            yield Static("", classes="trouble", markup=False)
            yield Static(f"{KEYS}\nEnter runs them, Escape leaves everything as it was.", classes="hint", markup=False)

    def on_mount(self) -> None:
        """Draw it."""
        self._show()

    def _show(self, trouble: str = "") -> None:
        draft, heat = self._draft, self._heat
        panel = self.query_one("#steps", Panel)
        panel.styles.height = max(6, min(len(draft.steps) + 5, MOST_ROWS, self.app.size.height - ROWS_BESIDE))
        panel.show(lambda width, height: draw_routine(draft, heat, width, height))
        self.query_one(".trouble", Static).update(plain_lines(trouble))

    def _take(self, draft: Draft) -> None:
        if draft != self._draft:
            self._before.append(self._draft)
        self._draft = draft
        self._show()

    def on_panel_picked(self, message: Panel.Picked) -> None:
        """A step was clicked."""
        message.stop()
        self._take(self._draft.walk(int(message.target[1]) - self._draft.at))

    def on_key(self, event: events.Key) -> None:
        """One key, one change."""
        event.stop()
        try:
            if event.key in CHANGES:
                self._take(CHANGES[event.key](self._draft))
            elif event.key in WALKS:
                self._draft = self._draft.walk(WALKS[event.key])
                self._show()
            elif event.key in self._others:
                self._others[event.key]()
        except Refused as refused:
            self._show(str(refused))

    def _run(self) -> None:
        self._draft.check()
        self.leave(self._draft)

    def _back(self) -> None:
        if self._before:
            self._draft = self._before.pop()
            self._show()

    def _add(self) -> None:
        self._ask_load("", lambda text: self._take(self._draft.add((parse_load(text),))))

    def _change(self) -> None:
        step = self._draft.step
        if step is not None:
            self._ask_load(load_text(step), lambda text: self._take(self._draft.change(parse_load(text))))

    def _ask_load(self, now: str, take: Callable[[str], None]) -> None:
        prompt = Prompt("a load, and how long", "", now, parse_load, picks=self._loads, at=None if now else 0)
        self.app.push_screen(prompt, self._taken(take))

    def _ask_routine(self) -> None:
        def take(text: str) -> None:
            plans = parse_routine(text, own=self._own).plans
            self._take(Draft(plans, len(plans) - 1))

        prompt = Prompt(
            "begin with which routine",
            "what stands here now is one step back (u)",
            "",
            lambda text: parse_routine(text, own=self._own),
            picks=self._routines,
            at=0,
        )
        self.app.push_screen(prompt, self._taken(take))

    def _ask_name(self) -> None:
        self._draft.check()

        def take(name: str) -> None:
            self._own[name.strip()] = self._draft.text
            self._keep(name.strip(), self._draft.text)
            self._show()

        known = [Pick(name, line) for name, line in self._own.items()]
        prompt = Prompt("keep it under which name", "a name that is known is written over", "", check_name, picks=known)
        self.app.push_screen(prompt, self._taken(take))

    def _taken(self, take: Callable[[str], None]) -> Callable[[str | None], None]:
        def taken(text: str | None) -> None:
            if text is None:
                return
            try:
                take(text)
            except Refused as refused:
                self._show(str(refused))

        return taken
