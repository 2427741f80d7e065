"""What a load has come to, out of what its workers said: on its way, and at its end."""

from collections.abc import Sequence
from dataclasses import replace

from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.fields import LoadFact
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan, LoadProgress, LoadReport, laps_of, show_duration
from tenaz.core.trials.facts import facts_by_lanes
from tenaz.loads.cards import answers_again
from tenaz.loads.crews import Surroundings
from tenaz.loads.heard import Heard
from tenaz.loads.workers import Worker

LEAST_SHARE = 0.4
"""A load waits for its workers to have worked as long as it was to last; not for one that works less of its time: that
one was starved, and its load has not held, though what it did counts.
"""


def progress_of(
    plan: LoadPlan, heard: Heard, own: list[Worker], elapsed_s: float, temperature_c: float | None
) -> LoadProgress:
    """The load at this moment, with the time left where it has an end. ``own`` are those of the plan itself, without
    those of the loads beside it.
    """
    laps = laps_of(plan.kind, [worker.lane.laps for worker in own])
    fraction, left = plan.ahead(elapsed_s, laps)
    return LoadProgress(
        plan=plan,
        elapsed_s=elapsed_s,
        fraction=fraction,
        left_s=left,
        laps=laps,
        rate=sum(worker.lane.rate for worker in own),
        errors=heard.errors,
        lanes=tuple(worker.lane for worker in heard.workers),
        temperature_c=temperature_c,
    )


def report_of(now: LoadProgress, heard: Heard, around: Surroundings, started: bool, stopped: bool) -> LoadReport:
    """What came of the load; ``now`` is its last progress, ``stopped`` that somebody stopped it.

    Raises:
        Refused: a worker died before the load began.
    """
    if not started and heard.died:
        raise Refused(f"The load could not start: {heard.died}.")
    first = min((wrong.at_s for wrong in heard.mismatches), default=None)
    if first is None and heard.died:
        first = now.elapsed_s
    # A load without an end is meant to be stopped: that is how it holds.
    cut_short = stopped and (now.plan.duration_s is not None or now.plan.laps is not None)
    facts = _facts(now, heard, around, first)
    outcome, detail = _judged(now, heard, facts, cut_short or not started)
    return LoadReport(
        plan=now.plan,
        outcome=outcome,
        elapsed_s=now.elapsed_s,
        laps=now.laps,
        rate=now.rate,
        errors=now.errors,
        failed_after_s=first,
        mismatches=tuple(heard.mismatches),
        detail=detail,
        loads=facts,
    )


def _judged(now: LoadProgress, heard: Heard, facts: Sequence[LoadFact], short: bool) -> tuple[Outcome, str]:
    """How it ended, and why it ended so. Only what every worker has worked at and verified has held."""
    if heard.mismatches or heard.died:
        return _failed(heard)
    if heard.unchecked:
        return Outcome.UNCHECKED, f"the check itself failed: {heard.unchecked}; that says nothing about the rig"
    if heard.void or short:
        return Outcome.STOPPED, heard.void
    if unverified := _unverified(facts):
        return Outcome.STOPPED, unverified
    least = min(heard.workers, key=_share)
    timed, share = now.plan.duration_s, _share(least)
    # Laps that are done are done, however long that took.
    starved = now.elapsed_s < timed if timed is not None else share < LEAST_SHARE and now.plan.laps is None
    if not starved:
        return Outcome.HELD, ""
    time_s = least.asked_s + least.stood_s
    had = f"{least.name} worked {share:.0%} of {show_duration(time_s)}, other programs had the rest or it was stopped"
    return Outcome.STARVED, f"{had}: {show_duration(now.elapsed_s)} of work count"


def _failed(heard: Heard) -> tuple[Outcome, str]:
    """A card that went away is told as that, unless it gave wrong values before."""
    if heard.lost_card is not None and not heard.mismatches:
        return _lost(heard.lost_card, heard.died)
    return Outcome.ERRED, heard.died or heard.unchecked or heard.void


def _lost(card: int, died: str) -> tuple[Outcome, str]:
    """A card that went away: its driver began anew where it answers again by now, else it stands."""
    if answers_again(card):
        return Outcome.RESTARTED, f"card {card} was lost and answers again: its driver began anew ({died})"
    return Outcome.FROZE, f"card {card} was lost and does not answer any more ({died})"


def _share(worker: Worker) -> float:
    """The part of its time that a worker worked."""
    time_s = worker.asked_s + worker.stood_s
    return worker.worked_s / time_s if time_s > 0 else 1.0


def _unverified(facts: Sequence[LoadFact]) -> str:
    """In words, which of the loads was over before each worker of it had verified anything; empty when none was. A
    program judges itself, and its first run may be longer than its time.
    """
    for one in facts:
        if not one.shown and one.kind is not LoadKind.PROGRAM:
            return (
                f"not every worker of {one.kind} verified anything within {one.seconds:.1f} s: it was too short, or "
                f"other programs had the cores; that says nothing about the rig"
            )
    return ""


def _facts(now: LoadProgress, heard: Heard, around: Surroundings, first_s: float | None) -> tuple[LoadFact, ...]:
    """What each load, its own and those beside it, really did."""
    lanes = [replace(lane, core=around.core_of(lane.core)) for lane in now.lanes]
    of_cores = len({around.core_of(core) for core in around.cores})
    facts = facts_by_lanes(now.plan, now.elapsed_s, lanes, of_cores, around.total_bytes)
    first_of: dict[LoadKind | None, float] = {}
    for wrong in heard.mismatches:
        first_of[wrong.load] = min(wrong.at_s, first_of.get(wrong.load, wrong.at_s))
    # Of a worker that died only the moment is known.
    return tuple(replace(fact, failed_after_s=first_of.get(fact.kind) if first_of else first_s) for fact in facts)
