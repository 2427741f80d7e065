"""What of a load is in the book already, where its trial is taken up while it still runs: nothing is kept twice."""

from collections import Counter
from dataclasses import dataclass, field, replace

from tenaz.core.loads.plan import Mismatch
from tenaz.core.ports.bench import LoadJournal
from tenaz.core.sensors.telemetry import Sample

TIMES_S = 0.001
"""Times in a kept trace are whole milliseconds."""


@dataclass(frozen=True, slots=True)
class Before:
    """Samples and wrong values that are kept of a load."""

    samples: tuple[Sample, ...] = ()
    wrong: Counter[Mismatch] = field(default_factory=Counter)

    def has(self, sample: Sample) -> bool:
        """Whether a sample came before: they come in the order of their times."""
        return bool(self.samples) and sample.at_s <= self.samples[-1].at_s + TIMES_S

    def knows(self, mismatch: Mismatch) -> bool:
        """Whether a wrong value came before; told once for each time that it was kept."""
        if not self.wrong:
            return False
        known = _as_kept(mismatch)
        if self.wrong[known] <= 0:
            return False
        self.wrong[known] -= 1
        return True


NOTHING_BEFORE = Before()


def before_of(trial_id: int, journal: LoadJournal) -> Before:
    """What the book has of a trial's load."""
    wrong = Counter(_as_kept(one) for one in journal.mismatches_of(trial_id))
    return Before(journal.samples_of(trial_id), wrong)


def _as_kept(mismatch: Mismatch) -> Mismatch:
    """By what a table keeps to the bit."""
    return replace(mismatch, temperature_c=None, at_s=round(mismatch.at_s, 3))
