"""The Book canvas: what is looked for, which trial is pointed at, and which it is compared with."""

from typing import TYPE_CHECKING

from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.querying import Found, Query, found_in, parse_query
from tenaz.core.trials.trial import Trial
from tenaz.orders import BringFound, BringTrial
from tenaz.pictures.book.build import tallied
from tenaz.pictures.book.cells import BookPicture
from tenaz.pictures.book.trial import TrialPage
from tenaz.workshop.looking.trial_page import MOST_FOUND

if TYPE_CHECKING:
    from tenaz.workshop.looking.view import View

Rows = tuple[tuple[Trial, Rig], ...]


class BookView:
    """Trials of the rig at work come from what is at hand; those of all rigs are fetched."""

    def __init__(self) -> None:
        self.query = Query("")
        self.at = 0
        self._found: Found | None = None
        self._page: TrialPage | None = None
        self._marked: TrialPage | None = None
        self._rows: tuple[object, Rows, int] = (None, (), 0)

    def look_for(self, text: str) -> BringFound | None:
        """Look for other words; gives what must be fetched for that, if anything."""
        self.query, self.at, self._found = parse_query(text), 0, None
        return BringFound(self.query) if self.query.everywhere else None

    def take_found(self, found: Found) -> None:
        """Trials of all rigs came."""
        if found.query == self.query:
            self._found = found

    def take_page(self, page: TrialPage) -> None:
        """The trial pointed at came, opened."""
        self._page = page

    def rows(self, view: "View") -> tuple[Rows, int]:
        """Trials that are looked for, the newest first, and how many more there are."""
        if self.query.everywhere:
            return (self._found.trials, self._found.more) if self._found is not None else ((), 0)
        known = (view.rig.name, view.bench, view.change, self.query.text)
        if self._rows[0] != known:
            found = found_in(self.query, view.trials, view.rig)
            rows = tuple((trial, view.rig) for trial in found[:MOST_FOUND])
            self._rows = known, rows, max(0, len(found) - MOST_FOUND)
        return self._rows[1], self._rows[2]

    def walk(self, step: int, view: "View") -> None:
        """Point at another trial: 1 is the next newer one, as everywhere."""
        self.at = max(0, min(len(self.rows(view)[0]) - 1, self.at - step))

    def pointed_at(self, view: "View") -> Trial | None:
        """The trial pointed at."""
        rows = self.rows(view)[0]
        return rows[min(self.at, len(rows) - 1)][0] if rows else None

    def to_bring(self, view: "View") -> BringTrial | None:
        """What must be fetched to open the trial pointed at; None where it is open, or there is none."""
        trial = self.pointed_at(view)
        if trial is None or (self._page is not None and self._page.trial == trial):
            return None
        return BringTrial(trial.id)

    def mark(self) -> str:
        """Compare with the opened trial from now on; the one that is marked already: with none any more."""
        page = self._page
        if page is None:
            return ""
        if self._marked is not None and self._marked.trial.id == page.trial.id:
            self._marked = None
            return "compared with none any more"
        self._marked = page
        return f"every other trial is now compared with trial {page.trial.number}"

    def picture(self, view: "View") -> BookPicture:
        """What there is to see."""
        rows, more = self.rows(view)
        trial = self.pointed_at(view)
        page = self._page if self._page is not None and trial is not None and self._page.trial.id == trial.id else None
        marked = self._marked
        beside = marked if marked is not None and page is not None and marked.trial.id != page.trial.id else None
        return BookPicture(
            self.query.text,
            rows,
            min(self.at, max(0, len(rows) - 1)),
            page,
            beside,
            None if marked is None else marked.trial.id,
            more,
            self.query.everywhere,
            tallied(rows, self.query.by) if self.query.by else (),
        )
