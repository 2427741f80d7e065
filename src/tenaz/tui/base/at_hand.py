"""What a page sees of what is worked on in front of the screen."""

from typing import TYPE_CHECKING, Protocol

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.trials.trial import Trial
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.tui.base.dial import Dial
from tenaz.tui.base.load_view import LoadView

if TYPE_CHECKING:
    from tenaz.workshop.looking.view import View


class AtHand(Protocol):
    """View, dial, and what is pointed at. ``opened`` is a trial opened in the book, ``cursor`` the place of the
    one pointed at; ``busy`` says that something runs.
    """

    view: "View"
    dial: Dial
    load_view: LoadView
    cursor: int | None
    opened: int | None
    busy: bool

    def picture(self) -> ClimbPicture | None:
        """The climb along the knob in hand, or its line; None where there is none."""
        ...

    def walk(self, step: int) -> None:
        """Point at the next trial, or the one before."""
        ...

    def point_at_number(self, number: int) -> None:
        """Point at the trial of this number."""
        ...

    def loaded(self) -> Trial | None:
        """The trial whose load is shown."""
        ...

    def load_to_bring(self) -> Trial | None:
        """The trial whose load is to be shown, and neither is nor is on its way."""
        ...

    def compared_with(self) -> tuple[str, Setpoint] | None:
        """What the dialled setpoint is compared with."""
        ...

    def compared_saved(self) -> list[tuple[str, Setpoint]]:
        """What stands beside the sheet, where a saved setpoint was chosen."""
        ...
