"""The workbench: what is set, what is happening, what has been shown.

The first picture needs little; what works on a view (:mod:`tenaz.tui.session`) is imported when the book is open.
"""

import asyncio
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from textual import events
from textual.app import App, ComposeResult
from textual.containers import Horizontal
from textual.widgets import Static

from tenaz.core.base.errors import TenazError
from tenaz.core.base.plain_text import plain
from tenaz.tui.app.folding import Folding
from tenaz.tui.app.glance import Glance
from tenaz.tui.app.keys_taken import KeysTaken
from tenaz.tui.app.leaving import STAY, Leaving
from tenaz.tui.app.looks import Looks
from tenaz.tui.base.bridge import Told
from tenaz.tui.base.desk import Brought, Desk, Done, Troubled, Viewed
from tenaz.tui.base.theme import SOOT, other
from tenaz.tui.base.typed_ahead import TypedAhead
from tenaz.tui.widgets.keys import KeyBar
from tenaz.tui.widgets.next_step import NextStep
from tenaz.tui.widgets.panel import Panel
from tenaz.tui.widgets.rail import Rail

if TYPE_CHECKING:
    from textual.filter import LineFilter

    from tenaz.tui.session.session import Session
    from tenaz.workshop.looking.view import View
    from tenaz.workshop.shop.door import Door

NEXT_QUESTION_S = 1.5
"""So long after an answer the next question of a run may take to come: its keys are kept for it."""

FIRST_PAGE = "day"
BETWEEN_EARLY_S = 0.08
"""Between two keys that were typed before the book was open."""
"""What it opens on."""

LOOK_EVERY_S = 2.0
"""Who may only read sees what the other writes, this often."""

DEMO = "demo"
"""What the workbench is left with when the demo is to be opened."""


@dataclass(frozen=True, slots=True)
class Staying:
    """How what runs goes on without its workbench: ``serve`` is called in the desk's thread until it has ended,
    ``detach`` lets go of the terminal. ``open_door`` makes sure beforehand that it can be joined again;
    ``left_running`` says of which rig something was.
    """

    serve: Callable[["Door"], None]
    detach: Callable[[], None]
    open_door: Callable[[], None]
    left_running: Callable[[str], bool]


