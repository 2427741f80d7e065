"""The strip of canvases: which one is shown, in the order in which one goes from one to the next."""

from typing import TypeVar

from tenaz.tui.canvases.book import BookCanvas
from tenaz.tui.canvases.canvas import Canvas
from tenaz.tui.canvases.climb import ClimbCanvas
from tenaz.tui.canvases.cycle import CycleCanvas
from tenaz.tui.canvases.day import DayCanvas
from tenaz.tui.canvases.field import FieldCanvas
from tenaz.tui.canvases.load import LoadCanvas
from tenaz.tui.canvases.margins import MarginsCanvas
from tenaz.tui.canvases.memory import MemoryCanvas
from tenaz.tui.canvases.night import NightCanvas
from tenaz.tui.canvases.plan import PlanCanvas
from tenaz.tui.canvases.prints import PrintsCanvas
from tenaz.tui.canvases.rig import RigCanvas
from tenaz.tui.canvases.scores import ScoresCanvas
from tenaz.tui.canvases.sheet import SheetCanvas

CANVASES: tuple[type[Canvas], ...] = (
    ClimbCanvas,
    MarginsCanvas,
    CycleCanvas,
    SheetCanvas,
    LoadCanvas,
    PrintsCanvas,
    MemoryCanvas,
    ScoresCanvas,
    FieldCanvas,
    NightCanvas,
    RigCanvas,
    PlanCanvas,
    BookCanvas,
    DayCanvas,
)
BY_NAME = {canvas.name: canvas for canvas in CANVASES}
PAGES = tuple(BY_NAME)
"""As they stand on the strip."""

C = TypeVar("C", bound=Canvas)


class Strip:
    """All canvases of a rig at work, one of them shown."""

    def __init__(self, first: type[Canvas] = ClimbCanvas) -> None:
        self._canvases = {canvas: canvas() for canvas in CANVASES}
        self._at = CANVASES.index(first)
        self._lent_from: int | None = None

    @property
    def shown(self) -> Canvas:
        """The one in sight."""
        return self._canvases[CANVASES[self._at]]

    def of(self, canvas: type[C]) -> C:
        """One of them, shown or not."""
        found = self._canvases[canvas]
        assert isinstance(found, canvas)
        return found

    def turn(self, step: int) -> None:
        """The next canvas, or the one before."""
        self._at, self._lent_from = (self._at + step) % len(CANVASES), None

    def show(self, canvas: type[Canvas]) -> None:
        """Show a canvas."""
        self._at = CANVASES.index(canvas)

    def lend(self, canvas: type[Canvas]) -> None:
        """Show a canvas for as long as it is needed."""
        if self._lent_from is None:
            self._lent_from = self._at
        self.show(canvas)

    def give_back(self) -> None:
        """Show again what was shown before, unless somebody went elsewhere meanwhile."""
        if self._lent_from is not None:
            self._at, self._lent_from = self._lent_from, None
