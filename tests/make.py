"""What many tests make: a rig, trials, an index of them, a clock that is told the time, views and hands."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, fields, replace
from datetime import UTC, datetime, timedelta
from typing import Any

from tenaz import orders as o
from tenaz.core.base.loop import Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.demo.ridge import ridge
from tenaz.tui.base.hands import Hands
from tenaz.tui.screens.prompt import Prompt
from tenaz.workshop.looking.view import View

RIG = ridge()
RATE = RIG.knob("data_rate_mts")
HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)


def trial(outcome: Outcome | None, setpoint: Setpoint = RIG.stock, **fields: object) -> Trial:
    blank = Trial(
        id=1,
        number=1,
        rig="ridge",
        bench=BenchKind.HAND,
        setpoint=setpoint,
        plan=HOUR,
        station=Station.CLOSED,
        begun_utc=datetime(2026, 1, 6, tzinfo=UTC),
        boot_id="a",
        outcome=outcome,
        elapsed_s=3600.0,
        entered=True,
    )
    return replace(blank, **fields)  # type: ignore[arg-type]


def indexed(trials: Iterable[Trial], fitted: str = "") -> TrialIndex:
    """The trials of an index, each with an id of its own."""
    return TrialIndex((replace(one, id=number) for number, one in enumerate(trials, 1)), fitted)


class SteppedClock:
    """A clock that stands still until it is stepped."""

    def __init__(self) -> None:
        self.now_s = 1000.0
        self.boot = "boot-a"

    def monotonic_s(self) -> float:
        return self.now_s

    def utc(self) -> datetime:
        return datetime(2026, 1, 6, 9, 0, tzinfo=UTC) + timedelta(seconds=self.now_s - 1000.0)

    def boot_id(self) -> str:
        return self.boot


def changed(view: View, **values: Any) -> View:
    """A view in which some fields of its parts are others: ``changed(view, going=plan, read_only="why")``."""
    trials = values.pop("trials", None)
    if trials is not None:
        values["index"] = TrialIndex(trials)
    for part in fields(view):
        held = getattr(view, part.name)
        mine = {name: values.pop(name) for name in list(values) if name in getattr(held, "__dataclass_fields__", {})}
        if mine and part.name not in ("story", "log", "aboard"):
            view = replace(view, **{part.name: replace(held, **mine)})
    assert not values, f"a view has no {', '.join(values)}"
    return view


@dataclass
class Recorded:
    """Hands that note what they are asked to do; answers lie ready for the questions to come. What is to be shown asks
    for what it shows, as on the screen; ``work`` is told once it is there.
    """

    answers: list[Any] = field(default_factory=list)
    orders: list[o.Order[Any]] = field(default_factory=list)
    asked: list[Any] = field(default_factory=list)
    trouble: str = ""
    done: list[str] = field(default_factory=list)
    work: Any = None
    takes: list[tuple[o.Order[Any], Callable[[Any], None]]] = field(default_factory=list)

    def ask(self, screen: Any, take: Callable[[Any], Any]) -> None:
        self.asked.append(screen)
        answer = self.answers.pop(0) if self.answers else None
        if isinstance(screen, Prompt) and answer is not None:
            screen._check(answer)
        take(answer)

    def complain(self, trouble: str) -> None:
        self.trouble = trouble

    def give(self, order: o.Order[Any]) -> None:
        if not isinstance(order, o.SetPace):
            self.orders.append(order)

    def work_on(self, rig: str) -> None:
        self.orders.append(o.ChooseRig(rig))

    def bring(self, order: o.Brings[Any], take: Callable[[Any], None]) -> None:
        self.orders.append(order)
        self.takes.append((order, take))

    wait_for = bring

    def came(self, order: type[o.Order[Any]], what: Any) -> None:
        """The answer to the newest order of a kind comes."""
        next(take for given, take in reversed(self.takes) if isinstance(given, order))(what)

    def show(self) -> None:
        self.done.append("show")
        if self.work is not None:
            self.work.pages.shown.bring(self.work, self)

    def show_question(self, question: Any) -> None:
        self.asked.append(question)

    def __getattr__(self, name: str) -> Callable[..., None]:
        if not hasattr(Hands, name):
            raise AttributeError(f"hands have no {name}")
        return lambda *_: self.done.append(name)
