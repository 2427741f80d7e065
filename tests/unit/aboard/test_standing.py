"""What a stick does when nobody is there."""

from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.aboard.medium import BLOCK_BYTES, after_start, environment_block, variables
from tenaz.aboard.standing import AfterFailure, StandingOrder, read_standing, write_standing
from tenaz.advice.alone import RecordUnseen, RunLoad, Situation, StartAnew, TakeUpTrial, Wait, decide
from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.machine.kept_free import Which
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.trial import Trial
from tenaz.tui.controllers.stick import parse_standing, standing_text

TRIAL = Trial(
    1, "rig", 1, BenchKind.HERE, Setpoint.of({}), LoadPlan(LoadKind.MARCH, 60.0), Station.CLOSED,
    datetime(2026, 11, 1, tzinfo=UTC), "boot",
)  # fmt: skip
SHORT = StandingOrder("march 1 lap 100%; permute 1m", by_turns=False, starts=1)


def ended(number: int, outcome: Outcome, elapsed_s: float = 60.0) -> Trial:
    return replace(TRIAL, id=number, number=number, outcome=outcome, elapsed_s=elapsed_s)


def test_ranges_come_by_turns_and_all_starts_end() -> None:
    standing, told, number, last = replace(SHORT, by_turns=True, starts=2), [], 0, None
    which = list[Which]()
    for _ in range(20):
        coming, standing = decide(standing, Situation(last=last))
        told.append(coming)
        match coming:
            case StartAnew():
                which.append(coming.which)
            case RunLoad():
                number += 1
                last = ended(number, Outcome.HELD)
            case Wait():
                break
    kinds = [one.which if isinstance(one, StartAnew) else type(one).__name__ for one in told]
    assert kinds == [Which.UPPER, "RunLoad", "RunLoad", Which.LOWER, "RunLoad", "RunLoad", "Wait"]
    assert which == [Which.UPPER, Which.LOWER]
    assert told[-1] == Wait("all 2 starts are done")


@pytest.mark.parametrize(
    ("after", "outcomes", "runs"),
    [
        (AfterFailure.GO_ON, [Outcome.RESTARTED, Outcome.HELD], 2),
        (AfterFailure.REPEAT, [Outcome.RESTARTED] * 3, 3),
        (AfterFailure.REPEAT, [Outcome.FROZE, Outcome.HELD, Outcome.ERRED, Outcome.HELD], 4),
        (AfterFailure.STOP, [Outcome.ERRED], 1),
    ],
)
def test_after_a_failure_it_does_what_was_ordered(after: AfterFailure, outcomes: list[Outcome], runs: int) -> None:
    standing, last, ran = replace(SHORT, after=after), None, 0
    for outcome in (*outcomes, Outcome.HELD):
        coming, standing = decide(standing, Situation(last=last))
        if isinstance(coming, Wait):
            break
        ran += 1
        last = ended(ran, outcome)
    coming, standing = decide(standing, Situation(last=last))
    assert (ran, type(coming)) == (runs, Wait)


@given(
    st.sampled_from(AfterFailure), st.integers(1, 4), st.integers(1, 3), st.lists(st.sampled_from(Outcome), max_size=60)
)
def test_it_never_goes_round_for_ever(after: AfterFailure, most: int, starts: int, outcomes: list[Outcome]) -> None:
    """However loads end, so many starts end: each load is left behind, or repeated so many times at most."""
    standing, last = replace(SHORT, after=after, most_failures=most, starts=starts), None
    for step in range(2 * starts * most + 2):
        coming, standing = decide(standing, Situation(last=last))
        if isinstance(coming, Wait):
            return
        last = ended(step + 1, outcomes[step] if step < len(outcomes) else Outcome.RESTARTED)
    raise AssertionError("it did not end")


def test_what_nobody_judged_comes_first() -> None:
    open_trial = replace(TRIAL, station=Station.LOAD)
    for same_boot, outcome in ((False, Outcome.RESTARTED), (True, Outcome.STOPPED)):
        coming, _ = decide(SHORT, Situation(open_trial, same_boot=same_boot))
        assert coming == RecordUnseen(open_trial, outcome)
    typed = replace(TRIAL, station=Station.SET)
    assert decide(SHORT, Situation(typed, can_go_on=True))[0] == TakeUpTrial(typed)


def test_a_load_that_cannot_run_ends_it_and_a_range_that_is_refused_is_let_be() -> None:
    coming, standing = decide(SHORT, Situation(last=ended(1, Outcome.STOPPED, 0.0)))
    assert isinstance(coming, Wait)
    assert "could not run" in standing.ended
    turning = replace(SHORT, by_turns=True, which=Which.UPPER)
    assert isinstance(decide(turning, Situation(may_divide=False))[0], RunLoad)


def test_the_order_is_kept_whole(tmp_path: Path) -> None:
    path = tmp_path / "standing.json"
    assert read_standing(path) is None
    for standing in (SHORT, replace(SHORT, at=1, failures=2, which=Which.LOWER, ended="why", ladder=True)):
        write_standing(path, standing)
        assert read_standing(path) == standing
    path.write_text("{")
    assert read_standing(path) is None


@pytest.mark.parametrize("text", ["march 5m 90% | 3 | still | repeat | 2", "sift | 0 | turns | stop | 1"])
def test_an_order_is_typed_as_it_is_shown(text: str) -> None:
    assert standing_text(parse_standing(text)) == text


@pytest.mark.parametrize(
    ("text", "names"),
    [
        ("march", ""), ("march until stopped", "must end by itself"), ("nonsense 5m", "nonsense"),
        ("march 1m | x", "whole numbers"), ("march 1m | 1 | sideways", "sideways"),
        ("march 1m | 1 | still | pray", "pray"), ("march 1m | 1 | still | stop | 0", "1 or more"),
    ],
)  # fmt: skip
def test_an_order_that_is_none_says_what_is_wrong(text: str, names: str) -> None:
    if not names:
        assert parse_standing(text).loads
        return
    with pytest.raises(Refused, match=names):
        parse_standing(text)


def test_a_block_for_the_next_start_has_always_one_size() -> None:
    block = environment_block({"ranges": "memmap=0x57000000!0x28000000", "trying": "0"})
    assert len(block) == BLOCK_BYTES
    assert block.startswith(b"# GRUB Environment Block\nranges=memmap=")
    with pytest.raises(ValueError, match="too much"):
        environment_block({"ranges": "x" * BLOCK_BYTES})


UPPER = "memmap=0x57000000!0x28000000"


@pytest.mark.parametrize(
    ("known", "cmdline", "left"),
    [
        ({"ranges": UPPER, "trying": "1"}, f"quiet {UPPER} panic=20", {"ranges": UPPER, "trying": "0"}),
        ({"ranges": UPPER, "trying": "1"}, "quiet panic=20", {"hung": UPPER}),
        ({"ranges": UPPER, "trying": "1", "hung": "memmap=1!2"}, "quiet", {"hung": f"memmap=1!2,{UPPER}"}),
        ({"ranges": UPPER, "trying": "0"}, "quiet", None),
        ({"hung": UPPER}, "quiet", None),
        ({}, "quiet", None),
    ],
)
def test_a_range_that_hung_a_start_is_put_aside_for_good(
    known: dict[str, str], cmdline: str, left: dict[str, str] | None
) -> None:
    assert after_start(known, cmdline) == left
    if left is not None:
        assert variables(environment_block(left)) == left
        assert after_start(left, cmdline) is None, "and no later start tries it either"
