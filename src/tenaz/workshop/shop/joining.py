"""Joining a run that was left running: its book is read here, and orders go to where it runs."""

import itertools
import queue
import threading
from contextlib import suppress
from dataclasses import replace
from multiprocessing.connection import Client, Connection
from pathlib import Path
from typing import Any, TypeVar

from tenaz import orders as o
from tenaz.core.base.errors import BookError, Refused
from tenaz.core.ports.bench import Publish
from tenaz.core.ports.events import RunEnded
from tenaz.core.rigs.rig import BenchKind
from tenaz.orders.wire import PROTOCOL, read_answer, read_event, write_order
from tenaz.wire.forms import form_of
from tenaz.workshop.looking.view import View
from tenaz.workshop.shop.shop import Workshop
from tenaz.workshop.shop.staying import State, receive, send, socket_of

A = TypeVar("A")

ANSWER_WITHIN_S, GREETED_WITHIN_S = 20.0, 15.0
GONE = "What ran in the background has ended and let go of the book; start Tenaz again to work on it."


class JoinedWorkshop:
    """As a workshop to whoever works on it; ``close`` leaves what runs running."""

    def __init__(self, guest: "Connection[Any, Any]", place: Path, publish: Publish) -> None:
        self._guest = guest
        self._publish = publish
        self._numbers = itertools.count(1)
        self._answers: queue.Queue[dict[str, Any]] = queue.Queue()
        self._gone = threading.Event()
        self._left = False
        hello = receive(guest)
        if "taken" in hello:
            raise EOFError(hello["taken"])
        if hello.get("protocol") != PROTOCOL:
            raise BookError("Another version of Tenaz runs in the background; let it end, or use that version.")
        self.pid = int(hello["pid"])
        self._looking = Workshop()
        self._looking.open(place, read_only=True, rig=str(hello["rig"]))
        self._stand_at(str(hello["rig"]), BenchKind(hello["bench"]))
        threading.Thread(target=self._receive, name="joined", daemon=True).start()

    def _receive(self) -> None:
        with suppress(OSError, EOFError, ValueError):
            while True:
                message = receive(self._guest)
                if "event" in message:
                    self._publish(read_event(message))
                else:
                    self._answers.put(message)
        self._gone.set()
        self._answers.put({})
        if not self._left:
            self._publish(RunEnded(trouble=GONE))

    def _ask(self, question: dict[str, Any]) -> Any:
        number = next(self._numbers)
        try:
            send(self._guest, {"number": number, **question})
        except (OSError, ValueError) as error:
            raise BookError(GONE) from error
        while True:
            try:
                answer = self._answers.get(timeout=ANSWER_WITHIN_S)
            except queue.Empty as error:
                raise BookError("What runs in the background does not answer; try once more.") from error
            if self._gone.is_set() and not answer:
                raise BookError(GONE)
            if answer.get("number") == number:
                if "refused" in answer:
                    raise Refused(str(answer["refused"]))
                return answer["came"]

    def _stand_at(self, rig: str, bench: BenchKind) -> None:
        if self._looking.rig.name != rig:
            self._looking.do(o.ChooseRig(rig))
        if self._looking.bench is not bench:
            self._looking.do(o.ChooseBench(bench))

    def do(self, order: o.Order[A]) -> A:
        """Looking is done here; everything else where it runs.

        Raises:
            Refused, BookError: as there.
        """
        if isinstance(order, o.Looks):
            came: A = self._looking.do(order)
            return came
        return read_answer(order, self._ask(write_order(order)))

    def view(self) -> View:
        """Everything that is shown, as the book has it now."""
        state: State = form_of(State).validate_python(self._ask({"state": True}))
        self._stand_at(state.rig, state.bench)
        view = self._looking.view()
        now = replace(view.now, running=state.running, asking=state.asking, undo=state.undo, made=state.made)
        if state.running:
            now = replace(now, unfinished=None, question=None)
        return replace(view, now=now, book=replace(view.book, read_only=""))

    def close(self) -> None:
        """Go; what runs goes on, and ends by itself."""
        self._left = True
        with suppress(OSError):
            self._guest.close()
        self._looking.close()


def join(book: Path, rig: str, publish: Publish) -> JoinedWorkshop | None:
    """Join the run on a rig of a book; None where none was left running."""
    try:
        place = socket_of(book, rig)
        if not place.exists():
            return None
        guest = Client(str(place), family="AF_UNIX")
    except (OSError, BookError):
        return None
    try:
        # Where somebody has joined already the book is only looked at.
        return JoinedWorkshop(guest, book, publish) if guest.poll(GREETED_WITHIN_S) else None
    except (OSError, EOFError, ValueError):
        return None
