"""What the Night canvas remembers: its picture, and of which state of the book it was drawn."""

from typing import TYPE_CHECKING

from tenaz.charts.night import NightPicture
from tenaz.workshop.nights import STRATEGY
from tenaz.workshop.orders import BringNight

if TYPE_CHECKING:
    from tenaz.workshop.view import View


class NightView:
    """Fetched where it is in sight and something changed since."""

    def __init__(self) -> None:
        self._picture: NightPicture | None = None
        self._known: object = None

    def picture(self, view: "View") -> NightPicture | None:
        """It, where it is of the rig in sight."""
        return self._picture if self._picture is not None and self._picture.rig == view.rig.name else None

    def to_bring(self, view: "View") -> BringNight | None:
        """What to fetch; None: nothing changed, or there was no night."""
        newest = next((one for one in reversed(view.climbs) if one.strategy == STRATEGY), None)
        known = (view.rig.name, view.bench, view.change, view.measured, newest and newest.id, newest and newest.ended)
        if known == self._known:
            return None
        self._known = known
        if newest is None:
            self._picture = None
            return None
        return BringNight(newest.id)

    def take(self, picture: NightPicture) -> None:
        """It came."""
        self._picture = picture
