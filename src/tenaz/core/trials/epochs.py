"""Times of a rig: what was tried before a long pause, or before other parts or another firmware, and what after."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import timedelta

from tenaz.core.trials.trial import Trial

PAUSE = timedelta(days=30)
"""After so long without a trial, what is tried then belongs to another time of the rig."""


@dataclass(frozen=True, slots=True)
class Epoch:
    """Trials without a long pause on the same parts under the same firmware; ``since`` is what made it another."""

    trials: tuple[Trial, ...]
    since: str = ""

    @property
    def dated(self) -> str:
        """From when to when, like ``Mar 2026`` or ``Mar to May 2026``."""
        first, last = self.trials[0].begun_utc, self.trials[-1].begun_utc
        if (first.year, first.month) == (last.year, last.month):
            return f"{last:%b %Y}"
        return f"{first:%b}{f' {first:%Y}' if first.year != last.year else ''} to {last:%b %Y}"

    @property
    def label(self) -> str:
        """When, and what made it another."""
        return f"{self.dated}{f' ({self.since})' if self.since else ''}"


def epochs_of(trials: Iterable[Trial]) -> tuple[Epoch, ...]:
    """Closed trials in their times, the oldest first."""
    found: list[list[Trial]] = []
    whys: list[str] = []
    closed = [one for one in trials if one.outcome is not None]
    for trial in sorted(closed, key=lambda one: (one.begun_utc, one.number)):
        why = _why(found[-1][-1], trial) if found else None
        if not found or why is not None:
            found.append([])
            whys.append(why or "")
        found[-1].append(trial)
    return tuple(Epoch(tuple(some), why) for some, why in zip(found, whys, strict=True))


def _why(before: Trial, now: Trial) -> str | None:
    """Why a trial belongs to another time than the one before; None: it does not."""
    if before.fitted and now.fitted and before.fitted != now.fitted:
        was, here = set(before.fitted.split("; ")), set(now.fitted.split("; "))
        return ", ".join(sorted(here - was)) or f"without {', '.join(sorted(was - here))}"
    pause = now.begun_utc - before.begun_utc
    return f"after {round(pause.days / 30.4)} months" if pause >= PAUSE else None
