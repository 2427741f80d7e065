"""Which trial was the last that tried anything: one that was only brought up to be measured did not."""

from collections.abc import Sequence

from tenaz.core.loads.routines import COMES_UP
from tenaz.core.trials.trial import Trial


def newest_tried(trials: Sequence[Trial]) -> Trial | None:
    """The last of them, oldest first, that tried anything."""
    return next((one for one in reversed(trials) if one.plan != COMES_UP), None)
