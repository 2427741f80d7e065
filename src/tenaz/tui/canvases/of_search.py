"""What a canvas of a search over several knobs remembers: its picture, and of which state of the book it was drawn."""

from typing import TYPE_CHECKING, Generic, Protocol, TypeVar

from tenaz.orders import Brings
from tenaz.search.registry import strategy_of
from tenaz.search.strategy_kinds import StrategyKind
from tenaz.tui.canvases.canvas import Canvas

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


class OfSearch(Canvas, Generic[Picture]):
    """Fetched where it is in sight and something changed since."""

    def __init__(self) -> None:
        self._picture: Picture | None = None
        self._known: object = None

    @staticmethod
    def shows(kind: StrategyKind) -> bool:
        """Of which strategies it shows the newest search."""
        raise NotImplementedError

    def order(self, search_id: int) -> Brings[Picture]:
        """The order that draws a search."""
        raise NotImplementedError

    def picture(self, work: "AtHand") -> Picture | None:
        """It, where it is of the rig in sight."""
        return self._picture if self._picture is not None and self._picture.rig == work.view.rig.name else None

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """The newest search's picture."""
        view = work.view
        newest = next((one for one in reversed(view.searches.every) if self.shows(strategy_of(one.strategy))), None)
        state = None if newest is None else (newest.id, newest.ended)
        known = (view.rig.name, view.bench, view.marks.change, view.marks.measured, state)
        if known == self._known:
            return

        def take(picture: Picture) -> None:
            self._picture = picture
            hands.show()

        self._known = known
        if newest is None:
            self._picture = None
        else:
            hands.bring(self.order(newest.id), take)
