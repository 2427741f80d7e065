"""The figures of all rigs of a book, as they are collected elsewhere."""

from datetime import datetime

from tenaz.announcing.figures import RigFigures, RunningFigures
from tenaz.core.base.loop import Station
from tenaz.core.trials.trial import Trial
from tenaz.journal.store import Store
from tenaz.workshop.looking.follow_ups import follow_ups


def figures_of(store: Store, now: datetime) -> tuple[RigFigures, ...]:
    """Of every rig, in the order in which they came."""
    tallies = store.overview.tallies()
    unfinished = {trial.rig: trial for trial in store.trials.unfinished()}
    waiting = [one.rig for one in follow_ups(store, now)]
    found = []
    for rig in store.rigs.names():
        trial, newest = unfinished.get(rig), store.trials.newest_of(rig)
        running = _running(trial) if trial is not None else None
        told = tallies.get(rig)
        found.append(
            RigFigures(
                rig,
                told.outcomes if told else (),
                told.held_s if told else (),
                newest.begun_utc.timestamp() if newest is not None else None,
                trial is not None and running is None,
                waiting.count(rig),
                running,
            )
        )
    return tuple(found)


def _running(trial: Trial) -> RunningFigures | None:
    beat = trial.heartbeat
    if beat is None or trial.station is not Station.LOAD:
        return None
    _, left_s = trial.plan.ahead(beat.elapsed_s, 0.0)
    return RunningFigures(
        trial.number, trial.plan.kind.value, beat.elapsed_s, left_s, trial.errors, beat.at_utc.timestamp()
    )
