"""Working on an open book: the controllers put together, each key led to the one that it belongs to."""

from typing import TYPE_CHECKING, Any

from tenaz.core.ports.bench import HowLong, Question
from tenaz.core.ports.events import Asked, BookHeard, MeasureProgressed
from tenaz.orders import Begins, ChooseRig, Order
from tenaz.settings.model import Settings
from tenaz.tui.base.commands import BY_ACTION, WITHOUT_KEY, Need
from tenaz.tui.base.hands import Hands
from tenaz.tui.controllers.book import BookController
from tenaz.tui.controllers.dialling import DialController
from tenaz.tui.controllers.field import FieldController
from tenaz.tui.controllers.finding import FindController
from tenaz.tui.controllers.follow_ups import FollowUpController
from tenaz.tui.controllers.measuring import MeasureController
from tenaz.tui.controllers.menu import MenuController
from tenaz.tui.controllers.night import NightController
from tenaz.tui.controllers.pages import PagesController
from tenaz.tui.controllers.plan import PlanController
from tenaz.tui.controllers.reporting import ReportController
from tenaz.tui.controllers.running import RunController
from tenaz.tui.controllers.sheet import SheetController
from tenaz.tui.controllers.stick import StickController
from tenaz.tui.pages.day import DayPage
from tenaz.tui.pages.page import Page
from tenaz.tui.session.needs import why_not
from tenaz.tui.session.settling import take_settings
from tenaz.tui.session.starting import Starting
from tenaz.tui.session.workspace import Workspace

if TYPE_CHECKING:
    from collections.abc import Callable

    from tenaz.workshop.looking.view import View


class Session:
    """What the technician does with the book that is open."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands
        self._held: list[tuple[str, tuple[object, ...]]] = []
        """Given once the record stood there, before the run had ended: carried out as soon as it has."""
        starting = Starting(work, hands)
        find = FindController(work, hands, starting)
        self._dialling, self._book = DialController(work, hands), BookController(work, hands)
        self.running = RunController(work, hands, starting, find)
        self._measuring = MeasureController(work, hands, starting)
        self.stick = StickController(work, hands, starting)
        controllers = (
            self.stick,
            self._dialling,
            SheetController(work, hands),
            self.running,
            PagesController(work, hands),
            self._book,
            find,
            self._measuring,
            FieldController(work, hands, starting),
            NightController(work, hands, starting),
            ReportController(work, hands),
            FollowUpController(work, hands),
            PlanController(work, hands, starting),
            MenuController(work, hands, self.order, self.why_not),
        )
        self._actions: dict[str, Callable[..., Any]] = {
            name: getattr(controller, name)
            for controller in controllers
            for name in (*BY_ACTION, *WITHOUT_KEY)
            if hasattr(controller, name)
        }

    @property
    def busy(self) -> bool:
        """Whether something runs."""
        return self._work.busy

    @property
    def aboard(self) -> bool:
        """Whether this runs from the stick, where leaving means to leave the machine."""
        return self._work.view.aboard is not None

    @property
    def takes_signs(self) -> bool:
        """Whether the knob in hand has values below nought: a minus begins one."""
        return self._work.dial.knob.grid.first < 0

    @property
    def page(self) -> Page:
        """The page in sight."""
        return self._work.pages.shown

    @property
    def day(self) -> DayPage:
        """The day, in sight or not."""
        return self._work.pages.of(DayPage)

    @property
    def rig(self) -> str:
        """The rig in hand."""
        return self._work.view.rig.name

    def look_around(self) -> None:
        """What runs on other rigs is shown as it goes on."""
        if self.page is self.day and self.day.others_run(self._work):
            self.day.bring(self._work, self._hands)

    def why_not(self, action: str) -> str:
        """Why a command makes no sense now; empty where it does."""
        return why_not(action, self._work)

    def order(self, action: str, *arguments: object) -> bool:
        """Carry out a command; False: it makes no sense now, and it was said why."""
        why = self.why_not(action)
        if why and self._work.winding_up and Need.IDLE in BY_ACTION[action].needs:
            self._held.append((action, arguments))
            self._hands.hold_typed()
        elif why:
            self._hands.complain(why)
            return False
        else:
            if action == "stop_run":
                self.stick.stopped()
            self._actions[action](*arguments)
        return True

    def hear(self, event: object) -> None:
        """Something happened in the engine; what waited for the run's end is carried out, or told why not."""
        if isinstance(event, MeasureProgressed):
            self._measuring.hear(event)
            return
        if isinstance(event, BookHeard):
            self._heard_of_book(event)
            return
        self.running.hear(event)
        self.stick.hear(event)
        if not self._work.winding_up:
            held, self._held = self._held, []
            for action, arguments in held:
                self.order(action, *arguments)
            if held:
                self._hands.let_typed_go()

    def _heard_of_book(self, event: BookHeard) -> None:
        """Other benches wrote something, or the server is away, or back."""
        if event.words:
            self._hands.tell(event.words, "book")
        self.day.ask_again()
        if self.page is self.day:
            self.day.bring(self._work, self._hands)
        if not self._work.busy and not event.only_goes_on:
            self._hands.look()

    def could_not(self, order: Order[Any]) -> None:
        """An order was not carried out: what it was to start does not run, and nothing follows from it."""
        self.running.could_not(order)
        self._book.could_not(order)
        if isinstance(order, Begins):
            self.stick.stopped()

    def fold(self) -> None:
        """The window has another size."""
        self._hands.show()

    def pick(self, panel: str, kind: str, which: int | str) -> None:
        """Something drawn was clicked: on the page, or a knob or a place on the track in hand."""
        if panel == "page":
            self._work.pages.shown.click(self._work, self._hands, kind, which)
        elif kind == "knob":
            self._dialling.take_knob(int(which))
        elif kind == "value":
            self._dialling.take_value(int(which))

    def join(self, asking: object) -> None:
        """Something ran already when it was opened: what that asks is asked here."""
        if isinstance(asking, Question | HowLong):
            self.hear(Asked(asking))

    def begin_with(self, choice: str) -> None:
        """What a new book is begun with: this machine, a rig that stands beside, or one to practise on."""
        if choice == "new":
            self.order("new_rig")
        else:
            practised = next((name for name in self._work.view.book.rigs if name != self._work.view.book.rigs[0]), "")
            self._hands.give(ChooseRig(practised if choice == "practise" else self._work.view.book.rigs[0]))

    def take_settings(self, settings: Settings, trouble: str = "") -> None:
        """What was set; ``trouble`` says what cannot be read of it."""
        take_settings(self._work, self._hands, settings, trouble)

    def tell_story(self) -> None:
        """What brought the rig here, and what is to be done with it."""
        view = self._work.view
        # The day tells it itself.
        if view.story and not isinstance(self._work.pages.shown, DayPage):
            self._hands.tell(view.story, view.rig.name)

    def take_view(self, view: "View") -> None:
        """Show a fresh view; a rig on which nothing was tried yet opens with its story."""
        if self._work.take(view) and not view.trials:
            self.tell_story()
        newest = view.index.newest
        if view.now.running and newest is not None and newest.open:
            self._hands.show_trial(newest)
        if not self._work.busy:
            self._hands.show_trial(None)
            self._hands.show_question(self._work.question)
        self._hands.show()
        self.stick.see()
