"""What is heard of other benches while a book on a server is worked on."""

import threading
from collections.abc import Callable
from dataclasses import dataclass

from tenaz.core.ports.bench import Publish
from tenaz.core.ports.events import BookHeard
from tenaz.journal.feed.meeting import Met
from tenaz.journal.opening.feeding import FeedState
from tenaz.journal.opening.opening import OpenBook


@dataclass(frozen=True, slots=True)
class HomeNow:
    """How the book stands to its home: in words (empty: the file is the book), whether the home answers."""

    words: str = ""
    answers: bool = True


class HomeHeard:
    """Hears on the feed's thread; what is at hand is brought up to date when somebody next looks."""

    def __init__(self) -> None:
        self._moved, self._renamed = threading.Event(), dict[str, str]()
        self._book: OpenBook | None = None
        self._dropped = False

    def listen(self, book: OpenBook, publish: Callable[[], Publish], log: Callable[[str], None]) -> None:
        """Hear of a book from now on; that its home is away, or answers again, stands in the log."""
        self._book, self._renamed = book, {}
        if book.feeding is None:
            return

        def hear(state: FeedState, met: Met | None) -> None:
            self._renamed |= dict(met.renamed) if met is not None else {}
            if met is not None and met.taken and not met.only_goes_on:
                self._moved.set()
                self._dropped = self._dropped or met.dropped
            if met is None:
                log(state.show())
            if met is None:
                publish()(BookHeard(state.show()))
            else:
                publish()(BookHeard("; ".join(met.gave_way), met.only_goes_on))

        book.feeding.heard = hear

    def moved(self) -> tuple[dict[str, str], bool] | None:
        """Rigs that have other names since it was last asked, and whether trials were taken out; None: nothing came."""
        if not self._moved.is_set():
            return None
        self._moved.clear()
        renamed, self._renamed = self._renamed, {}
        dropped, self._dropped = self._dropped, False
        return renamed, dropped

    @property
    def now(self) -> HomeNow:
        """How the book stands to its home."""
        feeding = self._book.feeding if self._book is not None else None
        return HomeNow() if feeding is None else HomeNow(feeding.state.show(), feeding.state.answers)
