"""Keys of the pages: which is shown, its time, its filter, and what it is written as."""

from typing import TYPE_CHECKING

from tenaz.catalogues.outside import typed_path
from tenaz.core.base.errors import Refused
from tenaz.orders import BringSearch, WritePaper
from tenaz.tui.base.hands import Hands
from tenaz.tui.pages.book import BookPage
from tenaz.tui.pages.day import DayPage
from tenaz.tui.pages.find import FindPage
from tenaz.tui.pages.strip import BY_NAME
from tenaz.tui.pages.tune import TunePage
from tenaz.tui.prompts.book import query_prompt
from tenaz.tui.prompts.loads import filter_prompt, past_prompt
from tenaz.tui.session.workspace import Workspace

if TYPE_CHECKING:
    from tenaz.pictures.climb.model import ClimbPicture


class PagesController:
    """Turns over the pages and moves about on them."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands

    def next_page(self, step: int = 1) -> None:
        """The next page, or the one before."""
        self._work.pages.turn(step)
        self._hands.bring_page_forward()
        self._hands.show()

    def page_back(self) -> None:
        """What was complained of was read; else the page that was shown before. A question of a trial that nothing runs
        can wait.
        """
        if self._hands.complaint_read():
            return
        if not self._work.busy and self._work.question is not None and self._work.view.now.unfinished is not None:
            self._work.put_off = self._work.view.now.unfinished.id
            self._hands.show_question(None)
            self._hands.show()
            return
        self._work.pages.back()
        self.next_page(0)

    def show_page(self, name: str) -> None:
        """A page by its name."""
        self._work.pages.show(BY_NAME[name])
        self.next_page(0)

    def show_day(self) -> None:
        """The day."""
        self.show_page(DayPage.name)

    def show_find(self) -> None:
        """The question path."""
        self.show_page(FindPage.name)

    def move_time(self, step: int) -> None:
        """Move along the time axis, or show what lies above or below."""
        self._hands.scroll(step)

    def zoom_time(self, percent: int) -> None:
        """Show another length of time, in percent of the present one."""
        self._work.load_view.zoom(percent / 100)
        self._hands.show_load()

    def filter_lines(self) -> None:
        """Show only log lines and sensors that hold a text."""

        def take(text: str | None) -> None:
            if text is not None:
                self._work.filter = self._work.load_view.filter = text.strip()
                self._hands.show()

        self._hands.ask(filter_prompt(self._work.filter), take)

    def look_back(self) -> None:
        """Look at a climb of before along the knob in hand."""
        name = self._work.dial.knob.name
        climbs = [one for one in self._work.view.searches.every if one.knobs == (name,)]

        def take(text: str | None) -> None:
            if text is None:
                return
            self._work.past = None
            if text.strip():
                self._hands.bring(BringSearch(int(text)), self._take_past)
            self._work.pages.show(TunePage)
            self._hands.show()

        self._hands.ask(past_prompt(climbs), take)

    def _take_past(self, picture: "ClimbPicture") -> None:
        self._work.past, self._work.cursor = picture, None
        self._hands.show()

    def point_at(self, step: int) -> None:
        """Point at what comes next on the page, or before."""
        self._work.pages.shown.point(self._work, step)
        self._hands.show()

    def point_up(self, lines: int) -> None:
        """Point at what stands so many lines above on the page, or below."""
        page = self._work.pages.shown
        if page.points(self._work):
            page.point(self._work, lines * page.above)
            self._hands.show()

    def search_book(self) -> None:
        """Look for trials in words."""
        book = self._work.pages.of(BookPage)

        def take(text: str | None) -> None:
            if text is not None:
                book.look_for(text, self._hands)
                self._show(BookPage)

        self._hands.ask(query_prompt(book.query.text), take)

    def mark_trial(self) -> None:
        """Compare with the opened trial from now on."""
        words = self._work.pages.of(BookPage).mark()
        self._hands.tell(words) if words else self._hands.complain("No trial is opened: p›b shows the book.")
        self._hands.show()

    def _show(self, page: type[BookPage]) -> None:
        self._work.pages.show(page)
        self._hands.bring_page_forward()
        self._hands.show()

    def export_page(self) -> None:
        """Write what the page shows."""
        try:
            export = self._work.pages.shown.export(self._work)
        except Refused as refused:
            self._hands.complain(str(refused))
            return

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(WritePaper(export.paper, typed_path(text)))

        self._hands.ask(export.prompt(), take)
