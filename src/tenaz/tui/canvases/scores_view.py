"""What the Scores canvas remembers: its picture, what it is against, and of which state of the book it was drawn."""

from typing import TYPE_CHECKING

from tenaz.orders import BringScores
from tenaz.pictures.scores.model import ScoresPicture

if TYPE_CHECKING:
    from tenaz.workshop.looking.view import View


class ScoresView:
    """Fetched where it is in sight and something changed since."""

    def __init__(self) -> None:
        self.against = "stock"
        self.skip = 0
        self._picture: ScoresPicture | None = None
        self._known: object = None

    def picture(self, view: "View") -> ScoresPicture | None:
        """It, where it is of the rig in sight."""
        return self._picture if self._picture is not None and self._picture.rig == view.rig.name else None

    def to_bring(self, view: "View") -> BringScores | None:
        """What to fetch; None: nothing changed."""
        if self._known and self._known[0] != view.rig.name:  # type: ignore[index] # a tuple by then
            self.against = "stock"
        known = (view.rig.name, view.bench, view.in_force, view.change, view.measured, self.against)
        if known == self._known:
            return None
        self._known = known
        return BringScores(self.against)

    def take(self, picture: ScoresPicture) -> None:
        """It came."""
        self._picture = picture

    def scroll(self, step: int) -> None:
        """Figures above or below."""
        most = len(self._picture.newest) if self._picture is not None else 0
        self.skip = max(0, min(most, self.skip + step))
