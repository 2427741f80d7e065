"""Joining a run that was left running: its book is read here, and orders go to where it runs."""

import itertools
import queue
import threading
from contextlib import suppress
from dataclasses import replace
from multiprocessing.connection import Client, Connection
from pathlib import Path
from typing import Any

from tenaz.core.errors import BookError, Refused
from tenaz.core.events import RunEnded
from tenaz.core.ports import Publish
from tenaz.workshop import orders as o
from tenaz.workshop.shop import Workshop
from tenaz.workshop.staying import HELLO, TAKEN, State, socket_of
from tenaz.workshop.view import View

ANSWER_WITHIN_S, GREETED_WITHIN_S = 20.0, 15.0
GONE = "What ran in the background has ended and let go of the book; start Tenaz again to work on it."


class JoinedWorkshop:
    """As a workshop to whoever works on it; ``close`` leaves what runs running."""

    def __init__(self, guest: "Connection[Any, Any]", place: Path, publish: Publish) -> None:
        self._guest = guest
        self._publish = publish
        self._numbers = itertools.count(1)
        self._answers: queue.Queue[tuple[str, int, object]] = queue.Queue()
        self._gone = threading.Event()
        self._left = False
        greeted = guest.recv()
        if greeted == TAKEN:
            raise EOFError(TAKEN)
        hello, rig, bench, self.pid = greeted
        if hello != HELLO:
            raise BookError("Another version of Tenaz runs in the background; let it end, or use that version.")
        self._looking = Workshop()
        self._looking.open(place, read_only=True)
        self._stand_at(rig, bench)
        threading.Thread(target=self._receive, name="joined", daemon=True).start()

    def _receive(self) -> None:
        with suppress(OSError, EOFError):
            while True:
                message = self._guest.recv()
                if message[0] == "event":
                    self._publish(message[1])
                else:
                    self._answers.put(message)
        self._gone.set()
        self._answers.put(("refused", 0, GONE))
        if not self._left:
            self._publish(RunEnded(trouble=GONE))

    def _ask(self, what: str, order: object = None) -> Any:
        number = next(self._numbers)
        try:
            self._guest.send((number, what, order))
        except (OSError, ValueError) as error:
            raise BookError(GONE) from error
        while True:
            try:
                kind, answered, came = self._answers.get(timeout=ANSWER_WITHIN_S)
            except queue.Empty as error:
                raise BookError("What runs in the background does not answer; try once more.") from error
            if self._gone.is_set() and answered == 0:
                raise BookError(GONE)
            if answered == number:
                if kind == "refused":
                    raise Refused(str(came))
                return came

    def _stand_at(self, rig: str, bench: Any) -> None:
        if self._looking.rig.name != rig:
            self._looking.do(o.ChooseRig(rig))
        if self._looking.bench is not bench:
            self._looking.do(o.ChooseBench(bench))

    def do(self, order: o.Order) -> object:
        """Looking is done here; everything else where it runs.

        Raises:
            Refused, BookError: as there.
        """
        return self._looking.do(order) if isinstance(order, o.BRINGS) else self._ask("do", order)

    def view(self) -> View:
        """Everything that is shown, as the book has it now."""
        state: State = self._ask("state")
        self._stand_at(state.rig, state.bench)
        view = self._looking.view()
        if state.running:
            view = replace(view, unfinished=None, unfinished_question=None)
        return replace(view, read_only="", running=state.running, asking=state.asking, undo=state.undo)

    def close(self) -> None:
        """Go; what runs goes on, and ends by itself."""
        self._left = True
        with suppress(OSError):
            self._guest.close()
        self._looking.close()


def join(book: Path, publish: Publish) -> JoinedWorkshop | None:
    """Join the run on a book; None where none was left running."""
    try:
        place = socket_of(book)
        if not place.exists():
            return None
        guest = Client(str(place), family="AF_UNIX")
    except (OSError, BookError):
        return None
    try:
        # Where somebody has joined already the book is only looked at.
        return JoinedWorkshop(guest, book, publish) if guest.poll(GREETED_WITHIN_S) else None
    except (OSError, EOFError):
        return None
