"""The Field page: two knobs together; the dialled values are its cursor."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.orders import BringField
from tenaz.pictures.field.cells import draw_field
from tenaz.pictures.field.model import FieldPicture
from tenaz.search.strategy_kinds import StrategyKind
from tenaz.tui.pages.of_search import OfSearch
from tenaz.tui.pages.page import OUTCOMES, Drawing, PageHelp

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class FieldPage(OfSearch[FieldPicture]):
    """Of the newest search over two knobs."""

    name = "field"
    beside = ("tracks",)
    help = PageHelp(
        "Two knobs together: the first to the right, the second upwards, harder is further out. Each cell is a pair of "
        "values with all else as where the field began. The dialled values are the cursor: dialling moves it, its "
        "trials stand below.",
        (
            *OUTCOMES,
            ("░", "follows from what was tried: holds"),
            ("▓", "tolerated for the purpose, as surely as it asks"),
            ("?", "open"),
            ("·", "follows: fails"),
            ("[ ]", "the dialled values"),
        ),
        ("begin_field", "climb", "start_trial", "put_on_plan", "export_page"),
        "A boundary that never rises with harder values; how steeply it falls and how often a failing cell passes are "
        "weighed as stories, all sums exact (forward and backward along the columns). Next is what tells most. "
        "Safe lies as far inside as the knob's usual slope asks for the purpose's rate.",
    )

    @staticmethod
    def shows(kind: StrategyKind) -> bool:
        """Searches over pairs of values."""
        return kind.maps

    def order(self, search_id: int) -> BringField:
        """Draws one."""
        return BringField(search_id)

    def drawing(self, work: "AtHand") -> Drawing:
        """A cell for each pair."""
        return partial(draw_field, self.picture(work), dialled=self._cell(work))

    def _cell(self, work: "AtHand") -> tuple[int, int] | None:
        """The cell of the dialled values; None: they lie in none."""
        picture = self.picture(work)
        if picture is None:
            return None
        places = []
        for knob, values in zip(picture.knobs, picture.values, strict=True):
            value = work.dial.setpoint[knob.name]
            if isinstance(value, Auto) or value not in values:
                return None
            places.append(values.index(value))
        return places[0], places[1]

    def click(self, work: "AtHand", hands: "Hands", kind: str, which: int | str) -> None:
        """A cell: its values are dialled."""
        if kind == "cell":
            work.dial.setpoint = self._at(work, int(which))
        super().click(work, hands, kind, which)

    def _at(self, work: "AtHand", place: int) -> Setpoint:
        """The dialled values moved to a cell."""
        picture, dialled = self.picture(work), work.dial.setpoint
        if picture is None:
            return dialled
        column, row = divmod(place, len(picture.values[1]))
        for knob, value in zip(picture.knobs, (picture.values[0][column], picture.values[1][row]), strict=True):
            dialled = dialled.replacing(knob.name, value)
        return dialled
