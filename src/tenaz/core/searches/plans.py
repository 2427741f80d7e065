"""The plan: trials to come, in their order, and the rule by which an unattended run of it ends."""

import re
from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import checked_line
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.base.typed import parse_duration_s
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan, lasts_s, show_duration
from tenaz.core.trials.trial import Trial

MOST_PLANNED = 500
"""Trials that may wait at once: a list that nobody reads to its end is none."""


class PlanState(StrEnum):
    """What became of a planned trial."""

    WAITING = "waiting"
    MADE = "made"
    SKIPPED = "skipped"


@dataclass(frozen=True, slots=True)
class Planned:
    """A trial to come: where and under what, and where it came from; or, with ``search_id``, all trials that a search
    still takes. ``trial_id`` is the last that was made of it.
    """

    id: int
    setpoint: Setpoint
    load: LoadPlan
    why: str
    state: PlanState = PlanState.WAITING
    search_id: int | None = None
    trial_id: int | None = None


@dataclass(frozen=True, slots=True)
class StopRule:
    """When a run of the plan ends before its end: after ``failures`` in a row, or when the next trial could not be over
    after ``within_s``. A trial that got too hot always ends it: what was too hot once is too hot again.
    """

    failures: int = 2
    within_s: float | None = None

    def show(self) -> str:
        """As it is typed."""
        failures = f"{self.failures} failure{'s' if self.failures != 1 else ''}"
        return failures if self.within_s is None else f"{failures}, {show_duration(self.within_s)}"

    def why_end(self, made: tuple[Trial, ...], spent_s: float, coming: LoadPlan | None) -> str:
        """Why the run ends before ``coming``; empty: it goes on. ``made`` are its trials so far."""
        newest = made[-1] if made else None
        if newest is not None and newest.outcome is Outcome.TOO_HOT:
            return f"trial {newest.number} got too hot"
        tail = made[-self.failures :]
        if len(tail) == self.failures and all(one.verdict is Verdict.FAIL for one in tail):
            return f"{self.failures} failure{'s in a row' if self.failures != 1 else ''}"
        if self.within_s is not None:
            needs_s = 0.0 if coming is None or coming.duration_s is None else coming.duration_s
            if spent_s + needs_s > self.within_s:
                return f"the next trial would be over only after the {show_duration(self.within_s)} that it has"
        return ""


USUAL_RULE = StopRule()


def parse_rule(text: str) -> StopRule:
    """Read ``2 failures``, ``9h`` or both, divided by a comma; nothing is as usual.

    Raises:
        Refused: naming the part that is neither.
    """
    failures, within_s = USUAL_RULE.failures, USUAL_RULE.within_s
    for part in (one.strip() for one in checked_line(text).split(",")):
        if not part:
            continue
        if found := re.fullmatch(r"(\d{1,3})\s*failures?", part.lower()):
            failures = int(found[1])
            if not failures:
                raise Refused("0 failures would end it before it began; give 1 or more.")
        else:
            try:
                within_s = parse_duration_s(part)
            except Refused as refused:
                raise Refused(
                    f"{part[:40]!r} is no rule; say after how many failures in a row it ends, and within what time, "
                    f"like: 2 failures, 9h."
                ) from refused
    return StopRule(failures, within_s)


@dataclass(frozen=True, slots=True)
class PlanRun:
    """One run of the plan, from the trial ``from_number`` on. ``ended_why`` is empty while it runs, or when the machine
    went down under it.
    """

    id: int
    from_number: int
    rule: StopRule
    begun_utc: datetime
    ended_utc: datetime | None = None
    ended_why: str = ""

    @property
    def open(self) -> bool:
        """Whether nothing ended it."""
        return self.ended_utc is None


def plan_lasts_s(waiting: tuple[Planned, ...]) -> float | None:
    """How long the loads of trials take; None when one goes by laps, until stopped, or is a search."""
    return None if any(one.search_id is not None for one in waiting) else lasts_s(one.load for one in waiting)


def over_at(now: datetime, waiting: tuple[Planned, ...], boot_s: float) -> datetime | None:
    """When the plan would be through, with so much for each start of the rig; None: nobody knows."""
    load_s = plan_lasts_s(waiting)
    return None if load_s is None else now + timedelta(seconds=load_s + boot_s * len(waiting))
