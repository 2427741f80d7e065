"""The story of a trial that was cut short, and what its explanation leaves in the book."""

from dataclasses import replace

import pytest

from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.ports.bench import StationReport
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.trial import Heartbeat, Trial
from tenaz.engine.recovery import TAKE_UP, asking, explain, story
from tenaz.journal.store import Store
from tests.make import HOUR, SteppedClock


def under_load(store: Store, rig: Rig, clock: SteppedClock, bench: BenchKind, beat_s: float | None) -> Trial:
    trial = store.trials.begin(rig, bench, rig.stock, HOUR, clock)
    for move in (Move.ENTERED, Move.CAME_UP, Move.CONFIRMED):
        trial = store.trials.move(trial, StationReport(move), clock)
    if beat_s is not None:
        under_load = clock.boot if bench.real else "sim ridge 7"
        store.load.heartbeat(trial.id, Heartbeat(beat_s, under_load, clock.utc()))
    return store.trials.one(trial.id)


@pytest.mark.parametrize(
    ("bench", "beat_s", "boot", "phrases"),
    [
        (
            BenchKind.HERE,
            760.0,
            "boot-a",
            ("had run 12m40s under load", "it was Tenaz that broke off, not the machine"),
        ),
        (BenchKind.HERE, 760.0, "boot-b", ("had run 12m40s under load", "This machine has been restarted since.")),
        (BenchKind.HERE, None, "boot-b", ("No heartbeat of a load was kept",)),
        (BenchKind.HAND, 61.0, "boot-a", ("had run 1m01s", "This computer has stayed up since")),
        (BenchKind.HAND, 61.0, "boot-b", ("This computer, too, has been restarted since.",)),
        (BenchKind.SIM, 61.0, "boot-a", ("had run 1m01s", "This computer has stayed up since")),
    ],
)
def test_the_story_tells_a_crash_of_the_machine_from_one_of_tenaz(
    store: Store,
    rig: Rig,
    clock: SteppedClock,
    bench: BenchKind,
    beat_s: float | None,
    boot: str,
    phrases: tuple[str, ...],
) -> None:
    told = " ".join(story(under_load(store, rig, clock, bench, beat_s), boot))
    assert "Trial 1 on ridge" in told
    for phrase in phrases:
        assert phrase in told


@pytest.mark.parametrize(
    ("outcome", "verdict", "failed_after_s"),
    [
        (Outcome.FROZE, Verdict.FAIL, 760.0),
        (Outcome.RESTARTED, Verdict.FAIL, 760.0),
        (Outcome.STOPPED, Verdict.VOID, None),
        (Outcome.LOST, Verdict.VOID, None),
    ],
)
def test_the_explanation_is_recorded_with_the_time_of_the_last_heartbeat(
    store: Store,
    rig: Rig,
    clock: SteppedClock,
    outcome: Outcome,
    verdict: Verdict,
    failed_after_s: float | None,
) -> None:
    trial = under_load(store, rig, clock, BenchKind.HERE, 760.0)
    assert outcome in [choice.answer for choice in asking(trial, "boot-b").choices]
    closed = explain(trial, outcome, store, clock)
    assert (closed.outcome, closed.verdict, closed.elapsed_s) == (outcome, verdict, 760.0)
    assert closed.failed_after_s == failed_after_s
    assert closed.seen_by == "technician"
    assert store.trials.unfinished() == ()


@pytest.mark.parametrize("bench", list(BenchKind))
def test_only_what_had_no_load_yet_or_runs_elsewhere_can_be_taken_up(
    store: Store, rig: Rig, clock: SteppedClock, bench: BenchKind
) -> None:
    waiting = store.trials.begin(rig, bench, rig.stock, HOUR, clock)
    answers = [choice.answer for choice in asking(waiting, "boot-b").choices]
    assert (TAKE_UP in answers) == (bench is not BenchKind.SIM)
    loading = replace(waiting, station=Station.LOAD)
    answers = [choice.answer for choice in asking(loading, "boot-b").choices]
    assert (TAKE_UP in answers) == bench.traits.outlives_us, "a load across a wire runs on without us"
    told = " ".join(story(waiting, "boot-b"))
    assert "stood at station set; nothing had been loaded yet" in told
    if bench is BenchKind.HERE:
        assert "restarted since, as its sheet asked" in told


@pytest.mark.parametrize("station", list(Station)[:-1])
def test_no_two_answers_share_a_key(store: Store, open_trial: Trial, station: Station) -> None:
    keys = [choice.key for choice in asking(replace(open_trial, station=station), "boot-b").choices]
    assert len(keys) == len(set(keys))
