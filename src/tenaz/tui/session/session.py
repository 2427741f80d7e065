"""Working on an open book: the controllers put together, each key led to the one that it belongs to."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from tenaz.core.ports.bench import HowLong, Question
from tenaz.core.ports.events import Asked, MeasureProgressed
from tenaz.orders import (
    Begins,
    BringField,
    BringFinding,
    BringFollowUps,
    BringFound,
    BringLine,
    BringLoad,
    BringMemory,
    BringNight,
    BringRigs,
    Brings,
    BringScores,
    BringSearch,
    BringTrial,
    ChangeSetting,
    ChooseRig,
    MakeReport,
    Order,
)
from tenaz.settings.model import Settings
from tenaz.tui.base.commands import BY_ACTION, PALETTE_ONLY, Need
from tenaz.tui.base.hands import Hands
from tenaz.tui.controllers.book import BookController
from tenaz.tui.controllers.canvas import CanvasController
from tenaz.tui.controllers.dialling import DialController
from tenaz.tui.controllers.field import FieldController
from tenaz.tui.controllers.finding import FindController
from tenaz.tui.controllers.follow_ups import FollowUpController
from tenaz.tui.controllers.measuring import MeasureController
from tenaz.tui.controllers.night import NightController
from tenaz.tui.controllers.plan import PlanController
from tenaz.tui.controllers.reporting import ReportController
from tenaz.tui.controllers.running import RunController
from tenaz.tui.controllers.sheet import SheetController
from tenaz.tui.controllers.stick import StickController
from tenaz.tui.session.needs import why_not
from tenaz.tui.session.starting import Starting
from tenaz.tui.session.workspace import Workspace

if TYPE_CHECKING:
    from tenaz.workshop.looking.view import View


class Session:
    """What the technician does with the book that is open."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands
        self._held: list[tuple[str, tuple[object, ...]]] = []
        """Given once the record stood there, before the run had ended: carried out as soon as it has."""
        starting = Starting(work, hands)
        self._dialling = DialController(work, hands)
        self._canvas = CanvasController(work, hands)
        self._book = BookController(work, hands)
        self.running = RunController(work, hands, starting)
        self._find = FindController(work, hands, starting)
        self.running.follow_found = self._find.follow
        self._canvas.bring_found = self._find.bring
        self._field = FieldController(work, hands, starting)
        self._night = NightController(work, hands, starting)
        self._report = ReportController(work, hands)
        self._follow_ups = FollowUpController(work, hands)
        self._measuring = MeasureController(work, hands, starting)
        self._canvas.bring_scores = self._bring_seen
        self.stick = StickController(work, hands, starting)
        controllers = (
            self.stick,
            self._dialling,
            SheetController(work, hands),
            self.running,
            self._canvas,
            self._book,
            self._find,
            self._measuring,
            self._field,
            self._night,
            self._report,
            self._follow_ups,
            PlanController(work, hands, starting),
        )
        self._actions: dict[str, Callable[..., Any]] = {
            name: getattr(controller, name)
            for controller in controllers
            for name in (*BY_ACTION, *PALETTE_ONLY)
            if hasattr(controller, name)
        }
        self._brought: dict[type, Callable[[Any, Any], None]] = {
            BringLoad: lambda order, came: self._canvas.take_load(order.trial_id, came),
            BringSearch: lambda _, came: self._canvas.take_past(came),
            BringLine: self._take_line,
            BringRigs: lambda _, came: self._book.tell_of(came),
            BringFound: lambda _, came: self._canvas.take_found(came),
            ChangeSetting: lambda _, came: self.take_settings(came),
            BringTrial: lambda _, came: self._canvas.take_page(came),
            BringMemory: lambda _, came: self._canvas.take_memory(came),
            BringFinding: lambda _, came: self._find.take(came),
            BringField: lambda _, came: self._field.take(came),
            BringNight: lambda _, came: self._night.take(came),
            BringScores: lambda _, came: self._measuring.take(came),
            MakeReport: lambda _, came: self._report.take(came),
            BringFollowUps: lambda _, came: self._follow_ups.take(came),
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
    def canvas(self) -> str:
        """The name of the canvas in sight."""
        return self._work.canvases.name

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
        self.running.hear(event)
        self.stick.hear(event)
        if not self._work.winding_up:
            held, self._held = self._held, []
            for action, arguments in held:
                self.order(action, *arguments)
            if held:
                self._hands.let_typed_go()

    def could_not(self, order: Order[Any]) -> None:
        """An order was not carried out: what it was to start does not run, and nothing follows from it."""
        self.running.could_not(order)
        if isinstance(order, Begins):
            self.stick.stopped()

    def fold(self) -> None:
        """The window has another size."""
        self._hands.show()

    def pick(self, kind: str, which: int | str) -> None:
        """A knob, a place on the track in hand, a line of the sheet, a trial was clicked."""
        picked: dict[str, Callable[[Any], None]] = {
            "knob": self._dialling.take_knob,
            "named": self._dialling.take_named,
            "value": self._dialling.take_value,
            "trial": self._canvas.take_trial,
            "found": self._canvas.take_place,
            "planned": self._canvas.take_place,
            "part": self._find.take_part,
            "cell": self._field.take_cell,
        }
        if kind in picked:
            picked[kind](which)

    def join(self, asking: object) -> None:
        """Something ran already when it was opened: what that asks is asked here."""
        if isinstance(asking, Question | HowLong):
            self.hear(Asked(asking))

    def begin_with(self, choice: str) -> None:
        """What a new book is begun with: this machine, a rig that stands beside, or one to practise on."""
        if choice == "new":
            self.order("new_rig")
        else:
            practised = next((name for name in self._work.view.rigs if name != self._work.view.rigs[0]), "")
            self._hands.give(ChooseRig(practised if choice == "practise" else self._work.view.rigs[0]))

    def take_settings(self, settings: Settings, trouble: str = "") -> None:
        """What was set; ``trouble`` says what cannot be read of it."""
        self._work.take_settings(settings)
        self._hands.apply_settings(settings)
        self._hands.show()
        told = "; ".join(part for part in (trouble, *(self._hands.refused_keys() or ())) if part)
        if told:
            self._hands.complain(f"settings: {told}. All others are as set.")

    def tell_story(self) -> None:
        """What brought the rig here, and what is to be done with it."""
        view = self._work.view
        if view.story:
            self._hands.tell(view.story, view.rig.name)

    def take_view(self, view: "View") -> None:
        """Show a fresh view; a rig on which nothing was tried yet opens with its story."""
        if self._work.take(view) and not view.trials:
            self.tell_story()
        newest = view.index.newest
        if view.running and newest is not None and newest.open:
            self._hands.show_trial(newest)
        if not self._work.busy:
            self._hands.show_trial(None)
            self._hands.show_question(None if view.read_only else view.unfinished_question)
        self._hands.show()
        self._canvas.bring_page()
        self._canvas.bring_memory()
        self._measuring.bring()
        self._field.bring()
        self._night.bring()
        self._find.bring()
        self.stick.see()

    def take_brought(self, order: Brings[Any], came: Any) -> None:
        """What was asked for came; where something else is dialled or shown by now, nobody waits for it any more."""
        self._brought[type(order)](order, came)

    def _bring_seen(self) -> None:
        self._measuring.bring()
        self._field.bring()
        self._night.bring()

    def _take_line(self, order: BringLine, came: Any) -> None:
        self._work.take_line(order, came)
        self._hands.show()
