"""The store: the book, open, by what it keeps."""

from collections.abc import Callable
from datetime import datetime

from sqlalchemy import Connection, Engine

from tenaz.core.rigs import Rig
from tenaz.journal.afterwards import Afterwards
from tenaz.journal.database import Database
from tenaz.journal.goldens import KeptGoldens
from tenaz.journal.log import Log
from tenaz.journal.machines import Machines
from tenaz.journal.measures import Measures
from tenaz.journal.merging import Merged, merge
from tenaz.journal.plans import Plans
from tenaz.journal.reports import Reports
from tenaz.journal.rigs import Rigs
from tenaz.journal.routines import Routines
from tenaz.journal.searches import Searches
from tenaz.journal.sheets import Sheets
from tenaz.journal.trials import Trials
from tenaz.journal.under_load import UnderLoad
from tenaz.journal.works import Works


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

    def merge(self, other: "Store", name_for: Callable[[Rig], str], now: datetime) -> tuple[Merged, ...]:
        """Bring another book into this one, in one commit."""
        return merge(other._database, self._database, name_for, now)

    @property
    def unread(self) -> dict[str, str]:
        """Rows that could not be read and were passed over: which, and why."""
        return self._database.unread

    def close(self) -> None:
        """Let go of the database."""
        self._database.close()
