"""Failures that no setting causes: a supply, a part that ages, the house's current. Only clean hours tell of them."""

from dataclasses import dataclass
from weakref import WeakKeyDictionary

from tenaz.core.base.outcomes import Verdict
from tenaz.core.base.tolerance import Tolerance
from tenaz.core.evidence.shown import poisson_limit
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.trials.index import TrialIndex


@dataclass(frozen=True, slots=True)
class Background:
    """``here_h`` are all clean hours of a rig, whatever was set, ``in_use_h`` those of its owner's use, ``alike_h``
    those of the workshop's rigs that are like it; ``failures`` are its own where nothing was moved from how it came,
    and those of rigs like it that came late.
    """

    here_h: float
    failures: int = 0
    in_use_h: float = 0.0
    alike_h: float = 0.0

    @property
    def hours(self) -> float:
        """All that count."""
        return self.here_h + self.in_use_h + self.alike_h

    def shows(self, tolerance: Tolerance) -> bool:
        """Whether the rate that is tolerated is shown, as surely as asked."""
        return self.owed_h(tolerance) == 0

    def owed_h(self, tolerance: Tolerance) -> float:
        """Clean hours more that would show it, here or in use; exact, Poisson."""
        needed = poisson_limit(self.failures, tolerance.confidence) / tolerance.rate_per_h
        return max(0.0, needed - self.hours)


def background_of(trials: TrialIndex, stock: Setpoint, in_use_h: float = 0.0) -> Background:
    """Of a rig's trials; gone through once for what is on the shelf."""
    known = _KEPT.get(trials)
    if known is None or known[0] != trials.version:
        here_s, failures = 0.0, 0
        for one in trials.trials:
            if one.verdict is Verdict.PASS:
                here_s += one.elapsed_s
            elif one.verdict is Verdict.FAIL:
                here_s += one.clean_s
                failures += one.setpoint == stock
        known = _KEPT[trials] = (trials.version, here_s / 3600, failures)
    return Background(known[1], known[2] + trials.alike.failures, in_use_h, trials.alike.hours)


_KEPT: WeakKeyDictionary[TrialIndex, tuple[int, float, int]] = WeakKeyDictionary()
