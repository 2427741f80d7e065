"""Whatever an order raises becomes a message, and the desk goes on."""

import queue
import threading
from typing import TYPE_CHECKING

import pytest

from tenaz.core.base.errors import Refused
from tenaz.core.trials.querying import parse_query
from tenaz.orders import BringFound, Stop, Undo
from tenaz.tui.base.desk import Brought, Desk, Done, Troubled, Viewed
from tests.patience import PATIENCE_S

if TYPE_CHECKING:
    from textual.message import Message


class Shop:
    """As much of a workshop as a desk needs."""

    def __init__(self, error: Exception | None = None) -> None:
        self.error = error

    def do(self, order: object) -> object:
        if isinstance(order, Stop) and self.error is not None:
            raise self.error
        return "done"

    def view(self) -> str:
        return "a view"

    def close(self) -> None: ...


@pytest.mark.parametrize("error", [Refused("not now"), RecursionError("deep"), RuntimeError("odd"), KeyError("x")])
def test_an_order_that_fails_is_a_message_and_the_next_one_is_carried_out(error: Exception) -> None:
    posted: queue.Queue[Message] = queue.Queue()
    desk = Desk(posted.put, lambda: Shop(error))  # type: ignore[arg-type,return-value]
    desk.start()
    assert isinstance(posted.get(timeout=PATIENCE_S), Viewed)
    desk.order(Stop())
    trouble = posted.get(timeout=PATIENCE_S)
    assert isinstance(trouble, Troubled)
    assert ("not now" if isinstance(error, Refused) else "Something went wrong in Tenaz itself") in trouble.trouble
    assert isinstance(posted.get(timeout=PATIENCE_S), Viewed)
    desk.order(Undo())
    assert isinstance(posted.get(timeout=PATIENCE_S), Done)
    desk.close()


def test_what_reads_the_whole_book_keeps_nobody_waiting() -> None:
    posted: queue.Queue[Message] = queue.Queue()
    found = threading.Event()

    class Slow(Shop):
        def do(self, order: object) -> object:
            return found.wait(5) if isinstance(order, BringFound) else "done"

    desk = Desk(posted.put, Slow)  # type: ignore[arg-type]
    desk.start()
    assert isinstance(posted.get(timeout=PATIENCE_S), Viewed)
    desk.order(BringFound(parse_query("all")), lambda _: None)
    desk.order(Undo())
    assert isinstance(posted.get(timeout=PATIENCE_S), Done)
    assert isinstance(posted.get(timeout=PATIENCE_S), Viewed)
    found.set()
    assert isinstance(posted.get(timeout=PATIENCE_S), Brought)
    desk.close()


@pytest.mark.parametrize("error", [Refused("no book"), OSError(24, "Too many open files"), ValueError("odd")])
def test_an_opening_that_fails_says_why_and_can_be_left(error: Exception) -> None:
    posted: queue.Queue[Message] = queue.Queue()

    def opening() -> object:
        raise error

    desk = Desk(posted.put, opening)  # type: ignore[arg-type]
    desk.start()
    trouble = posted.get(timeout=PATIENCE_S)
    assert isinstance(trouble, Troubled)
    assert trouble.fatal
    assert trouble.trouble
    desk.close(1.0)
