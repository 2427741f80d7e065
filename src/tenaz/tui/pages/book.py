"""The Book page: what is looked for, which trial is pointed at, and which it is compared with."""

from functools import partial
from typing import TYPE_CHECKING

from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.querying import Found, Query, found_in, parse_query
from tenaz.core.trials.trial import Trial
from tenaz.orders import BringFound, BringTrial
from tenaz.pictures.book.build import tallied
from tenaz.pictures.book.cells import BookPicture, draw_book
from tenaz.pictures.book.trial import TrialPage
from tenaz.pictures.drawing.paper import PICTURES
from tenaz.tui.pages.page import OUTCOMES, Drawing, Export, Page, PageHelp, head_of
from tenaz.workshop.looking.trial_page import MOST_FOUND

if TYPE_CHECKING:
    from tenaz.tui.base.at_hand import AtHand
    from tenaz.tui.base.hands import Hands
    from tenaz.workshop.looking.view import View


Rows = tuple[tuple[Trial, Rig], ...]


class BookPage(Page):
    """Trials of the rig at work come from what is at hand; those of all rigs are fetched."""

    name = "book"
    above = 1
    help = PageHelp(
        "Everything that was done, the newest first; the trial pointed at is opened beneath: asked and in"
        " force, what ran, how warm, what was wrong, what was noted. With another marked, both stand side"
        " by side.",
        (("▸", "pointed at"), ("=", "compared with"), ("≠", "ran otherwise than asked"), *OUTCOMES),
        ("search_book", "mark_trial", "correct_trial", "note_trial", "enter_past", "undo"),
        "Words must all hold: failed 2026-11 · data rate>=6000 march · moved:tcl · 'fan header' · #12 · "
        "all looks at every rig of the book.",
    )

    def __init__(self) -> None:
        self.query = Query("")
        self._at = 0
        self._found: Found | None = None
        self._page: TrialPage | None = None
        self._marked: TrialPage | None = None
        self._asked: Trial | None = None
        self._rows: tuple[object, Rows, int] = (None, (), 0)

    def drawing(self, work: "AtHand") -> Drawing:
        """The newest first, the one pointed at opened beneath."""
        return partial(draw_book, self.picture(work.view))

    def look_for(self, text: str, hands: "Hands") -> None:
        """Look for other words; trials of all rigs are fetched."""
        query = self.query = parse_query(text)
        self._at, self._found = 0, None

        def take(found: Found) -> None:
            if found.query == self.query:
                self._found = found
            hands.show()

        if query.everywhere:
            hands.bring(BringFound(query), take)

    def bring(self, work: "AtHand", hands: "Hands") -> None:
        """The trial pointed at, opened."""
        trial = self.pointed_at(work.view)
        if trial is None or trial == self._asked or (self._page is not None and self._page.trial == trial):
            return

        def take(page: TrialPage) -> None:
            self._page, self._asked = page, None
            hands.show()

        self._asked = trial
        hands.bring(BringTrial(trial.id), take)

    def point(self, work: "AtHand", step: int) -> None:
        """At another trial: 1 is the next newer one, as everywhere."""
        self._at = max(0, min(len(self.rows(work.view)[0]) - 1, self._at - step))
        self._open(work)

    def click(self, work: "AtHand", hands: "Hands", kind: str, which: int | str) -> None:
        """A row."""
        if kind == "found":
            self._at = int(which)
            self._open(work)
        super().click(work, hands, kind, which)

    def _open(self, work: "AtHand") -> None:
        trial = self.pointed_at(work.view)
        work.opened = None if trial is None else trial.id

    def export(self, work: "AtHand") -> Export:
        """The trials that are looked for, as a table; or as they stand here."""
        from tenaz.papers.exports import PictureOr  # noqa: PLC0415 - paper is needed where something is written
        from tenaz.papers.trial_files import ENDINGS, TrialsPaper  # noqa: PLC0415

        rows = self.rows(work.view)[0]
        paper = PictureOr(TrialsPaper(rows), PICTURES, self.drawn(work), head_of(work.view, "trials in the book"))
        return Export(f"{len(rows)} trials", f"{work.view.rig.name}-trials.csv", (*ENDINGS, *PICTURES), paper)

    def rows(self, view: "View") -> tuple[Rows, int]:
        """Trials that are looked for, the newest first, and how many more there are."""
        if self.query.everywhere:
            return (self._found.trials, self._found.more) if self._found is not None else ((), 0)
        known = (view.rig.name, view.bench, view.marks.change, self.query.text)
        if self._rows[0] != known:
            found = found_in(self.query, view.trials, view.rig)
            rows = tuple((trial, view.rig) for trial in found[:MOST_FOUND])
            self._rows = known, rows, max(0, len(found) - MOST_FOUND)
        return self._rows[1], self._rows[2]

    def pointed_at(self, view: "View") -> Trial | None:
        """The trial pointed at."""
        rows = self.rows(view)[0]
        return rows[min(self._at, len(rows) - 1)][0] if rows else None

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
            min(self._at, max(0, len(rows) - 1)),
            page,
            beside,
            None if marked is None else marked.trial.id,
            more,
            self.query.everywhere,
            tallied(rows, self.query.by) if self.query.by else (),
        )
