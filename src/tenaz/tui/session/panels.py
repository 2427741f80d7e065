"""The panels brought up to date from what is worked on."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Any, TypeVar

from tenaz.advice.coming import Coming
from tenaz.advice.tuning import next_step
from tenaz.core.base.plain_text import plain
from tenaz.core.ports.events import MeasureProgressed
from tenaz.core.sensors.alarms import MEANS
from tenaz.orders import SetPace
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.sheet.clocks import CLOCK_KNOBS, clocks_line
from tenaz.pictures.sheet.track import tracks_of
from tenaz.pictures.sheet.tracks import draw_tracks
from tenaz.pictures.status.log import draw_log
from tenaz.pictures.status.pages import draw_pages
from tenaz.tui.base.commands import foot_of
from tenaz.tui.base.typed_ahead import TypedAhead
from tenaz.tui.pages.strip import PAGES
from tenaz.tui.session.around import (
    ASKED_LATER,
    SAID_AS,
    edges_on,
    evidence_drawing,
    fit_log,
    footed,
    notices_above_next,
)
from tenaz.tui.session.workspace import PACES, Workspace
from tenaz.tui.widgets.keys import KeyBar
from tenaz.tui.widgets.next_step import NextStep
from tenaz.tui.widgets.panel import Drawing, Panel
from tenaz.tui.widgets.rail import Rail

if TYPE_CHECKING:
    from textual.app import App
    from textual.screen import ModalScreen

    from tenaz.orders import Brings, Order
    from tenaz.settings.model import Settings
    from tenaz.tui.base.desk import Desk

Answer = TypeVar("Answer")


class Panels:
    """The hands of the workbench: they draw, ask, tell, and give orders to the desk."""

    def __init__(
        self,
        app: "App[Any]",
        desk: "Desk",
        work: Workspace,
        to_page: Callable[[], None],
        apply: Callable[["Settings"], None] = lambda _: None,
        typed_ahead: TypedAhead | None = None,
    ) -> None:
        self._app = app
        self._apply = apply
        self._typed_ahead = typed_ahead or TypedAhead()
        self._desk = desk
        self._work = work
        self._to_page = to_page
        self._rail, self._next = app.query_one(Rail), app.query_one(NextStep)

    # -- asking and telling ----------------------------------------

    def ask(self, screen: "ModalScreen[Answer]", take: Callable[[Answer | None], Any]) -> None:
        """Put a question over the workbench; what was typed for it already is its."""
        self._app.push_screen(screen, take)
        self._typed_ahead.over(screen)

    def bring(self, order: "Brings[Answer]", take: Callable[[Answer], None]) -> None:
        """Give an order whose answer comes to ``take``; what was complained of stays: nobody did anything."""
        self._desk.order(order, take)

    def wait_for(self, order: "Brings[Answer]", take: Callable[[Answer], None]) -> None:
        """Give an order whose answer opens a dialog: what is typed until then is meant for that."""
        self._typed_ahead.wait(order)
        self.complain("")
        self._desk.order(order, take)

    def complain(self, trouble: str) -> None:
        """Say what went wrong and what to do."""
        self._next.complain(trouble)

    def complaint_read(self) -> bool:
        """Take away what was complained of; whether there was anything."""
        complained = self._next.complains
        self._next.complain("")
        return complained

    def tell(self, text: str, title: str = "") -> None:
        """Say something in passing."""
        self._app.notify(text, title=title, markup=False)

    def give(self, order: "Order[Any]") -> None:
        """Give an order to the desk; what was complained of before it is settled, or will be said again."""
        if not isinstance(order, SetPace):
            self.complain("")
        self._desk.order(order)

    def work_on(self, rig: str) -> None:
        """Work on another rig; the application knows what goes on meanwhile."""
        self.complain("")
        self._app.call_next(self._app.run_action, f"work_on({rig!r})")

    def hold_typed(self) -> None:
        """A command waits for the run's end: what is typed behind it is meant for what it will open."""
        self._typed_ahead.wait(self)

    def let_typed_go(self) -> None:
        """What waited was carried out."""
        if self._typed_ahead.waits_for(self):
            self._typed_ahead.over(self._app.screen)

    def act(self, action: str) -> None:
        """Have the application itself do something, by the name of its action."""
        self._app.call_next(self._app.run_action, action)

    def leave(self) -> None:
        """Leave the workbench once what was ordered is done."""
        self._app.call_next(self._app.run_action, "leave_now")

    def look(self) -> None:
        """Have a fresh view taken soon."""
        self._desk.look()

    def show_question(self, question: Any) -> None:
        """Show a question whose choices are keys; None takes it back."""
        self._next.ask(question)
        if question is not None:
            self._typed_ahead.over()
        self._rail.show_waiting(question is not None)
        notices_above_next(self._app)
        self._app.query_one(KeyBar).leave_to(
            (choice.key, choice.label) for choice in (question.choices if question else ())
        )

    def show_trial(self, trial: Any) -> None:
        """Light a trial's station on the rail."""
        self._rail.show_trial(trial)

    def show_progress(self, event: Any) -> None:
        """Show a load under way on the rail."""
        self._rail.show_measure(event) if isinstance(event, MeasureProgressed) else self._rail.show_progress(event)

    def title(self, text: str) -> None:
        """Put a line into the title of the terminal's window: it is seen when the window is not."""
        driver = self._app._driver
        if driver is not None:
            driver.write(f"\x1b]2;{plain(text)}\x07")

    def ring(self) -> None:
        """Ring the bell, where that is wanted."""
        if self._work.settings.screen.bell:
            self._app.bell()

    def refused_keys(self) -> tuple[str, ...]:
        """What was set as a key and cannot be one, in words."""
        return self._app._looks.refused if hasattr(self._app, "_looks") else ()

    def apply_settings(self, settings: "Settings") -> None:
        """Look and answer as was set."""
        self._apply(settings)

    def bring_page_forward(self) -> None:
        """On a small screen: the panel of the pages, because something was done there."""
        self._to_page()

    def scroll(self, step: int) -> None:
        """Show what lies above or below on the page in sight."""
        self._work.pages.shown.scroll(self._work, step, self._panel("page").size.width)
        self.show()

    # -- drawing ----------------------------------------

    def show(self) -> None:
        """Bring every panel up to date."""
        work = self._work
        view, rig, dial = work.view, work.view.rig, work.dial
        self._rail.show_rig(rig.name, view.bench)
        if "tracks" in work.pages.shown.beside:
            self._show_tracks()
        self._panel("page").show(self._page_drawing())
        page = work.pages.shown.name
        self._app.screen_stack[0].set_class("tracks" not in work.pages.shown.beside, "wide")
        self._panel("pages").show(lambda width, _: draw_pages(PAGES, page, width))
        work.picture()
        # First what was dialled is seen; what is thought of it is worked out beside that.
        self._app.call_after_refresh(self._bring_line)
        work.pages.shown.bring(work, self)
        self._panel("evidence").show(evidence_drawing(work))
        wanted = work.filter.lower()
        log = tuple(one for one in view.log if (wanted or one[1] != MEANS) and wanted in " ".join(one).lower())
        self._panel("log").show(lambda width, height: draw_log(log, width, height))
        fit_log(self._app, len(log), work.busy)
        asked = self._put_off()
        work.coming = (
            asked or work.pages.shown.next_step(work) or next_step(view.known, dial.setpoint, dial.knob, work.busy)
        )
        self._next.suggest(work.coming.headline, work.coming.why)
        self._rail.show_idle(self.idle_words(), work.busy)
        self._app.query_one(KeyBar).show_state(work.busy)
        notices_above_next(self._app)

    def _show_tracks(self) -> None:
        """All knobs, one under the other."""
        view, rig, dial = self._work.view, self._work.view.rig, self._work.dial
        selected, edges = dial.selected, edges_on(view, dial.setpoint)
        tracks = tracks_of(rig.knobs, dial.setpoint, view.in_force, rig.stock, view.index, edges)
        clocks = clocks_line(rig, dial.setpoint, brief=True) if dial.knob.name in CLOCK_KNOBS else ""
        self._panel("tracks").show(lambda width, height: draw_tracks(tracks, selected, width, height, clocks))

    def _bring_line(self) -> None:
        """The line through what is dialled, where it is not drawn up yet."""
        work = self._work
        wanted, work.line_wanted = work.line_wanted, None
        if wanted is None:
            return

        def take(picture: ClimbPicture | None) -> None:
            work.take_line(wanted, picture)
            self.show()

        self.bring(wanted, take)

    def idle_words(self) -> str:
        """What stands under the rail while nothing runs."""
        view, work = self._work.view, self._work
        pace = "" if view.bench.real else f" · pace: {PACES[work.pace][1]}"
        going = view.searches.going
        how = f"climbs by {work.strategy}"
        if going is not None:
            how = f"{SAID_AS.get(going.strategy, going.strategy)} goes on"
        if view.book.read_only:
            newest = view.index.newest
            runs = newest is not None and newest.open and view.unfinished is None
            return (
                "READ-ONLY"
                + ("" if view.book.home.answers else " · the server is away")
                + (f" · trial {newest.number} runs elsewhere: {newest.plan.show()}" if runs and newest else "")
            )
        if not view.book.home.answers:
            pace += " · the server is away"
        if view.book.beside:
            pace += f" · {view.book.beside} kept beside: tenaz book beside"
        return f"next load: {work.load_for_knob.show()} · {how}{pace}"

    def show_load(self) -> None:
        """Bring the page of a load up to date, where it is in sight."""
        work = self._work
        if work.pages.shown.live:
            self._panel("page").show(self._page_drawing())

    def _put_off(self) -> Coming | None:
        """The question that was put off is what comes next."""
        work, trial = self._work, self._work.view.now.unfinished
        if work.busy or trial is None or trial.id != work.put_off:
            return None
        return Coming(f"say what was seen of trial {trial.number}", ASKED_LATER, key="⏎")

    def _page_drawing(self) -> Drawing:
        """The page in sight, with its own keys at its foot."""
        page = self._work.pages.shown
        return footed(page.drawing(self._work), foot_of(page.name))

    def _panel(self, name: str) -> Panel:
        return self._app.query_one(f"#{name}", Panel)
