"""What comes next when nobody is there: decided from the standing order and from how the last trial ended alone.

Every way through ends: a load that failed is left behind, or repeated at most so many times in a row.
"""

from dataclasses import dataclass, replace

from tenaz.aboard.standing import AfterFailure, StandingOrder
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.machine.kept_free import Which
from tenaz.core.trials.trial import Trial


@dataclass(frozen=True, slots=True)
class TakeUpTrial:
    """Go on with a trial that was being typed in when the machine restarted, as it was to."""

    trial: Trial


@dataclass(frozen=True, slots=True)
class RecordUnseen:
    """Nobody saw how this trial ended: its record says so."""

    trial: Trial
    outcome: Outcome


@dataclass(frozen=True, slots=True)
class RunLoad:
    """Run the load that is next."""

    plan: LoadPlan


@dataclass(frozen=True, slots=True)
class StartAnew:
    """Restart the machine, with another range kept free."""

    which: Which


@dataclass(frozen=True, slots=True)
class Wait:
    """There is nothing more to do, and why."""

    why: str


Next = TakeUpTrial | RecordUnseen | RunLoad | StartAnew | Wait


@dataclass(frozen=True, slots=True)
class Situation:
    """How things stand: a trial that nobody judged (``can_go_on``: no load of it had begun), whether the machine has
    stayed up since, the newest judged trial of the standing order, and whether ranges can be had at all.
    """

    unfinished: Trial | None = None
    can_go_on: bool = False
    same_boot: bool = False
    last: Trial | None = None
    may_divide: bool = True


def decide(standing: StandingOrder, now: Situation) -> tuple[Next, StandingOrder]:
    """What comes next, and the standing order as it is from then on; the latter is written before anything is done."""
    if now.unfinished is not None:
        outcome = Outcome.STOPPED if now.same_boot else Outcome.RESTARTED
        going = TakeUpTrial(now.unfinished) if now.can_go_on else RecordUnseen(now.unfinished, outcome)
        return going, standing
    if now.last is not None and now.last.outcome is not None and now.last.number > standing.judged:
        standing = replace(_judged(standing, now.last), judged=now.last.number)
    if standing.ended:
        return Wait(standing.ended), standing
    divides = standing.by_turns and now.may_divide
    if divides and standing.which is Which.NOTHING:
        return _anew(standing, Which.UPPER)
    if standing.at < len(standing.loads):
        return RunLoad(standing.loads[standing.at]), standing
    return _next_round(replace(standing, at=0, starts_done=standing.starts_done + 1), divides)


def _next_round(standing: StandingOrder, divides: bool) -> tuple[Next, StandingOrder]:
    """All loads were run in this start."""
    if standing.starts and standing.starts_done >= standing.starts:
        why = f"all {standing.starts} starts are done" if standing.starts > 1 else "the start is done"
        return Wait(why), replace(standing, ended=why)
    if divides:
        return _anew(standing, standing.which.next)
    return RunLoad(standing.loads[0]), standing


def _anew(standing: StandingOrder, which: Which) -> tuple[Next, StandingOrder]:
    return StartAnew(which), replace(standing, which=which)


def _judged(standing: StandingOrder, trial: Trial) -> StandingOrder:
    """The standing order after the load of a trial ended."""
    outcome = trial.outcome
    assert outcome is not None
    if outcome is Outcome.STOPPED and not trial.elapsed_s:
        return replace(standing, ended=f"trial {trial.number} could not run; the log says why")
    if outcome.verdict is not Verdict.FAIL and outcome is not Outcome.LOST:
        # Stopped by hand or by Tenaz's own end says nothing about the rig; the load counts as done.
        return replace(standing, at=standing.at + 1, failures=0)
    failures = standing.failures + 1
    many = f"{failures} failure{'s' if failures != 1 else ''} in a row, the last: {outcome}"
    if standing.after is AfterFailure.STOP or failures >= standing.most_failures:
        return replace(standing, failures=failures, ended=many)
    at = standing.at if standing.after is AfterFailure.REPEAT else standing.at + 1
    return replace(standing, failures=failures, at=at)
