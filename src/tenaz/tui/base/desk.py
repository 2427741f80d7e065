"""The desk: a thread of its own that carries out orders to the workshop, so that the screen waits for no disk."""

import queue
import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, TypeVar

from textual.message import Message

from tenaz.core.base.errors import TenazError

if TYPE_CHECKING:
    from tenaz.orders import Order
    from tenaz.workshop.looking.view import View
    from tenaz.workshop.shop.door import Door


A = TypeVar("A")


class Viewed(Message):
    """A fresh view of everything that is shown."""

    def __init__(self, view: "View") -> None:
        super().__init__()
        self.view = view


class Troubled(Message):
    """An order could not be carried out, or (None) nothing could be looked at; ``fatal`` when there is nothing to work
    on.
    """

    def __init__(self, trouble: str, fatal: bool = False, order: "Order[Any] | None" = None) -> None:
        super().__init__()
        self.trouble = trouble
        self.fatal = fatal
        self.order = order


class Done(Message):
    """An order that asked for it was carried out; ``text`` says what came of it."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.text = text


class Brought(Message):
    """What an order asked for came, for whoever ``take``s it: a trial, its load, a picture, the list of rigs …"""

    def __init__(self, order: "Order[Any]", came: Any, take: Callable[[Any], None]) -> None:
        super().__init__()
        self.order, self.came, self.take = order, came, take


@dataclass(frozen=True, slots=True)
class _Given:
    """An order, and who takes its answer."""

    order: "Order[Any]"
    take: Callable[[Any], None] | None


class _Look:
    """No order: only a fresh view is wanted."""


class _Stay:
    """No order: nobody looks any more, and what runs goes on."""


class Desk:
    """Takes orders in turn. After each, and when told to look, it takes a fresh view."""

    def __init__(
        self,
        post: Callable[[Message], object],
        opening: Callable[[], "Door"],
        serve: Callable[["Door"], None] = lambda _: None,
    ) -> None:
        self._post = post
        self._opening = opening
        self._serve = serve
        self._orders: queue.Queue[_Given | _Look | _Stay | None] = queue.Queue()
        self._looks = threading.Event()
        """A look is in the queue, and was not begun."""
        self._thread = threading.Thread(target=self._work, name="desk", daemon=True)
        self.last_view: View | None = None
        """The view that was taken last: of the book as it was closed, once it is."""

    def start(self) -> None:
        """Open the book and begin to take orders."""
        self._thread.start()

    def order(self, order: "Order[A]", take: Callable[[A], None] | None = None) -> None:
        """Give an order; its answer is posted for ``take``, or without one words that come of it are shown."""
        self._orders.put(_Given(order, take))

    def look(self) -> None:
        """Take a fresh view soon; looks that pile up are one look."""
        if not self._looks.is_set():
            self._looks.set()
            self._orders.put(_Look())

    def stay(self) -> None:
        """Nobody looks any more: what runs goes on, whoever comes may join it, and then the book is closed."""
        self._post = lambda _: None
        self._orders.put(_Stay())

    def wait(self) -> None:
        """Until the book is closed."""
        self._thread.join()

    def close(self, timeout_s: float = 5.0) -> None:
        """Carry out what was ordered, end what runs, close the book."""
        self._orders.put(None)
        self._thread.join(timeout_s)

    def _work(self) -> None:
        try:
            workshop = self._opening()
        except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
            self._post(Troubled(_words(error, "No book is open."), fatal=True))
            return
        self._look(workshop)
        while (given := self._orders.get()) is not None:
            if isinstance(given, _Stay):
                self._serve(workshop)
                break
            if isinstance(given, _Given):
                if given.order.long:
                    threading.Thread(
                        target=self._carry_out, args=(workshop, given), name="looking", daemon=True
                    ).start()
                    continue
                self._carry_out(workshop, given)
                if not given.order.shows:
                    continue
            self._look(workshop)
        with suppress(TenazError):
            workshop.close()

    def _carry_out(self, workshop: "Door", given: "_Given") -> None:
        try:
            came = workshop.do(given.order)
        except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
            words = _words(error, "What runs goes on, and what is in the book stays.")
            self._post(Troubled(words, order=given.order))
            return
        if given.take is not None:
            self._post(Brought(given.order, came, given.take))
        elif isinstance(came, str) and came:
            self._post(Done(came))

    def _look(self, workshop: "Door") -> None:
        self._looks.clear()
        try:
            self.last_view = workshop.view()
            self._post(Viewed(self.last_view))
        except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
            self.last_view = None
            self._post(Troubled(_words(error, "What is shown may be old.")))


def _words(error: Exception, what_stays: str) -> str:
    """An error of ours as it is; any other in a line, so that it is no more than a message."""
    if isinstance(error, TenazError):
        return str(error)
    from tenaz.workshop.bench.mishaps import told  # noqa: PLC0415 - only what goes wrong needs it

    return told(error, what_stays)
