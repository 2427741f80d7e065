"""Trials looked for in words, and records as they are typed."""

from dataclasses import replace
from datetime import UTC, date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.querying import found_in, parse_query
from tenaz.core.trials.record_text import SeenRecord, parse_record
from tenaz.core.trials.trial import Trial
from tenaz.demo.ridge import ridge

RIG = ridge()


def _trial(number: int, rate: int, outcome: Outcome | None, day: int, **more: object) -> Trial:
    trial = Trial(
        number, number, "ridge", BenchKind.SIM, RIG.stock.replacing("data_rate_mts", rate),
        LoadPlan(LoadKind.MARCH, 3600.0), Station.CLOSED if outcome else Station.LOAD,
        datetime(2026, 11, day, 9, tzinfo=UTC), "boot", outcome=outcome,
    )  # fmt: skip
    return replace(trial, **more)  # type: ignore[arg-type]


TRIALS = (
    _trial(1, 4800, Outcome.HELD, 1),
    _trial(2, 6000, Outcome.HELD, 2, note="Fan header loose"),
    _trial(3, 7000, Outcome.NO_BOOT, 3, reason="a leap"),
    _trial(4, 6200, Outcome.ERRED, 20, plan=LoadPlan(LoadKind.SOLVE, 60.0)),
    _trial(5, 6000, None, 26),
)


@pytest.mark.parametrize(
    ("words", "numbers"),
    [
        ("", [5, 4, 3, 2, 1]),
        ("failed", [4, 3]),
        ("passed march", [2, 1]),
        ("no-boot", [3]),
        ("data rate >= 6000 held", [2]),
        ("data-rate=6000", [5, 2]),
        ("datarate!=6000 mts", []),
        ("moved:datarate solve", [4]),
        ("tCL=40 #3", [3]),
        ("'fan header'", [2]),
        ("leap", [3]),
        ("noted", [2]),
        ("open", [5]),
        ("2026-11-20", [4]),
        ("since:2026-11-03 until:2026-11-20", [4, 3]),
        ("today", [5]),
        ("yesterday", []),
        ("2025", []),
        ("rig:ridge #1", [1]),
        ("rig:hut", []),
        ("tzz=4", []),
    ],
)
def test_words_find_what_they_mean(words: str, numbers: list[int]) -> None:
    query = parse_query(words, date(2026, 11, 26))
    assert [trial.number for trial in found_in(query, TRIALS, RIG)] == numbers


@pytest.mark.parametrize("words", ["'open", "since:soon", "2026-13", "2026-02-30"])
def test_words_that_mean_nothing_are_told(words: str) -> None:
    with pytest.raises(Refused):
        parse_query(words)


@given(st.sampled_from(Outcome), st.integers(1, 10**6), st.integers(0, 99), st.booleans())
def test_a_record_is_read_back_from_its_line(outcome: Outcome, seconds: int, errors: int, about: bool) -> None:
    seconds = seconds if seconds < 3600 else seconds // 60 * 60
    timeless = outcome in (Outcome.NO_BOOT, Outcome.LOST)
    errors = max(errors, int(outcome is Outcome.ERRED))
    record = SeenRecord(outcome, 0.0 if timeless else float(seconds), errors, about and not timeless)
    assert parse_record(record.show()) == record


@pytest.mark.parametrize(
    ("text", "record"),
    [
        ("erred after 12m, 3 errors", SeenRecord(Outcome.ERRED, 720.0, 3)),
        ("ok ~1h", SeenRecord(Outcome.HELD, 3600.0, about=True)),
        ("rebooted 5m", SeenRecord(Outcome.RESTARTED, 300.0)),
        ("no boot", SeenRecord(Outcome.NO_BOOT)),
    ],
)
def test_what_people_write_is_understood(text: str, record: SeenRecord) -> None:
    assert parse_record(text) == record


@pytest.mark.parametrize("text", ["", "fine", "held", "held 0s", "erred soon", "held 1h with flags"])
def test_a_record_that_says_nothing_is_told(text: str) -> None:
    with pytest.raises(Refused):
        parse_record(text)
