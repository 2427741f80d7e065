"""What an order is: a frozen value that says what a technician wants done, and what kind of answer comes of it."""

from typing import Any, ClassVar, Generic, TypeVar, get_args, get_origin

A = TypeVar("A")


class Order(Generic[A]):
    """An order whose answer is an ``A``: words for the technician, a value, or nothing."""

    __slots__ = ()

    long: ClassVar[bool] = False
    """It reads the whole book, or thinks long: others need not wait for it."""
    shows: ClassVar[bool] = True
    """What is in sight may be another after it."""


class Begins(Order[A]):
    """After it something runs."""

    __slots__ = ()


class Looks(Order[A]):
    """It changes nothing in the book: whoever has that open, if only for reading, carries it out."""

    __slots__ = ()

    shows: ClassVar[bool] = False


class Brings(Looks[A]):
    """Its answer is waited for, and shown when it comes; but for a report, which is kept, the book stays as it is."""

    __slots__ = ()


def answer_of(order: type[Order[Any]]) -> Any:
    """The type of the answer that an order's class declares; a name where that is a type of a floor above."""
    for base in getattr(order, "__orig_bases__", ()):
        if issubclass(get_origin(base) or object, Order):
            return get_args(base)[0]
    raise TypeError(f"{order.__name__} declares no answer")
