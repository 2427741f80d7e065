"""The Field canvas: its picture, and the dialled values as its cursor."""

from typing import TYPE_CHECKING

from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.searches.search import FIELD
from tenaz.orders import BringField
from tenaz.pictures.field.model import FieldPicture
from tenaz.tui.canvases.search_view import SearchView

if TYPE_CHECKING:
    from tenaz.workshop.looking.view import View


class FieldView(SearchView[FieldPicture, BringField]):
    """With the cell that is dialled."""

    def __init__(self) -> None:
        super().__init__(FIELD, BringField)

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
