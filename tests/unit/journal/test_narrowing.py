"""A search asks the book first: never is anything left out that the words fit."""

from dataclasses import replace
from datetime import date

import pytest

from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.ports.bench import StationReport
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.narrowing import Narrow
from tenaz.core.trials.querying import parse_query
from tenaz.journal.store import Store
from tests.make import HOUR, SteppedClock

TODAY = date(2026, 1, 6)
WORDS = (
    "failed", "passed", "void", "held", "no-boot", "march", "transform", "#3", "2026-01", "since:2026-01-06",
    "until:2025-12-31", "today", "noted", "open", "fan header", "FAN", "data rate>=6000", "moved:tcl", "mara", "é",
    "failed march", "failed passed", "rig:second held", "owner:mara", "part:aguja", "100%", "nothing of it",
)  # fmt: skip


@pytest.fixture
def many(store: Store, rig: Rig, clock: SteppedClock) -> Store:
    store.rigs.put(replace(rig, name="second", owner="Mara é"))
    loads = (HOUR, LoadPlan(LoadKind.TRANSFORM, duration_s=60.0))
    outcomes = (Outcome.HELD, Outcome.ERRED, Outcome.NO_BOOT, Outcome.LOST, None)
    for number in range(20):
        clock.now_s += 6 * 3600.0
        of = store.rigs.one(("ridge", "second")[number % 2])
        setpoint = of.stock.replacing("data_rate_mts", (4800, 6000)[number % 3 == 0])
        trial = store.trials.begin(of, BenchKind.HAND, setpoint, loads[number % 2], clock)
        if number % 4 == 0:
            store.trials.note(trial.id, ("Fan Header loose", "100% sure", "é")[number % 3])
        if (outcome := outcomes[number % 5]) is not None:
            trial = store.trials.move(trial, StationReport(Move.STOP), clock)
            trial = store.trials.record(trial, outcome, "test", clock)
            if number % 7 == 0:
                trial = store.trials.undo(trial, clock)
    return store


@pytest.mark.parametrize("words", WORDS)
def test_what_the_words_fit_is_found_whichever_way(many: Store, words: str) -> None:
    query = parse_query(words, TODAY)
    rigs = {one.name: one for one in many.rigs.all()}
    every = [trial for name in rigs for trial in many.trials.of(name)]
    wanted = [trial for trial in every if query.matches(trial, rigs[trial.rig])]
    asked = [trial for page in many.trials.narrowed(query.narrow, list(rigs)) for trial in page]
    assert [trial for trial in asked if query.matches(trial, rigs[trial.rig])] == wanted
    if words in ("failed", "#3", "noted", "failed passed"):
        assert len(asked) == len(wanted), "and little else is read"


def test_what_says_nothing_narrows_nothing(many: Store) -> None:
    assert parse_query("data rate>=6000 moved:tcl open", TODAY).narrow == Narrow()
    assert sum(len(page) for page in many.trials.narrowed(Narrow(), ["second"])) == 10
