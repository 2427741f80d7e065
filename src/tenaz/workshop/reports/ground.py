"""What a report is made from."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.shown import Evidence
from tenaz.core.parts.works import PartLabel, Work
from tenaz.core.trials.trial import Trial
from tenaz.finding.enough import Diagnosis
from tenaz.pictures.margins.model import MarginsPicture
from tenaz.pictures.scores.model import ScoresPicture
from tenaz.workshop.looking.view import View


@dataclass(frozen=True, slots=True)
class ReportGround:
    """What a report is made from."""

    view: View
    evidence: Evidence
    margins: MarginsPicture
    scores: ScoresPicture
    works: Sequence[Work]
    labels: Sequence[PartLabel]
    found: Diagnosis | None = None
    """What the question path has come to; None where nothing was looked for, or it has not come to anything."""

    @property
    def before(self) -> tuple[Trial, ...]:
        """Closed trials at stock, before the last piece of work on its parts; none where it still is as it came."""
        view, last_work = self.view, max((one.after_number for one in self.works[1:]), default=None)
        every = (one for one in view.trials if one.setpoint == view.rig.stock and one.verdict is not Verdict.VOID)
        if view.in_force == view.rig.stock and last_work is None:
            return ()
        closed = (one for one in every if one.outcome is not None)
        return tuple(one for one in closed if last_work is None or one.number <= last_work)

    @property
    def here(self) -> tuple[Trial, ...]:
        """Closed trials at what is in force."""
        return tuple(one for one in self.view.index.at(self.view.in_force) if one.outcome is not None)
