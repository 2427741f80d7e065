"""The facts of a trial that judging needs: what each station took, what each load did, how warm it got."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from tenaz.core.base.loop import Move, Station
from tenaz.core.loads.fields import LoadFact
from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.loads.plan import LoadPlan, WorkerProgress, laps_of, part_covered
from tenaz.core.sensors.telemetry import Guards, Record, Sensor, SensorKind, guards

SUMMED_UP = (
    SensorKind.TEMPERATURE, SensorKind.POWER, SensorKind.VOLTAGE, SensorKind.FAN, SensorKind.THROTTLES,
)  # fmt: skip
"""Kinds of sensors whose peak and mean are always kept: what tells how a rig takes its heat away, and its supply."""


@dataclass(frozen=True, slots=True)
class StationFact:
    """What happened at a station, and the seconds until then (None: not known)."""

    station: Station
    move: Move
    seconds: float | None = None
    by_hand: bool = False


@dataclass(frozen=True, slots=True)
class SensorFact:
    """Peak and mean of one sensor over a load, in its kind's unit."""

    id: str
    label: str
    kind: SensorKind
    peak: float
    mean: float
    guards: Guards | None = None


@dataclass(frozen=True, slots=True)
class LoadFacts:
    """All that is kept with the record of a trial's load; ``room_c`` is the temperature around the rig, ``unwatched``
    what temperature nobody watched, in words.
    """

    loads: tuple[LoadFact, ...] = ()
    sensors: tuple[SensorFact, ...] = ()
    room_c: float | None = None
    unwatched: str = ""

    @property
    def hottest(self) -> SensorFact | None:
        """The temperature that went highest; None where none was read."""
        read = [one for one in self.sensors if one.kind is SensorKind.TEMPERATURE]
        return max(read, key=lambda one: one.peak, default=None)

    def of(self, kind: LoadKind) -> LoadFact | None:
        """What is known of one kind of load."""
        return next((one for one in self.loads if one.kind is kind), None)

    def shows(self, kind: LoadKind) -> bool:
        """Whether a kind of load verified anything; of older trials that is not known, and taken to be so."""
        known = self.of(kind)
        return known is None or known.shown

    def covered_by(self, kind: LoadKind) -> float:
        """The part of what a kind goes over that it went over; whole where that is not known."""
        known = self.of(kind)
        return 1.0 if known is None else known.covered


TOLD = "told"
"""How the sensor of what somebody read off begins."""
TOLD_HOTTEST, TOLD_AT_THE_WALL = f"{TOLD}:hottest", f"{TOLD}:wall"


def read_off(hottest_c: float | None, wall_w: float | None = None) -> tuple[SensorFact, ...]:
    """A temperature that somebody read off, and what a meter at the wall showed, as of sensors; nothing where nobody
    did.
    """
    found = []
    if hottest_c is not None:
        found.append(SensorFact(TOLD_HOTTEST, "as told", SensorKind.TEMPERATURE, hottest_c, hottest_c))
    if wall_w is not None:
        found.append(SensorFact(TOLD_AT_THE_WALL, "at the wall, as told", SensorKind.POWER, wall_w, wall_w))
    return tuple(found)


def hottest_of(facts: "Iterable[LoadFacts]") -> SensorFact | None:
    """The temperature that went highest in any of these."""
    return max((one.hottest for one in facts if one.hottest), key=lambda one: one.peak, default=None)


NO_FACTS = LoadFacts()
"""Where nothing is known."""


def planned_fact(
    plan: LoadPlan, seconds: float, of_cores: int = 0, memory_bytes: int | None = None, by_hand: bool = False
) -> LoadFact:
    """What a load did as far as its plan tells; the rig has ``of_cores`` (0: not known) and so much memory."""
    memory = plan.kind.strains is Strains.MEMORY
    fields = plan.kind.declared.fields
    if plan.kind.declared.on_cards:
        return LoadFact(
            plan.kind, seconds, size_bytes=plan.size_bytes if "size_bytes" in fields else None, by_hand=by_hand,
            workers=len(plan.cards), cards=plan.cards,
        )  # fmt: skip
    workers = plan.workers or of_cores
    return LoadFact(
        plan.kind,
        seconds,
        share=_share(plan, memory_bytes) if memory else None,
        size_bytes=plan.size_bytes if memory else None,
        mode=plan.mode if "mode" in fields else None,
        level=plan.level if "level" in fields else None,
        level_to=plan.level_to if "level" in fields else None,
        workers=workers,
        cores=plan.cores or tuple(range(min(workers, of_cores))),
        of_cores=of_cores,
        by_hand=by_hand,
    )


def _share(plan: LoadPlan, memory_bytes: int | None) -> float | None:
    if plan.size_bytes is None:
        return plan.share
    return plan.size_bytes / memory_bytes if memory_bytes else None


def facts_by_lanes(
    plan: LoadPlan,
    seconds: float,
    lanes: Sequence[WorkerProgress],
    of_cores: int = 0,
    memory_bytes: int | None = None,
    by_hand: bool = False,
) -> tuple[LoadFact, ...]:
    """What each load of a plan did, by what its workers had come to; without workers, as far as the plan tells."""
    facts = []
    for one in (plan, *plan.beside):
        crew = [lane for lane in lanes if lane.kind is one.kind]
        fact = planned_fact(one, seconds, of_cores, memory_bytes, by_hand)
        if crew:
            laps = [lane.laps for lane in crew]
            fact = replace(
                fact,
                covered=_covered(one.kind, crew),
                laps=laps_of(one.kind, laps),
                rate=sum(lane.rate for lane in crew),
                workers=len(crew),
                cores=tuple(sorted({lane.core for lane in crew if lane.card is None})),
                cards=tuple(sorted({lane.card for lane in crew if lane.card is not None})),
            )
        facts.append(fact)
        facts += [replace(planned_fact(one, seconds, by_hand=True), kind=kind) for kind in one.counts_as]
    return tuple(facts)


def _covered(kind: LoadKind, crew: Sequence[WorkerProgress]) -> float:
    """The part that all of a crew have verified, by what they say; by their laps where they do not say."""
    begun = sum(lane.laps > 0 for lane in crew) / len(crew)
    told = [part_covered(kind, lane.laps, begun) if lane.covered is None else lane.covered for lane in crew]
    return begun if kind.declared.takes_turns else min(told)


def sensor_facts(records: Sequence[Record], guarded: Sequence[Sensor]) -> tuple[SensorFact, ...]:
    """Peak and mean of what was guarded, and of every temperature and power."""
    watched = {sensor.id for sensor in guarded}
    return tuple(
        SensorFact(one.sensor.id, one.sensor.label, one.sensor.kind, one.highest, one.mean, guards(one.sensor))
        for one in records
        if one.mean is not None and (one.sensor.id in watched or one.sensor.kind in SUMMED_UP)
    )
