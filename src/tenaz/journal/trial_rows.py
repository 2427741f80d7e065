"""From rows of the book to trials."""

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from sqlalchemy import RowMapping

from tenaz.core.facts import NO_FACTS, LoadFacts, StationFact, planned_fact
from tenaz.core.load_facts import LoadFact
from tenaz.core.loading import LoadKind, LoadPlan
from tenaz.core.loop import Move, Station
from tenaz.core.outcomes import Outcome
from tenaz.core.rigs import BenchKind
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Heartbeat, Trial
from tenaz.journal.codec import as_utc
from tenaz.journal.columns import Damaged

MOST_SECONDS = 1e10
"""No load has run for three centuries: what says so is damaged."""


def sound(value: Any) -> Any:
    """A value of a row that could be read.

    Raises:
        ValueError: it could not.
    """
    if isinstance(value, Damaged):
        raise ValueError(value.why)
    return value


def needed(value: Any) -> Any:
    """A value of a row that could be read and must be there.

    Raises:
        ValueError: it could not, or is not.
    """
    if value is None:
        raise ValueError("a value is missing")
    return sound(value)


def _number(value: object) -> int:
    if not isinstance(value, int) or value < 1:
        raise ValueError(f"no number: {value!r}")
    return value


def _seconds(value: object) -> float:
    seconds = float(str(value))
    if not 0 <= seconds < MOST_SECONDS:
        raise ValueError(f"no time: {value!r}")
    return seconds


def trial_of(row: RowMapping, record: RowMapping | None, known_s: float) -> Trial:
    """A trial from its row, its standing record (None: it has none), and the longest time under load that any record of
    it tells.

    Raises:
        ValueError, TypeError, LookupError: a damaged row.
    """
    beat = None
    if row["beat_elapsed_s"] is not None:
        beat = Heartbeat(float(row["beat_elapsed_s"]), str(row["beat_boot_id"]), as_utc(row["beat_at_utc"]))
    asked: Setpoint = needed(row["setpoint"])
    in_force: Setpoint = sound(row["in_force"]) or asked
    plan: LoadPlan = needed(row["load"])
    stations: tuple[StationFact, ...] = sound(row["stations"]) or ()
    facts = NO_FACTS
    if record is not None:
        facts = sound(record["facts"]) or LoadFacts(_older_facts(plan, record))
    return Trial(
        id=row["id"],
        number=_number(row["number"]),
        rig=row["rig"],
        bench=BenchKind(row["bench"]),
        setpoint=in_force,
        plan=plan,
        station=Station(row["station"]),
        begun_utc=as_utc(row["begun_utc"]),
        boot_id=row["boot_id"],
        search_id=row["search_id"],
        outcome=Outcome(record["outcome"]) if record else None,
        elapsed_s=_seconds(record["elapsed_s"]) if record else max(known_s, beat.elapsed_s if beat else 0.0),
        failed_after_s=None if not record or record["failed_after_s"] is None else _seconds(record["failed_after_s"]),
        errors=int(record["errors"]) if record else 0,
        heartbeat=beat,
        note=str(row["note"]),
        reason=str(row["reason"]),
        seen_by=str(record["seen_by"]) if record else "",
        entered=any(fact.move is Move.ENTERED for fact in stations),
        otherwise=() if in_force is asked else in_force.changes_from(asked),
        sources=sound(row["sources"]) or (),
        facts=facts,
        stations=stations,
        fitted=str(row["fitted"]),
    )


def _older_facts(plan: LoadPlan, record: RowMapping) -> tuple[LoadFact, ...]:
    """What a record from before 0.5 tells of its loads: the plan, and the part that was covered."""
    covered = {LoadKind(kind): float(part) for kind, part in (sound(record["covered"]) or {}).items()}
    if not covered:
        return ()
    elapsed_s = _seconds(record["elapsed_s"])
    plans: Iterable[LoadPlan] = (plan, *plan.beside)
    facts = []
    for one in plans:
        fact = planned_fact(one, elapsed_s)
        facts.append(replace(fact, covered=covered.get(one.kind, 1.0)))
    return tuple(facts)
