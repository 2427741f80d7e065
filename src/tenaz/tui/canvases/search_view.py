"""What a canvas of a search over several knobs remembers: its picture, and of which state of the book it was drawn."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Generic, Protocol, TypeVar

if TYPE_CHECKING:
    from tenaz.workshop.looking.view import View


class OfRig(Protocol):
    """A picture that knows whose it is."""

    @property
    def rig(self) -> str:
        """The rig's name."""
        ...


Picture = TypeVar("Picture", bound=OfRig)
Bring = TypeVar("Bring")


class SearchView(Generic[Picture, Bring]):
    """Fetched where it is in sight and something changed since. ``strategy`` is what it shows the newest search of,
    ``bring`` the order that draws it.
    """

    def __init__(self, strategy: str, bring: Callable[[int], Bring]) -> None:
        self._strategy, self._bring = strategy, bring
        self._picture: Picture | None = None
        self._known: object = None

    def picture(self, view: "View") -> Picture | None:
        """It, where it is of the rig in sight."""
        return self._picture if self._picture is not None and self._picture.rig == view.rig.name else None

    def to_bring(self, view: "View") -> Bring | None:
        """What to fetch; None: nothing changed, or there is none."""
        newest = next((one for one in reversed(view.climbs) if one.strategy == self._strategy), None)
        known = (view.rig.name, view.bench, view.change, view.measured, newest and newest.id, newest and newest.ended)
        if known == self._known:
            return None
        self._known = known
        if newest is None:
            self._picture = None
            return None
        return self._bring(newest.id)

    def take(self, picture: Picture) -> None:
        """It came."""
        self._picture = picture
