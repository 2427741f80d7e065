"""Keys of the canvases: which is shown, its time, its filter, and what it is written as."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from tenaz.catalogues.outside import typed_path
from tenaz.orders import BringLoad, BringMemory, BringSearch, WritePaper
from tenaz.tui.base.hands import Hands
from tenaz.tui.prompts.book import query_prompt
from tenaz.tui.prompts.loads import filter_prompt, past_prompt
from tenaz.tui.session.workspace import Workspace

if TYPE_CHECKING:
    from tenaz.core.trials.querying import Found
    from tenaz.pictures.book.trial import TrialPage
    from tenaz.pictures.climb.model import ClimbPicture
    from tenaz.pictures.drawing.cells import Cells
    from tenaz.pictures.load.build import KnownOfLoad
    from tenaz.pictures.memory.model import MemoryPicture
    from tenaz.tui.canvases.exporting import Export


class CanvasController:
    """Turns over the canvases and moves about on them."""

    def __init__(self, work: Workspace, hands: Hands) -> None:
        self._work = work
        self._hands = hands
        self.bring_found: Callable[[], None] = lambda: None
        """Fetches what the question path thinks, where that is in sight."""
        self.bring_scores: Callable[[], None] = lambda: None
        """Fetches what was measured, where that is in sight."""

    def turn_canvas(self, step: int = 1) -> None:
        """The next canvas, or the one before."""
        self._work.canvases.turn(step)
        self._hands.bring_canvas_forward()
        self.bring_load()
        self.bring_page()
        self.bring_found()
        self.bring_memory()
        self.bring_scores()
        self._hands.show()

    def show_canvas(self, name: str) -> None:
        """A canvas by its name."""
        self._work.canvases.show(name)
        self.turn_canvas(0)

    def move_time(self, step: int) -> None:
        """Move the cursor of the Load canvas, or scroll what is pointed out on the Rig canvas."""
        if self._work.canvases.name in ("rig", "margins", "scores"):
            self._hands.scroll_rig(step)
            return
        self._work.canvases.load_view.move(step)
        self._hands.show_load()

    def zoom_time(self, percent: int) -> None:
        """Show another length of time on the Load canvas, in percent of the present one."""
        self._work.canvases.load_view.zoom(percent / 100)
        self._hands.show_load()

    def filter_lines(self) -> None:
        """Show only log lines and sensors that hold a text."""

        def take(text: str | None) -> None:
            if text is not None:
                self._work.filter = self._work.canvases.load_view.filter = text.strip()
                self._hands.show()

        self._hands.ask(filter_prompt(self._work.filter), take)

    def look_back(self) -> None:
        """Look at a climb of before along the knob in hand."""
        name = self._work.dial.knob.name
        climbs = [one for one in self._work.view.climbs if one.knobs == (name,)]

        def take(text: str | None) -> None:
            if text is None:
                return
            self._work.past = None
            if text.strip():
                self._hands.give(BringSearch(int(text)))
            self._work.canvases.show("climb")
            self._hands.show()

        self._hands.ask(past_prompt(climbs), take)

    def take_past(self, picture: "ClimbPicture") -> None:
        """A climb of before was drawn up."""
        self._work.past, self._work.cursor = picture, None
        self._hands.show()

    def point_at(self, step: int) -> None:
        """Point at another trial; on the plan, at another one to come."""
        canvases, view = self._work.canvases, self._work.view
        if canvases.name == "rig" and canvases.find.shown(view):
            canvases.find.point(step)
        elif canvases.name == "plan":
            canvases.plan_at = max(0, min(len(view.planned) - 1, canvases.plan_at + step))
        elif canvases.name == "book":
            canvases.book.walk(step, view)
            self._open_pointed_at()
        else:
            self._work.opened = None
            trials = self._work.pointable()
            at = len(trials) - 1 if self._work.cursor is None else self._work.cursor + step
            self._work.cursor = max(0, min(len(trials) - 1, at))
            self.bring_load()
        self._hands.show()

    def take_place(self, at: int) -> None:
        """A row of the book, or of the plan, was clicked."""
        if self._work.canvases.name == "plan":
            self._work.canvases.plan_at = at
        else:
            self._work.canvases.book.at = at
            self._open_pointed_at()
        self._hands.show()

    def _open_pointed_at(self) -> None:
        trial = self._work.canvases.book.pointed_at(self._work.view)
        self._work.opened = None if trial is None else trial.id
        self.bring_page()

    def search_book(self) -> None:
        """Look for trials in words."""
        book = self._work.canvases.book

        def take(text: str | None) -> None:
            if text is None:
                return
            order = book.look_for(text)
            if order is not None:
                self._hands.give(order)
            self._work.canvases.show("book")
            self._hands.bring_canvas_forward()
            self.bring_page()
            self._hands.show()

        self._hands.ask(query_prompt(book.query.text), take)

    def mark_trial(self) -> None:
        """Compare with the opened trial from now on."""
        words = self._work.canvases.book.mark()
        self._hands.tell(words) if words else self._hands.complain("No trial is opened: B opens the book.")
        self._hands.show()

    def show_day(self) -> None:
        """How far the work has come, and where everything stands."""
        self._work.canvases.show("day")
        self._hands.bring_canvas_forward()
        self._hands.show()

    def bring_page(self) -> None:
        """Open the trial pointed at in the book, where that is in sight."""
        if self._work.canvases.name == "book":
            order = self._work.canvases.book.to_bring(self._work.view)
            if order is not None:
                self._hands.give(order)

    def take_found(self, found: "Found") -> None:
        """Trials of all rigs came."""
        self._work.canvases.book.take_found(found)
        self.bring_page()
        self._hands.show()

    def take_page(self, page: "TrialPage") -> None:
        """A trial came, opened."""
        self._work.canvases.book.take_page(page)
        self._hands.show()

    def take_trial(self, number: int) -> None:
        """Point at the trial of this number."""
        self._work.opened = None
        numbers = [trial.number for trial in self._work.pointable()]
        self._work.cursor = numbers.index(number) if number in numbers else None
        self.bring_load()
        self._hands.show()

    def bring_memory(self) -> None:
        """Fetch what was reached of the memory, where that is in sight and something changed since."""
        canvases, view = self._work.canvases, self._work.view
        known = (view.rig.name, view.change)
        if canvases.name == "memory" and canvases.memory_known != known:
            canvases.memory_known = known
            self._hands.give(BringMemory())

    def take_memory(self, picture: "MemoryPicture") -> None:
        """It came."""
        self._work.canvases.memory = picture
        self._hands.show()

    def bring_load(self) -> None:
        """Fetch the load of the trial pointed at, when it is not the one shown."""
        trial = self._work.load_to_bring()
        if trial is not None:
            self._hands.give(BringLoad(trial.id))

    def take_load(self, trial_id: int, known: "KnownOfLoad") -> None:
        """What the book kept of a past trial's load came."""
        trial = self._work.view.index.one(trial_id)
        if trial is not None and not self._work.busy:
            self._work.canvases.load_view.take_kept(trial, known)
            self._hands.show_load()

    def export_canvas(self) -> None:
        """Write what the canvas shows."""
        export = self._export()
        if export is None:
            return
        paper = export.paper

        def take(text: str | None) -> None:
            if text is not None:
                self._hands.give(WritePaper(paper, typed_path(text)))

        self._hands.ask(export.prompt(), take)

    def _drawn(self) -> "Cells":
        """What the canvas shows, as large as on paper."""
        from tenaz.tui.canvases.exporting import PAPER_COLUMNS, PAPER_ROWS  # noqa: PLC0415 - needed where something is written

        work = self._work
        return work.canvases.drawing(work.view, work.dial, None, None)(PAPER_COLUMNS, PAPER_ROWS)

    def _export(self) -> "Export | None":
        """What the canvas can become; None, with the reason said, when it shows nothing."""
        from tenaz.tui.canvases.exporting import (  # noqa: PLC0415 - paper is needed where something is written
            book_export,
            cells_export,
            climb_export,
            cycle_export,
            day_export,
            sheet_export,
        )

        work = self._work
        name, view, dial = work.canvases.name, work.view, work.dial
        if name == "climb":
            picture = work.picture()
            if picture is None:
                self._hands.complain("There is no climb along this knob to export yet.")
            return climb_export(picture, view) if picture else None
        if name == "cycle":
            cycle = work.canvases.cycle(view, dial)
            if cycle is None:
                self._hands.complain("The data rate is not known, or on auto: there is no cycle to export.")
            return cycle_export(cycle, view, dial.setpoint) if cycle else None
        if name == "sheet":
            return sheet_export(view, dial.setpoint, self._drawn(), dial.out_of_reach)
        if name == "day":
            return day_export(work.canvases.drawing(view, dial, None, None), view)
        if name == "book":
            return book_export(view, self._drawn(), work.canvases.book.rows(view)[0])
        return cells_export(work.canvases.drawing(view, dial, None, None), name, view)
