"""The store: the book, open, by what it keeps."""

from collections.abc import Callable
from datetime import datetime

from sqlalchemy import Connection, Engine

from tenaz.core.rigs.rig import Rig
from tenaz.journal.base.database import Database
from tenaz.journal.feed.meeting import Meeting
from tenaz.journal.kept.beside import Beside
from tenaz.journal.kept.goldens import KeptGoldens
from tenaz.journal.kept.log import Log
from tenaz.journal.kept.machines import Machines
from tenaz.journal.kept.measures import Measures
from tenaz.journal.kept.overview import Overview
from tenaz.journal.kept.plans import Plans
from tenaz.journal.kept.reports import Reports
from tenaz.journal.kept.rigs import Rigs
from tenaz.journal.kept.routines import Routines
from tenaz.journal.kept.searches import Searches
from tenaz.journal.kept.sheets import Sheets
from tenaz.journal.kept.works import Works
from tenaz.journal.merging import Merged, merge
from tenaz.journal.opening.migrating import HEAD_REVISION
from tenaz.journal.trials.afterwards import Afterwards
from tenaz.journal.trials.trials import Trials
from tenaz.journal.trials.under_load import UnderLoad


class Store:
    """The book. With ``read_only`` (why, as text) every write is refused."""

    def __init__(
        self,
        engine: Engine,
        place: str,
        read_only: str = "",
        before_write: Callable[[Connection], None] | None = None,
    ) -> None:
        self._database = Database(engine, place, read_only, before_write)
        self.place, self.read_only = place, read_only
        self.rigs = Rigs(self._database)
        self.trials = Trials(self._database)
        self.afterwards = Afterwards(self._database)
        self.searches = Searches(self._database)
        self.load = UnderLoad(self._database)
        self.log = Log(self._database)
        self.sheets = Sheets(self._database)
        self.goldens = KeptGoldens(self._database)
        self.machines = Machines(self._database)
        self.routines = Routines(self._database)
        self.plans = Plans(self._database)
        self.works = Works(self._database)
        self.measures = Measures(self._database)
        self.reports = Reports(self._database)
        self.beside = Beside(self._database)
        self.overview = Overview(self._database, self.searches)

    def merge(self, other: "Store", name_for: Callable[[Rig], str], now: datetime) -> tuple[Merged, ...]:
        """Bring another book into this one, in one commit."""
        return merge(other._database, self._database, name_for, now)

    def meeting_with(self, home: "Store", looks_only: bool = False) -> Meeting:
        """What this book has told to a home, and what the home has taken; ``looks_only``: the home is only heard."""
        return Meeting(self._database, home._database, looks_only, HEAD_REVISION)

    def version(self) -> int:
        """Another number whenever anything was written, by whomever."""
        return self._database.version()

    @property
    def database(self) -> Database:
        """What all parts stand on; for who opens, checks and copies books."""
        return self._database

    def looked_at(self, why: str) -> "Store":
        """The same book, in which nothing may be written."""
        return Store(self._database.engine, self.place, why)

    @property
    def unread(self) -> dict[str, str]:
        """Rows that could not be read and were passed over: which, and why."""
        return self._database.unread

    def close(self) -> None:
        """Let go of the database."""
        self._database.close()
