"""A page of a search over several knobs."""

from typing import TYPE_CHECKING

from tenaz.orders import Brings
from tenaz.search.registry import strategy_of
from tenaz.search.strategy_kinds import StrategyKind
from tenaz.tui.pages.fetched import Fetched, Picture

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands


class OfSearch(Fetched[Picture]):
    """Of the newest search of some strategies."""

    @staticmethod
    def shows(kind: StrategyKind) -> bool:
        """Of which strategies it shows the newest search."""
        raise NotImplementedError

    def order(self, search_id: int) -> Brings[Picture]:
        """The order that draws a search."""
        raise NotImplementedError

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """The newest search's picture."""
        view = work.view
        newest = next((one for one in reversed(view.searches.every) if self.shows(strategy_of(one.strategy))), None)
        state = None if newest is None else (newest.id, newest.ended)
        known = (view.rig.name, view.bench, view.marks.change, view.marks.measured, state)
        self.fetch(hands, known, None if newest is None else self.order(newest.id))
