"""The strip of pages: which one is shown, in the order in which one goes from one to the next."""

from typing import TypeVar

from tenaz.tui.pages.alike import AlikePage
from tenaz.tui.pages.book import BookPage
from tenaz.tui.pages.day import DayPage
from tenaz.tui.pages.errors import ErrorsPage
from tenaz.tui.pages.field import FieldPage
from tenaz.tui.pages.find import FindPage
from tenaz.tui.pages.load import LoadPage
from tenaz.tui.pages.margins import MarginsPage
from tenaz.tui.pages.memory import MemoryPage
from tenaz.tui.pages.night import NightPage
from tenaz.tui.pages.page import Page
from tenaz.tui.pages.plan import PlanPage
from tenaz.tui.pages.rig import RigPage
from tenaz.tui.pages.scores import ScoresPage
from tenaz.tui.pages.sheet import SheetPage
from tenaz.tui.pages.timings import TimingsPage
from tenaz.tui.pages.tune import TunePage

ALL: tuple[type[Page], ...] = (
    DayPage,
    TunePage,
    MarginsPage,
    SheetPage,
    TimingsPage,
    LoadPage,
    ErrorsPage,
    FindPage,
    FieldPage,
    NightPage,
    MemoryPage,
    ScoresPage,
    PlanPage,
    BookPage,
    RigPage,
    AlikePage,
)
BY_NAME = {page.name: page for page in ALL}
PAGES = tuple(BY_NAME)
"""As they stand on the strip."""

C = TypeVar("C", bound=Page)


class Strip:
    """All pages of a rig at work, one of them shown."""

    def __init__(self, first: type[Page] = DayPage) -> None:
        self._pages = {page: page() for page in ALL}
        self._at = ALL.index(first)
        self._lent: list[tuple[type[Page], int]] = []
        self._before: int | None = None

    @property
    def shown(self) -> Page:
        """The one in sight."""
        return self._pages[ALL[self._at]]

    def of(self, page: type[C]) -> C:
        """One of them, shown or not."""
        found = self._pages[page]
        assert isinstance(found, page)
        return found

    def turn(self, step: int) -> None:
        """The next page, or the one before."""
        self._go((self._at + step) % len(ALL))
        self._lent.clear()

    def show(self, page: type[Page]) -> None:
        """Show a page."""
        self._go(ALL.index(page))

    def back(self) -> None:
        """The page that was shown before."""
        if self._before is not None:
            self.turn(self._before - self._at)

    def lend(self, page: type[Page]) -> None:
        """Show a page for as long as it is needed."""
        if self._at != ALL.index(page):
            self._lent.append((page, self._at))
            self._at = ALL.index(page)

    def give_back(self, page: type[Page]) -> None:
        """Show again what was shown before a page was lent, unless somebody went elsewhere meanwhile."""
        lent = next((one for one in self._lent if one[0] is page), None)
        if lent is not None:
            self._lent.remove(lent)
            if self._at == ALL.index(page):
                self._at = lent[1]

    def _go(self, place: int) -> None:
        if place != self._at:
            self._at, self._before = place, self._at
