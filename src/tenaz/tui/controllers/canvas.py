"""Keys of the canvases: which is shown, its time, its filter, and what it is written as."""

from typing import TYPE_CHECKING

from tenaz.catalogues.outside import typed_path
from tenaz.core.base.errors import Refused
from tenaz.orders import BringSearch, WritePaper
from tenaz.tui.base.hands import Hands
from tenaz.tui.canvases.book import BookCanvas
from tenaz.tui.canvases.climb import ClimbCanvas
from tenaz.tui.canvases.day import DayCanvas
from tenaz.tui.canvases.strip import BY_NAME
from tenaz.tui.prompts.book import query_prompt
from tenaz.tui.prompts.loads import filter_prompt, past_prompt
from tenaz.tui.session.workspace import Workspace

if TYPE_CHECKING:
    from tenaz.pictures.climb.model import ClimbPicture


class CanvasController:
    """Turns over the canvases and moves about on them."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands

    def turn_canvas(self, step: int = 1) -> None:
        """The next canvas, or the one before."""
        self._work.canvases.turn(step)
        self._hands.bring_canvas_forward()
        self._hands.show()

    def show_canvas(self, name: str) -> None:
        """A canvas by its name."""
        self._work.canvases.show(BY_NAME[name])
        self.turn_canvas(0)

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
            self._work.canvases.show(ClimbCanvas)
            self._hands.show()

        self._hands.ask(past_prompt(climbs), take)

    def _take_past(self, picture: "ClimbPicture") -> None:
        self._work.past, self._work.cursor = picture, None
        self._hands.show()

    def point_at(self, step: int) -> None:
        """Point at what comes next on the canvas, or before."""
        self._work.canvases.shown.point(self._work, step)
        self._hands.show()

    def search_book(self) -> None:
        """Look for trials in words."""
        book = self._work.canvases.of(BookCanvas)

        def take(text: str | None) -> None:
            if text is not None:
                book.look_for(text, self._hands)
                self._show(BookCanvas)

        self._hands.ask(query_prompt(book.query.text), take)

    def mark_trial(self) -> None:
        """Compare with the opened trial from now on."""
        words = self._work.canvases.of(BookCanvas).mark()
        self._hands.tell(words) if words else self._hands.complain("No trial is opened: B opens the book.")
        self._hands.show()

    def show_day(self) -> None:
        """How far the work has come, and where everything stands."""
        self._show(DayCanvas)

    def _show(self, canvas: type[BookCanvas] | type[DayCanvas]) -> None:
        self._work.canvases.show(canvas)
        self._hands.bring_canvas_forward()
        self._hands.show()

    def export_canvas(self) -> None:
        """Write what the canvas shows."""
        try:
            export = self._work.canvases.shown.export(self._work)
        except Refused as refused:
            self._hands.complain(str(refused))
            return

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(WritePaper(export.paper, typed_path(text)))

        self._hands.ask(export.prompt(), take)
