"""What the Field canvas remembers: its picture, and of which state of the book it was drawn."""

from typing import TYPE_CHECKING

from tenaz.charts.field import FieldPicture
from tenaz.core.setpoints import Auto, Setpoint
from tenaz.workshop.orders import BringField

if TYPE_CHECKING:
    from tenaz.workshop.view import View

STRATEGY = "field"


class FieldView:
    """Fetched where it is in sight and something changed since."""

    def __init__(self) -> None:
        self._picture: FieldPicture | None = None
        self._known: object = None

    def picture(self, view: "View") -> FieldPicture | None:
        """It, where it is of the rig in sight."""
        return self._picture if self._picture is not None and self._picture.rig == view.rig.name else None

    def to_bring(self, view: "View") -> BringField | None:
        """What to fetch; None: nothing changed, or there is no field."""
        newest = next((one for one in reversed(view.climbs) if one.strategy == STRATEGY), None)
        known = (view.rig.name, view.bench, view.change, view.measured, newest and newest.id, newest and newest.ended)
        if known == self._known:
            return None
        self._known = known
        if newest is None:
            self._picture = None
            return None
        return BringField(newest.id)

    def take(self, picture: FieldPicture) -> None:
        """It came."""
        self._picture = picture

    def cell(self, view: "View", dialled: Setpoint) -> tuple[int, int] | None:
        """The cell of the dialled values; None: they lie in none."""
        picture = self.picture(view)
        if picture is None:
            return None
        places = []
        for knob, values in zip(picture.knobs, picture.values, strict=True):
            value = dialled[knob.name]
            if isinstance(value, Auto) or value not in values:
                return None
            places.append(values.index(value))
        return places[0], places[1]

    def setpoint(self, view: "View", place: int, dialled: Setpoint) -> Setpoint:
        """The dialled values moved to a cell that was clicked."""
        picture = self.picture(view)
        if picture is None:
            return dialled
        column, row = divmod(place, len(picture.values[1]))
        for knob, value in zip(picture.knobs, (picture.values[0][column], picture.values[1][row]), strict=True):
            dialled = dialled.replacing(knob.name, value)
        return dialled