class Workbench(App[str]):
    """The application. ``opening`` is called in the desk's thread with where to send events; ``book`` is the file that
    it opens, where that is one, and ``shared`` says that it is a copy of one that others write in.
    """

    CSS_PATH = "app.tcss"
    TITLE = "Tenaz"
    ENABLE_COMMAND_PALETTE = False

    def __init__(
        self,
        opening: Callable[[Callable[[object], None]], "Door"],
        clean_up: Callable[[], None] = lambda: None,
        book: Path | None = None,
        demo: bool = False,
        staying: "Staying | None" = None,
        shared: bool = False,
    ) -> None:
        super().__init__()
        self._looks, self._folding = Looks(self), Folding(self)
        bridge = self._looks.bridge
        self.desk = Desk(self.post_message, lambda: opening(bridge), staying.serve if staying else lambda _: None)
        self._staying = staying
        self._glance = Glance(book, lambda: self._session.day if self._session is not None else None, shared)
        self._leaving = Leaving(self.desk, self._glance, clean_up, staying.detach if staying else None)
        self._leaving.busy = lambda: self._session is not None and self._session.busy
        self._session: Session | None = None
        self._early: list[tuple[str, tuple[object, ...]]] = []
        """Orders given before the book was open; carried out as soon as it is."""
        self._typed_early: list[events.Key] = []
        """Keys typed before: the letter of a menu and what is behind it belong together; looked at one by one then."""
        self._demo = demo
        self.typed_ahead = TypedAhead()
        self._keys = KeysTaken(self, self, self.typed_ahead)
        self._answered: object = None
        """The question that was answered last."""

    def get_line_filters(self) -> "Sequence[LineFilter]":
        """What every line goes through on its way to the terminal."""
        ours = self._looks.stand_ins
        return [*super().get_line_filters(), *([ours] if ours.enabled else [])]

    def get_theme_variable_defaults(self) -> dict[str, str]:
        """Our own variables, for themes that do not have them."""
        return SOOT.variables

    def compose(self) -> ComposeResult:
        """Rail, pages, knobs, page, evidence, next step, log, keys."""
        yield Rail()
        yield Panel("pages")
        with Horizontal(id="middle"):
            yield Panel("tracks")
            yield Panel("page")
            yield Panel("evidence")
        yield NextStep()
        yield Panel("log")
        yield KeyBar()
        yield Static("", id="small")

    def on_mount(self) -> None:
        """Show the first picture, and only then open the book behind it."""
        self.query_one(NextStep).focus()
        self._leaving.watch(self)
        # It opens on a page without the full list of knobs.
        self.screen.set_class(True, "wide")
        self._glance.show(self)
        self.call_after_refresh(self.desk.start)

    def on_resize(self, event: events.Resize) -> None:
        """Fit the window."""
        self._folding.fit(event.size)
        if self._session is not None:
            self._session.fold()

    def _handle_exception(self, error: Exception) -> None:
        """Whatever a key leads to, what runs goes on; only a workbench that never came up ends with its traceback."""
        if self._session is None:
            super()._handle_exception(error)
            return
        from tenaz.workshop.bench.mishaps import told  # noqa: PLC0415 - only what goes wrong needs it

        words = str(error) if isinstance(error, TenazError) else told(error, "What runs goes on.")
        self.query_one(NextStep).complain(words)

    async def action_quit(self) -> None:
        """Leave; ask while something runs."""
        if self._session is not None and self._session.aboard:
            self._session.order("show_stick")
            return
        if self._session is None or not self._session.busy:
            self._leaving.leave(self)
            return
        from tenaz.tui.screens.asking import Ask  # noqa: PLC0415 - the first picture does not wait for it

        goes_on = {"b": "leave it running in the background; tenaz joins it again"} if self._leaving.can_stay else {}
        answers = {**goes_on, "y": "stop it, record it as stopped by hand, and leave", "n": "stay here"}
        self.push_screen(Ask("A trial is under way.", answers), self._take_leave)

    def action_leave_now(self) -> None:
        """Leave without a question; what was ordered before is done first."""
        self._leaving.leave(self, running=True)

    def _take_leave(self, answer: str | None) -> None:
        if answer == "y":
            from tenaz.orders import Stop  # noqa: PLC0415 - it is there by now

            # What was joined is not closed with the desk.
            self.desk.order(Stop())
            self._leaving.leave(self, running=True)
        elif answer == "b":
            self._leave_running()

    def _leave_running(self, following: str = "") -> None:
        """What runs goes on in the background; ``following`` is the rig that is worked on next."""
        if self._staying is None:
            self.query_one(NextStep).complain("Nothing can be left running here: stop it first (s).")
            return
        try:
            self._staying.open_door()
        except TenazError as error:
            self.query_one(NextStep).complain(f"{error} It is not left: stay here, or stop it.")
            return
        self._leaving.leave_running(self, following)

    def action_work_on(self, rig: str) -> None:
        """Work on another rig; what runs on this one goes on in the background, what was left there is joined."""
        if self._session is not None and rig == self._session.rig:
            return
        if self._session is not None and self._session.busy and self._staying is not None:
            self._leave_running(rig)
        elif self._staying is not None and self._staying.left_running(rig):
            self._leaving.leave(self, then=f"{STAY}{rig}")
        else:
            from tenaz.orders import ChooseRig  # noqa: PLC0415 - it is there by now

            self.desk.order(ChooseRig(rig))

    def on_viewed(self, message: Viewed) -> None:
        """Show a fresh view; the first one begins the session."""
        if self._session is None:
            self._session = self._begin(message.view)
            for name, arguments in self._early:
                self.action_order(name, *arguments)
            self.run_worker(self._take_typed_early())
        else:
            if not self._session.busy:
                # Nothing runs that could ask: nothing more is typed ahead for a question.
                self.forget_typed(self._answered)
            self._session.take_view(message.view)

    def _begin(self, view: "View") -> "Session":
        """Begin to work on what was opened."""
        from tenaz.tui.base.settings_known import known_settings  # noqa: PLC0415
        from tenaz.tui.session.panels import Panels  # noqa: PLC0415 - the first picture does not wait for it
        from tenaz.tui.session.session import Session  # noqa: PLC0415
        from tenaz.tui.session.workspace import Workspace  # noqa: PLC0415

        work = Workspace.on(view)
        forward = partial(self._folding.show, "page")
        session = Session(work, Panels(self, self.desk, work, forward, self._looks.take, self.typed_ahead))
        session.take_view(view)
        session.join(view.now.asking)
        session.take_settings(*known_settings())
        unread = view.book.unread
        if unread:
            self.query_one(NextStep).complain(
                f"{len(unread)} damaged row{'s' if len(unread) != 1 else ''} of the book cannot be read and were "
                f"passed over, like {unread[0]}. All others are here; tenaz book names each."
            )
        if view.aboard is not None:
            session.stick.begin()
        elif view.book.fresh and not self._demo:
            self._welcome(session, view.book.place)
        elif self._demo:
            session.tell_story()
        if view.book.read_only:
            self.set_interval(LOOK_EVERY_S, self.desk.look)
        self.set_interval(LOOK_EVERY_S, session.look_around)
        return session

    def _welcome(self, session: "Session", place: str) -> None:
        from tenaz.tui.screens.welcome import Welcome  # noqa: PLC0415 - once in the life of a book

        def take(choice: str | None) -> None:
            if choice == DEMO:
                self._leaving.leave(self, then=DEMO)
            elif choice is not None:
                session.begin_with(choice)

        self.push_screen(Welcome(place), take)

    def on_troubled(self, message: Troubled) -> None:
        """Say what went wrong."""
        if message.fatal:
            self.query_one(NextStep).suggest("q   leave", "nothing was changed")
        if message.order is not None and self._session is not None:
            self.forget_typed(message.order)
            self._session.could_not(message.order)
        self.query_one(NextStep).complain(message.trouble)

    def on_brought(self, message: Brought) -> None:
        """What was asked for came: of a trial's load, or the picture of a line."""
        if self._session is not None:
            message.take(message.came)
            self.forget_typed(message.order)

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
            self._answered = message.question
            self.typed_ahead.wait(message.question, times_only=True)
            self.set_timer(NEXT_QUESTION_S, lambda: self.forget_typed(message.question))
            self._session.running.take_answer(message.answer, message.question)

    def on_panel_picked(self, message: Panel.Picked) -> None:
        """Something drawn was clicked: a key of the bar, a knob, a place on its track, a trial."""
        kind, which = message.target
        if kind == "key":
            self.run_worker(self.run_action(str(which)))
        elif self._session is not None:
            self._session.pick(message.panel, str(kind), which)

    async def on_event(self, event: events.Event) -> None:
        """Keys are looked at here, where they stand in the order in which they were typed."""
        if isinstance(event, events.Key) and not event.is_forwarded:
            if (self._session is None or self._typed_early) and self._keys.waits_for_the_book(event):
                self._typed_early.append(event)
                return
            if self._keys.take(event):
                return
        await super().on_event(event)

    async def _take_typed_early(self) -> None:
        """One by one, with a moment between, in which what a key opens comes; what is typed meanwhile stands behind."""
        while self._typed_early:
            key = self._typed_early[0]
            if not self._keys.take(key):
                await super().on_event(key)
            await asyncio.sleep(BETWEEN_EARLY_S)
            self._typed_early.pop(0)

    @property
    def takes_signs(self) -> bool:
        """Whether the knob in hand has values below nought: a minus begins one."""
        return self._session is not None and self._session.takes_signs

    @property
    def page_name(self) -> str:
        """The page in sight; before the book is open, the one that will be."""
        return self._session.page.name if self._session is not None else FIRST_PAGE

    def means_nothing(self, key: str) -> None:
        """A key that does nothing here: said where nobody types for something that comes."""
        self.typed_ahead.refused()
        if self._session is not None and not self._session.busy:
            self.query_one(NextStep).complain(f"{key} does nothing here. ; shows all that can be done, / finds it.")

    def forget_typed(self, what: object) -> None:
        """Nothing more is waited for what was typed ahead."""
        if self.typed_ahead.waits_for(what):
            self.typed_ahead.over()

    def action_order(self, name: str, *arguments: object) -> None:
        """Carry out a command of the session; where it makes no sense now, it says why."""
        if self._session is None:
            self._early.append((name, arguments))
        elif not self._session.order(name, *arguments):
            self.typed_ahead.refused()

    def action_fold(self) -> None:
        """The next panel, on a small screen."""
        self._folding.next()

    def action_theme(self) -> None:
        """The other theme."""
        self.theme = other(self.theme)

    def action_help(self) -> None:
        """What the page in sight shows, and all keys."""
        from tenaz.tui.screens.help import Help  # noqa: PLC0415 - the first picture does not wait for it

        if self._session is not None:
            self.push_screen(Help(self._session.page))
            return
        from tenaz.tui.pages.day import DayPage  # noqa: PLC0415 - it is what the first picture shows

        self.push_screen(Help(DayPage()))
