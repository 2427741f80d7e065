"""What whoever works on a book needs of a workshop: one that is open here, or one that runs elsewhere, joined."""

from typing import Protocol, TypeVar

from tenaz.orders import Order
from tenaz.workshop.looking.view import View

A = TypeVar("A")


class Door(Protocol):
    """The one door: orders in, what there is to see out."""

    def do(self, order: Order[A]) -> A:
        """Carry out an order.

        Raises:
            Refused: it cannot be done; nothing was changed.
            BookError: it could not be made durable.
        """
        ...

    def view(self) -> View:
        """Everything that is shown, now."""
        ...

    def close(self) -> None:
        """Let go of the book."""
        ...
