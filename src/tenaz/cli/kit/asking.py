"""Questions of a run, asked in a terminal without the workbench."""

import queue
from typing import TYPE_CHECKING

import typer

from tenaz.cli.kit.options import say
from tenaz.cli.kit.progress import ProgressTeller
from tenaz.core.base.errors import Refused
from tenaz.core.base.hearing import HEARS_WITHIN_S
from tenaz.core.base.typed import parse_ran
from tenaz.core.loads.plan import show_duration
from tenaz.core.ports.bench import HowLong, Question, Ran
from tenaz.core.ports.events import Asked, RunEnded

if TYPE_CHECKING:
    from tenaz.workshop.shop.shop import Workshop


class Terminal:
    """Hears a run's events: tells what it says, asks what it asks, and knows when it is over."""

    def __init__(self, teller: ProgressTeller, workshop: "Workshop") -> None:
        self._teller = teller
        self._workshop = workshop
        self._questions: queue.Queue[Question | HowLong | None] = queue.Queue()
        self.trouble = ""

    def __call__(self, event: object) -> None:
        """Take one event; called from the run's thread."""
        match event:
            case Asked(question=Question() | HowLong() as question):
                self._questions.put(question)
            case RunEnded(trouble=trouble):
                self.trouble = trouble
                self._questions.put(None)
            case _:
                self._teller(event)

    def wait(self) -> None:
        """Answer questions until the run is over; an interrupt comes through."""
        from tenaz.orders import GiveAnswer  # late: --help must not wait for the database

        while (question := self._next()) is not None:
            self._workshop.do(GiveAnswer(self._ask(question)))

    def _next(self) -> Question | HowLong | None:
        """The next question; None when it is over. Waited for in pieces, so that an interrupt is heard in any case."""
        while True:
            try:
                return self._questions.get(timeout=HEARS_WITHIN_S)
            except queue.Empty:
                continue

    def see_through(self) -> bool:
        """Answer questions until the run is over and all of it is recorded; whether an interrupt stopped it."""
        stopped = False
        try:
            self.wait()
        except KeyboardInterrupt:
            stopped = True
        self._workshop.running.stop()
        self._workshop.running.wait()
        return stopped

    @staticmethod
    def _ask(question: Question | HowLong):  # type: ignore[no-untyped-def] # a choice's answer, or a time
        if isinstance(question, HowLong):
            return _time(question)
        say(f"\n{question.station}: {question.prompt}")
        for line in question.lines:
            say(f"  {line}")
        keys = {choice.key: choice for choice in question.choices}
        offered = "  ".join(f"{key} {choice.label}" for key, choice in keys.items())
        while (typed := typer.prompt(offered, default="", show_default=False).strip().lower()) not in keys:
            say(f"{typed!r} is none of these; type one of: {', '.join(keys)}.")
        return keys[typed].answer


def _time(question: HowLong) -> Ran:
    """A time, asked for until it can be read."""
    while True:
        typed = typer.prompt(question.prompt, default=show_duration(question.suggested_s))
        try:
            ran = Ran(*parse_ran(typed))
            if ran.elapsed_s > 0 or question.may_be_none:
                return ran
            say("Nothing can have held for no time at all; type how long it ran.")
        except Refused as refused:
            say(str(refused))
