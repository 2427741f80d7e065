"""Trials that were made elsewhere or before: as they are told, with what nobody knows left open."""

from dataclasses import dataclass
from datetime import datetime
from typing import Final

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.record_text import SeenRecord

ENTERED_LATER: Final = "entered later"
"""Who saw a trial that was entered afterwards: it left no values in the rig that it stands at now."""


@dataclass(frozen=True, slots=True)
class PastTrial:
    """A trial told afterwards. ``at_utc`` is when it was (None: nobody knows); ``day_only``: its hour is not known."""

    setpoint: Setpoint
    plan: LoadPlan
    record: SeenRecord
    at_utc: datetime | None = None
    day_only: bool = False
    note: str = ""
    rig: str = ""
    """Whose it is; empty: of the rig at work."""
    bench: BenchKind | None = None
    """Where it counts; None: where its rig is worked on."""
    uid: str = ""
    """Its identity in the book that it comes from; empty: it comes from none."""

    @property
    def uncertain(self) -> str:
        """What about it nobody knows exactly, in words; empty where all is known."""
        words = []
        if self.at_utc is None:
            words.append("when it was is not known")
        elif self.day_only:
            words.append("of its time only the day is known")
        if self.record.about:
            words.append("how long it ran is a guess")
        return ", ".join(words)
