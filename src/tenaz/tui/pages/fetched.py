"""What a page whose picture takes a while remembers: the picture, and of which state of the book it was asked for."""

from typing import TYPE_CHECKING, Generic, Protocol, TypeVar

from tenaz.orders import Brings
from tenaz.tui.pages.page import Page

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class OfRig(Protocol):
    """A picture that knows whose it is."""

    @property
    def rig(self) -> str:
        """The rig's name."""
        ...


Picture = TypeVar("Picture", bound=OfRig)


class Fetched(Page, Generic[Picture]):
    """Fetched where it is in sight and something changed since."""

    def __init__(self) -> None:
        self._picture: Picture | None = None
        self._known: object = None

    def picture(self, work: "AtHand") -> Picture | None:
        """It, where it is of the rig in sight."""
        return self._picture if self._picture is not None and self._picture.rig == work.view.rig.name else None

    def fetch(self, hands: "Hands", known: object, order: Brings[Picture] | None) -> None:
        """Its picture, where ``known`` is not what the last one was asked for by; without an order there is none."""
        if known == self._known:
            return

        def take(picture: Picture) -> None:
            self._picture = picture
            hands.show()

        self._known = known
        if order is None:
            self._picture = None
        else:
            hands.bring(order, take)
