"""The rigs of the workshop, a line each: whose, what for, and where things stand."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime

from tenaz.core.base.amounts import show_duration
from tenaz.core.base.loop import Station
from tenaz.core.base.outcomes import Verdict
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.rigs.rig_line import RigLine
from tenaz.core.searches.search import SearchPlan
from tenaz.core.trials.trial import Trial
from tenaz.core.trials.tried import newest_tried
from tenaz.journal.store import Store
from tenaz.search.registry import strategy_of

SILENT_AFTER_S = 10.0
"""A load of which nobody wrote a sign of life for so long is not heard any more."""

LOOKED_BACK = 12
"""Trials that were only brought up to be measured, behind a search: three rounds in turn."""


def rig_lines(
    store: Store, runs: Callable[[str], bool], holder: Callable[[str], str], now_utc: datetime
) -> tuple[RigLine, ...]:
    """All rigs of the book, in the order in which they came; ``runs`` says of which something runs now, here or in
    another process, ``holder`` who works on one elsewhere.
    """
    known = _Known.of(store)
    return tuple(
        replace(
            _line(known, rig, known.unfinished.get(rig.name), _running(known.unfinished.get(rig.name), runs, now_utc)),
            held_by=holder(rig.name),
        )
        for rig in store.rigs.all()
    )


@dataclass(frozen=True, slots=True)
class _Known:
    """What the book tells of all rigs: trials that are open, the newest, the newest that tried anything; searches under
    way, and those for which these were made; what is planned; exercises.
    """

    unfinished: dict[str, Trial]
    newest: dict[str, Trial]
    tried: dict[str, Trial]
    going: dict[tuple[str, BenchKind], SearchPlan]
    searches: dict[int, SearchPlan]
    waiting: dict[tuple[str, BenchKind], int]
    goals: dict[str, str]

    @classmethod
    def of(cls, store: Store) -> "_Known":
        unfinished = {trial.rig: trial for trial in store.trials.unfinished()}
        newest = store.overview.newest() | unfinished
        tried = {rig: one for rig, trial in newest.items() if (one := _tried(store, rig, trial)) is not None}
        ids = {trial.search_id for trial in tried.values() if trial.search_id is not None}
        overview = store.overview
        return cls(
            unfinished, newest, tried, overview.going(), overview.searches(ids), overview.waiting(), overview.goals()
        )


def _tried(store: Store, rig: str, newest: Trial) -> Trial | None:
    """The newest that tried anything, where it is not long before the newest."""
    return newest_tried((newest,)) or newest_tried(
        store.trials.numbered(rig, max(1, newest.number - LOOKED_BACK), newest.number)
    )


def _running(trial: Trial | None, runs: Callable[[str], bool], now_utc: datetime) -> str:
    """What runs, and how far it is, by its last sign of life."""
    if trial is None or not runs(trial.rig):
        return ""
    beat = trial.heartbeat
    if beat is None or trial.station is not Station.LOAD:
        return f"trial {trial.number} at {trial.station}"
    done, left_s = trial.plan.ahead(beat.elapsed_s, 0.0)
    far = (
        f" {done:.0%}, {show_duration(left_s or 0.0)} left" if done is not None else f" {show_duration(beat.elapsed_s)}"
    )
    silent_s = (now_utc - beat.at_utc).total_seconds()
    silent = (
        f"; no sign of life for {show_duration(silent_s)}" if trial.bench.real and silent_s > SILENT_AFTER_S else ""
    )
    return f"trial {trial.number}: {trial.plan.kind}{far}{silent}"


def _line(known: _Known, rig: Rig, unfinished: Trial | None, running: str) -> RigLine:
    newest = known.newest.get(rig.name)
    return RigLine(
        rig.name,
        rig.owner,
        rig.family.value,
        rig.purpose.name,
        rig.benches,
        _state(newest),
        _story(rig, _exercise(rig, known.goals.get(rig.name))),
        newest is not None and newest.verdict is Verdict.FAIL,
        "" if unfinished is None or running else f"trial {unfinished.number}: say what was seen of it",
        _found(known, rig),
        _next(known, rig, newest),
        running,
    )


def _state(newest: Trial | None) -> str:
    if newest is None:
        return "nothing tried yet"
    day = newest.begun_utc.astimezone().strftime("%d %b %Y")
    if newest.outcome is None:
        return f"open at {newest.station}, {day}"
    return f"trial {newest.number}: {newest.outcome}, {day}"


def _found(known: _Known, rig: Rig) -> str:
    """What the newest search came to, where nothing was tried since; what it gained may have been measured."""
    tried = known.tried.get(rig.name)
    search = known.searches.get(tried.search_id) if tried is not None and tried.search_id is not None else None
    return f"{_called(search, rig)}: {search.ended_why}" if search is not None and search.ended else ""


def _next(known: _Known, rig: Rig, newest: Trial | None) -> str:
    if newest is None:
        return "loads at stock"
    going = known.going.get((rig.name, newest.bench))
    waiting = known.waiting.get((rig.name, newest.bench), 0)
    words = [f"{_called(going, rig)} under way"] if going is not None else []
    if waiting:
        words.append(f"{waiting} planned")
    return " · ".join(words)


def _called(search: SearchPlan, rig: Rig) -> str:
    """A search as one speaks of it."""
    kind = strategy_of(search.strategy)
    if not kind.climbs:
        return kind.name
    return f"climb of {rig.knob(search.knob).label}"


def story_of(store: Store, rig: Rig) -> str:
    """What brought a rig here, in its owner's words, what the eye found, and the exercise that it is."""
    return _story(rig, exercise_of(store, rig))


def _story(rig: Rig, exercise: str) -> str:
    parts = [rig.complaint, rig.by_eye and f"by eye: {rig.by_eye}", exercise]
    return " · ".join(part for part in parts if part)


def exercise_of(store: Store, rig: Rig) -> str:
    """The task that a simulated rig sets; empty where it sets none."""
    if BenchKind.SIM not in rig.benches:
        return ""
    kept = store.machines.of(rig.name)
    return _exercise(rig, None if kept is None else kept.goal)


def _exercise(rig: Rig, goal: str | None) -> str:
    """The same, where the goal of its machine is known (None: it has none yet)."""
    if BenchKind.SIM not in rig.benches:
        return ""
    if goal is None:
        from tenaz.simulated.made.scenarios import scenario, scenario_names  # noqa: PLC0415 - only simulated rigs need it

        name = rig.name.removesuffix(f"-{rig.seed}")
        goal = scenario(name).goal if name in scenario_names() and scenario(name).memory == rig.family else ""
    return f"exercise: {goal}" if goal else ""
