"""How parts of the workshop say which orders they carry out."""

from collections.abc import Callable
from types import FunctionType
from typing import Any, Concatenate, ParamSpec, TypeVar

from tenaz.orders import Order

A = TypeVar("A")
Part = TypeVar("Part")
Given = TypeVar("Given")
More = ParamSpec("More")
"""What a method may be told beside its order, by other parts."""

Handlers = dict[type[Order[Any]], Callable[[Any], Any]]
_MARK = "carries_out"


def carries_out(
    order: type[Order[A]],
) -> Callable[[Callable[Concatenate[Part, Given, More], A]], Callable[Concatenate[Part, Given, More], A]]:
    """Marks the method of a part that carries out an order; its answer is what the order's class declares."""

    def mark(
        method: Callable[Concatenate[Part, Given, More], A],
    ) -> Callable[Concatenate[Part, Given, More], A]:
        method.__dict__[_MARK] = order
        return method

    return mark


def handlers_of(*parts: object) -> Handlers:
    """Which order is carried out by which method of which part."""
    return {
        method.__dict__[_MARK]: getattr(part, name)
        for part in parts
        for name, method in vars(type(part)).items()
        if isinstance(method, FunctionType) and _MARK in method.__dict__
    }
