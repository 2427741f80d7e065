"""Orders, their answers and events in the form in which they travel: JSON objects, versioned apart from the product.

Only those of :class:`tenaz.orders.Looks` stay where the book is open: their answers are pictures, not values.
"""

from dataclasses import is_dataclass
from functools import cache
from typing import Any, TypeVar

import tenaz.orders
from tenaz.core.base.errors import Refused
from tenaz.core.ports import events
from tenaz.orders.order import Looks, Order, answer_of
from tenaz.wire.forms import dump, read

PROTOCOL = 1
"""Raised whenever one who speaks the version before would misunderstand."""

A = TypeVar("A")
Data = dict[str, Any]


@cache
def order_forms() -> dict[str, type[Order[Any]]]:
    """The orders that travel, by the name under which they do."""
    named = {name: getattr(tenaz.orders, name) for name in tenaz.orders.__all__}
    return {
        name: one
        for name, one in named.items()
        if isinstance(one, type) and is_dataclass(one) and issubclass(one, Order) and not issubclass(one, Looks)
    }


@cache
def event_forms() -> dict[str, type[Any]]:
    """Events, by the name under which they travel."""
    return {name: one for name, one in vars(events).items() if getattr(one, "__module__", "") == events.__name__}


def write_order(order: Order[Any]) -> Data:
    """An order as JSON values."""
    return {"order": type(order).__name__, "with": dump(type(order), order)}


def read_order(data: Data) -> Order[Any]:
    """The opposite of :func:`write_order`.

    Raises:
        Refused: no order that travels, or values that make none; says which.
    """
    name = str(data.get("order"))
    form = order_forms().get(name)
    if form is None:
        raise Refused(f"{name[:40]!r} is no order that travels.")
    order: Order[Any] = read(form, data.get("with"), name)
    return order


def write_answer(order: Order[A], came: A) -> Any:
    """What came of an order as JSON values."""
    return dump(answer_of(type(order)), came)


def read_answer(order: Order[A], data: Any) -> A:
    """The opposite of :func:`write_answer`.

    Raises:
        Refused: no answer to that order.
    """
    answer: A = read(answer_of(type(order)), data, f"the answer to {type(order).__name__}")
    return answer


def write_event(event: object) -> Data:
    """An event as JSON values."""
    return {"event": type(event).__name__, "with": dump(type(event), event)}


def read_event(data: Data) -> object:
    """The opposite of :func:`write_event`.

    Raises:
        Refused: no event that is known here.
    """
    form = event_forms().get(str(data.get("event")))
    if form is None:
        raise Refused(f"{str(data.get('event'))[:40]!r} is no event that is known here.")
    return read(form, data.get("with"), form.__name__)
