"""From rows of the book to trials."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.fields import LoadFact
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.facts import NO_FACTS, LoadFacts, StationFact, planned_fact
from tenaz.core.trials.trial import Heartbeat, Trial
from tenaz.journal.base import tables as t
from tenaz.journal.base.codec import as_utc
from tenaz.journal.base.columns import Damaged

if TYPE_CHECKING:
    from tenaz.core.knobs.setpoint import Setpoint

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
    seconds = value if isinstance(value, float) else float(str(value))
    if not 0 <= seconds < MOST_SECONDS:
        raise ValueError(f"no time: {value!r}")
    return seconds


OF_A_TRIAL = (
    t.trials.c.id, t.trials.c.number, t.rigs.c.name.label("rig"), t.trials.c.bench, t.trials.c.setpoint,
    t.trials.c.in_force, t.trials.c.load, t.trials.c.station, t.trials.c.begun_utc, t.trials.c.boot_id,
    t.trials.c.search_id, t.trials.c.note, t.trials.c.reason, t.trials.c.sources, t.trials.c.stations,
    t.trials.c.fitted, t.trials.c.uid,
    t.heartbeats.c.elapsed_s.label("beat_elapsed_s"), t.heartbeats.c.boot_id.label("beat_boot_id"),
    t.heartbeats.c.at_utc.label("beat_at_utc"),
)  # fmt: skip
"""What a trial is read from, in the order in which :func:`trial_of` takes it: by place, since a book that has grown has
very many.
"""

OF_A_RECORD = (
    t.records.c.trial_id, t.records.c.outcome, t.records.c.seen_by, t.records.c.elapsed_s, t.records.c.failed_after_s,
    t.records.c.errors, t.records.c.covered, t.records.c.facts,
)  # fmt: skip

BENCHES, STATIONS = {one.value: one for one in BenchKind}, {one.value: one for one in Station}
OUTCOMES = {one.value: one for one in Outcome}


@dataclass(frozen=True, slots=True)
class RecordRow:
    """A record as it stands in the book."""

    outcome: Outcome
    seen_by: str
    elapsed_s: float
    failed_after_s: float | None
    errors: int
    covered: Any
    facts: Any


def record_of(row: Sequence[Any]) -> RecordRow:
    """A record from its row.

    Raises:
        ValueError, TypeError, LookupError: a damaged row.
    """
    _, outcome, seen_by, elapsed_s, failed_after_s, errors, covered, facts = row
    failed = None if failed_after_s is None else _seconds(failed_after_s)
    return RecordRow(OUTCOMES[outcome], str(seen_by), _seconds(elapsed_s), failed, int(errors), covered, facts)


def trial_of(row: Sequence[Any], record: RecordRow | None, known_s: float) -> Trial:
    """A trial from its row, its standing record (None: it has none), and the longest time under load that any record of
    it tells.

    Raises:
        ValueError, TypeError, LookupError: a damaged row.
    """
    (
        trial_id, number, rig, bench, setpoint, set_to, load, station, begun_utc, boot_id,
        search_id, note, reason, sources, walked, fitted, uid, beat_s, beat_boot_id, beat_utc,
    ) = row  # fmt: skip
    beat = None if beat_s is None else Heartbeat(float(beat_s), str(beat_boot_id), as_utc(beat_utc))
    asked: Setpoint = needed(setpoint)
    in_force: Setpoint = sound(set_to) or asked
    plan: LoadPlan = needed(load)
    stations: tuple[StationFact, ...] = sound(walked) or ()
    facts = NO_FACTS
    if record is not None:
        facts = sound(record.facts) or LoadFacts(_older_facts(plan, record))
    return Trial(
        id=trial_id,
        number=_number(number),
        rig=rig,
        bench=BENCHES[bench],
        setpoint=in_force,
        plan=plan,
        station=STATIONS[station],
        begun_utc=as_utc(begun_utc),
        boot_id=boot_id,
        search_id=search_id,
        outcome=record.outcome if record else None,
        elapsed_s=record.elapsed_s if record else max(known_s, beat.elapsed_s if beat else 0.0),
        failed_after_s=record.failed_after_s if record else None,
        errors=record.errors if record else 0,
        heartbeat=beat,
        note=str(note),
        reason=str(reason),
        seen_by=record.seen_by if record else "",
        entered=any(fact.move is Move.ENTERED for fact in stations),
        otherwise=() if in_force is asked else in_force.changes_from(asked),
        sources=sound(sources) or (),
        facts=facts,
        stations=stations,
        fitted=str(fitted),
        uid=str(uid or ""),
    )


def _older_facts(plan: LoadPlan, record: RecordRow) -> tuple[LoadFact, ...]:
    """What a record from before 0.5 tells of its loads: the plan, and the part that was covered."""
    covered = {LoadKind(kind): float(part) for kind, part in (sound(record.covered) or {}).items()}
    if not covered:
        return ()
    elapsed_s = record.elapsed_s
    plans: Iterable[LoadPlan] = (plan, *plan.beside)
    facts = []
    for one in plans:
        fact = planned_fact(one, elapsed_s)
        facts.append(replace(fact, covered=covered.get(one.kind, 1.0)))
    return tuple(facts)
