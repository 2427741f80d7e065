"""One suite over every load: time, laps, stop, refusal, a worker that dies; and bits flipped behind its back."""

import os
import signal
import threading
import time
from collections.abc import Callable
from dataclasses import replace

import pytest

from tenaz.benches.here import surroundings
from tenaz.core.errors import Refused
from tenaz.core.loading import CacheLevel, LoadKind, LoadPlan, LoadProgress, LoadReport, MismatchKind
from tenaz.core.outcomes import Outcome
from tenaz.loads.run import LoadRun, Surroundings
from tests.doors.flip import flip_bit

SMALL_BYTES = 64 * 2**20


@pytest.fixture
def around() -> Surroundings:
    return surroundings()


@pytest.fixture(params=list(LoadKind))
def plan(request: pytest.FixtureRequest, around: Surroundings) -> LoadPlan:
    return LoadPlan(request.param, share=SMALL_BYTES * len(around.cores) / around.total_bytes, level=CacheLevel.L1)


def run_while(run: LoadRun, act: Callable[[], None]) -> LoadReport:
    """Run a load; once all blocks are in place and a little work is done, do something to it."""

    def later() -> None:
        deadline = time.monotonic() + 60
        while run.progress().elapsed_s < 0.3 and time.monotonic() < deadline:
            time.sleep(0.02)
        act()

    acting = threading.Thread(target=later)
    acting.start()
    report = run.run()
    acting.join()
    return report


def test_for_a_time(plan: LoadPlan, around: Surroundings) -> None:
    seen: list[LoadProgress] = []
    report = LoadRun(replace(plan, duration_s=1.5), around, seen.append).run()
    assert (report.outcome, report.errors, report.failed_after_s) == (Outcome.HELD, 0, None)
    assert report.elapsed_s == pytest.approx(1.5, abs=0.3)
    assert report.rate > 0
    assert report.laps > 0
    last = seen[-1]
    assert len(last.lanes) == len(around.cores)
    assert {lane.core for lane in last.lanes} == set(around.cores)
    assert last.left_s is not None
    assert last.left_s < 1.0


def test_for_laps(plan: LoadPlan, around: Surroundings) -> None:
    report = LoadRun(replace(plan, laps=2, workers=1), around).run()
    assert (report.outcome, report.laps) == (Outcome.HELD, 2.0)


def test_stopped_within_a_second(plan: LoadPlan, around: Surroundings) -> None:
    run = LoadRun(replace(plan, duration_s=600.0), around)
    asked: list[float] = []

    def stop() -> None:
        asked.append(time.monotonic())
        run.stop()

    report = run_while(run, stop)
    assert time.monotonic() - asked[0] < 1.2
    assert report.outcome is Outcome.STOPPED
    open_ended = LoadRun(plan, around)
    assert run_while(open_ended, open_ended.stop).outcome is Outcome.HELD, "it had no other end"


def test_a_worker_that_dies_is_a_finding(plan: LoadPlan, around: Surroundings) -> None:
    run = LoadRun(replace(plan, duration_s=600.0), around)
    report = run_while(run, lambda: os.kill(run.pids[-1], signal.SIGSEGV))
    assert report.outcome is Outcome.ERRED
    assert "SIGSEGV" in report.detail
    assert report.failed_after_s is not None


@pytest.mark.parametrize("bit", [0, 17, 63])
def test_a_flipped_bit_is_found_and_its_address_named(around: Surroundings, bit: int) -> None:
    plan = LoadPlan(LoadKind.MARCH, 60.0, share=SMALL_BYTES * len(around.cores) / around.total_bytes)
    run = LoadRun(plan, around)
    flipped: list[int] = []

    def flip() -> None:
        worker = len(run.pids) - 1
        block = run.blocks[worker]
        address = block["address"] + block["bytes"] // 3 // 8 * 8
        flip_bit(run.pids[worker], address, bit)
        flipped.append(address)

    report = run_while(run, flip)
    assert report.outcome is Outcome.ERRED
    first = report.mismatches[0]
    assert first.address == flipped[0]
    assert bit in first.wrong_bits
    assert first.kind is MismatchKind.STORED
    assert first.read == first.read_again
    assert hex(flipped[0])[2:] in first.show()
    assert report.elapsed_s < 30


def test_it_goes_on_after_an_error_when_asked_and_counts_each(around: Surroundings) -> None:
    plan = LoadPlan(LoadKind.MARCH, 4.0, share=SMALL_BYTES * len(around.cores) / around.total_bytes)
    run = LoadRun(replace(plan, stop_at_first_error=False), around)

    def flip() -> None:
        block = run.blocks[0]
        for place in range(5):
            flip_bit(run.pids[0], block["address"] + place * 8 * 1000, place)

    report = run_while(run, flip)
    assert report.errors == 5
    assert len({mismatch.address for mismatch in report.mismatches}) == 5
    assert report.elapsed_s == pytest.approx(4.0, abs=0.5), "it ran to its end"


def test_a_transform_whose_data_change_is_found(around: Surroundings) -> None:
    run = LoadRun(LoadPlan(LoadKind.TRANSFORM, 60.0, level=CacheLevel.L2, workers=1), around)

    def flip() -> None:
        for _ in range(200):
            if run.progress().errors:
                return
            flip_bit(run.pids[0], run.blocks[0]["address"] + 64, 51)
            time.sleep(0.05)

    report = run_while(run, flip)
    assert report.outcome is Outcome.ERRED
    assert report.mismatches[0].kind is MismatchKind.COMPUTED


def test_memory_that_the_system_needs_is_refused_with_what_would_be_allowed() -> None:
    around = Surroundings((0, 1), 16 * 2**30, 6 * 2**30, surroundings().cache_bytes)
    with pytest.raises(
        Refused, match=r"at most (\d+)% \((\d+\.\d) GiB\) would be allowed now: use --share (\d+)%"
    ) as no:
        LoadRun(LoadPlan(LoadKind.MARCH, 60, share=0.5), around)
    allowed = int(str(no.value).split("at most ")[1].split("%")[0])
    LoadRun(LoadPlan(LoadKind.MARCH, 60, share=allowed / 100), around)
    with pytest.raises(Refused):
        LoadRun(LoadPlan(LoadKind.MARCH, 60, share=(allowed + 1) / 100), around)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"duration_s": 0.0}, "time above zero"),
        ({"laps": 0}, "one or more"),
        ({"workers": 0}, "give 1 to"),
        ({"workers": 999}, "give 1 to"),
        ({"share": 0.0}, "more than 0%"),
        ({"share": 0.0001}, "larger share"),
    ],
)
def test_a_load_that_is_none_is_refused(change: dict[str, float], words: str, around: Surroundings) -> None:
    with pytest.raises(Refused, match=words):
        LoadRun(replace(LoadPlan(LoadKind.MARCH, 60.0), **change), around)  # type: ignore[arg-type]
