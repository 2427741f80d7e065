"""Which rigs are due for a check: proven long ago, and nothing tried since."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from tenaz.core.base.outcomes import Verdict
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Trial

SEASON = timedelta(days=150)
"""After so long it stands in another season's heat than it was proven in."""
MONTH_DAYS = 30.4


@dataclass(frozen=True, slots=True)
class Due:
    """A rig, since when nothing was tried on it, and why that is too long."""

    rig: str
    owner: str
    last_utc: datetime
    why: str

    def show(self) -> str:
        """In one line."""
        whose = f", of {self.owner}" if self.owner else ""
        return f"{self.rig}{whose}: last tried {self.last_utc:%b %Y}; {self.why}"


@dataclass(frozen=True, slots=True)
class FollowUp:
    """``note_id`` is that of the note (None: it goes away by itself once it is done)."""

    rig: str
    what: str
    why: str
    note_id: int | None = None

    def show(self) -> str:
        """In one line."""
        number = f"{self.note_id:>4}  " if self.note_id is not None else "      "
        return f"{number}{self.rig}: {self.what}: {self.why}"


def due(rig: Rig, trials: Sequence[Trial], now: datetime) -> Due | None:
    """Whether a rig whose settings were moved from stock, and held, is due; ``trials`` are those of one side."""
    closed = [one for one in trials if one.outcome is not None]
    if not closed or closed[-1].setpoint == rig.stock or closed[-1].verdict is not Verdict.PASS:
        return None
    last = closed[-1]
    age = now - last.begun_utc
    if age < SEASON:
        return None
    months = age.days / MONTH_DAYS
    if rig.guarantee_months is not None and months > rig.guarantee_months:
        return None
    why = [f"{months:.0f} months ago, in another season's heat"]
    if rig.fitted and last.fitted and rig.fitted != last.fitted:
        why.append("other parts or firmware since")
    if rig.guarantee_months is not None:
        why.append(f"guaranteed for {max(0.0, rig.guarantee_months - months):.0f} months more")
    return Due(rig.name, rig.owner, last.begun_utc, "; ".join(why))
