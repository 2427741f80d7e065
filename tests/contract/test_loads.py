"""One suite over every load: time, laps, stop, refusal, a worker that dies; and bits flipped behind its back."""

import json
import os
import signal
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import replace
from types import SimpleNamespace

import pytest

from tenaz.benches.here import surroundings
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import (
    CacheLevel,
    DataKind,
    LoadKind,
    LoadPlan,
    LoadProgress,
    LoadReport,
    MarchMode,
    MismatchKind,
)
from tenaz.engine.runner import describe
from tenaz.loads.crews import Surroundings
from tenaz.loads.run import LoadRun
from tests.doors.flip import flip_bit
from tests.patience import PATIENCE_S

SMALL_BYTES = 16 * 2**20


@pytest.fixture
def around() -> Surroundings:
    return surroundings()


@pytest.fixture(params=[kind for kind in LoadKind if not kind.declared.on_cards])
def plan(request: pytest.FixtureRequest, around: Surroundings) -> LoadPlan:
    """Every kind that a core runs."""
    return short(request.param, around)


@pytest.fixture(params=[LoadKind.MARCH, LoadKind.TRANSFORM, LoadKind.DIGEST, LoadKind.PROGRAM])
def one_of_each(request: pytest.FixtureRequest, around: Surroundings) -> LoadPlan:
    """A kind of each way in which workers are run: what is about these is no matter of the kind."""
    return short(request.param, around)


def short(kind: LoadKind, around: Surroundings) -> LoadPlan:
    size_bytes = SMALL_BYTES // (2 if kind is LoadKind.DISTURB else 1)
    return LoadPlan(
        kind,
        share=size_bytes * len(around.cores) / around.total_bytes,
        level=CacheLevel.L1,
        wait_s=0.1,
        pulse_hz=50.0,
        command=(sys.executable, "-c", "import time; time.sleep(0.2); print('all well')"),
        bad_words="wrong",
        good_words="well",
    )


def run_while(run: LoadRun, act: Callable[[], None]) -> LoadReport:
    """Run a load; once all blocks are in place and a little work is done, do something to it."""

    def later() -> None:
        deadline = time.monotonic() + PATIENCE_S
        while _at_its_beginning(run.progress()) and time.monotonic() < deadline:
            time.sleep(0.02)
        act()

    acting = threading.Thread(target=later)
    acting.start()
    report = run.run()
    acting.join()
    return report


def _at_its_beginning(now: LoadProgress) -> bool:
    return now.elapsed_s < 0.3 or (now.laps <= 0 and now.plan.kind is not LoadKind.PROGRAM)


def test_for_a_time(plan: LoadPlan, around: Surroundings) -> None:
    seen: list[LoadProgress] = []
    report = LoadRun(replace(plan, duration_s=0.8), around, seen.append).run()
    assert (report.outcome, report.errors, report.failed_after_s) == (Outcome.HELD, 0, None)
    # Longer only where other programs had its cores meanwhile.
    assert 0.6 <= report.elapsed_s <= 3.0
    assert report.rate > 0
    assert report.laps > 0
    last = seen[-1]
    cores = around.cores[:1] if plan.kind is LoadKind.PROGRAM else around.cores
    assert tuple(lane.core for lane in last.lanes) == cores
    assert last.left_s is not None
    assert last.left_s < 1.0


def test_for_laps(plan: LoadPlan, around: Surroundings) -> None:
    laps = 1 if plan.kind is LoadKind.DISTURB else 2
    report = LoadRun(replace(plan, laps=laps, workers=1), around).run()
    assert (report.outcome, report.laps) == (Outcome.HELD, laps)


def test_stopped_at_once(one_of_each: LoadPlan, around: Surroundings) -> None:
    run = LoadRun(replace(one_of_each, duration_s=600.0), around)
    asked: list[float] = []

    def stop() -> None:
        asked.append(time.monotonic())
        run.stop()

    report = run_while(run, stop)
    assert time.monotonic() - asked[0] < 5.0, "whoever does not listen is killed within a second, on an idle machine"
    assert report.outcome is Outcome.STOPPED
    open_ended = LoadRun(one_of_each, around)
    ended = run_while(open_ended, open_ended.stop).outcome
    assert ended in (Outcome.HELD, Outcome.STARVED), "it had no other end; other tests may have had its cores"


def test_a_worker_that_dies_is_a_finding(one_of_each: LoadPlan, around: Surroundings) -> None:
    run = LoadRun(replace(one_of_each, duration_s=600.0), around)
    report = run_while(run, lambda: os.kill(run.pids[-1], signal.SIGSEGV))
    assert report.outcome is Outcome.ERRED
    assert "SIGSEGV" in report.detail
    assert report.failed_after_s is not None


def test_a_worker_killed_from_outside_says_nothing_about_the_rig(around: Surroundings) -> None:
    run = LoadRun(LoadPlan(LoadKind.TRANSFORM, 600.0, level=CacheLevel.L1), around)
    report = run_while(run, lambda: os.kill(run.pids[-1], signal.SIGKILL))
    assert report.outcome is Outcome.STOPPED, "and certainly not held"
    assert "killed from outside (SIGKILL)" in report.detail


def test_a_worker_kept_from_its_core_is_void_and_one_that_hangs_is_a_finding(
    around: Surroundings, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("tenaz.loads.workers.SILENCE_S", 3.0)
    plan = LoadPlan(LoadKind.TRANSFORM, 600.0, level=CacheLevel.L1)
    starved = LoadRun(plan, around)
    report = run_while(starved, lambda: os.kill(starved.pids[-1], signal.SIGSTOP))
    assert report.outcome is Outcome.STOPPED
    assert "of its core in" in report.detail
    monkeypatch.setattr("tenaz.loads.workers.cpu_time_s", lambda _: time.monotonic())
    hung = LoadRun(plan, around)
    report = run_while(hung, lambda: os.kill(hung.pids[-1], signal.SIGSTOP))
    assert report.outcome is Outcome.ERRED
    assert "has been silent for" in report.detail


def test_first_results_that_cores_do_not_agree_on_are_told_with_the_core(
    around: Surroundings, monkeypatch: pytest.MonkeyPatch
) -> None:
    def spoiled(line: bytes) -> object:
        said = json.loads(line)
        if said["say"] == "golden" and said["worker"] == 2 and said["name"] == "digest sorted":
            said["digest"] = "0" * 64
        return said

    monkeypatch.setattr("tenaz.loads.run.json", SimpleNamespace(loads=spoiled))
    cores = tuple(range(4)) if len(around.cores) >= 4 else (0, 1, 0, 1)
    run = LoadRun(LoadPlan(LoadKind.DIGEST, duration_s=60.0, workers=len(cores)), around)
    report = run.run()
    assert report.outcome is Outcome.ERRED
    assert report.mismatches[0].worker == 2
    assert "first digest sorted on core" in report.mismatches[0].where
    assert "is not what most cores have" in report.mismatches[0].where


def test_laps_of_solo_are_shared_and_less_than_a_lap_says_so(around: Surroundings) -> None:
    solo = LoadRun(LoadPlan(LoadKind.SOLO, laps=61, level=CacheLevel.L1), around).run()
    assert (solo.outcome, solo.laps) == (Outcome.HELD, 61)
    short = LoadRun(LoadPlan(LoadKind.MARCH, duration_s=0.5, size_bytes=512 * 2**20), around).run()
    assert short.outcome is Outcome.HELD
    assert 0 < short.least_covered < 1
    assert "not once through: it has shown only the" in describe(short)


MEMORY_LOADS = {
    "march": LoadPlan(LoadKind.MARCH),
    "flushed": LoadPlan(LoadKind.MARCH, mode=MarchMode.FLUSHED),
    "ss in blocks": LoadPlan(LoadKind.MARCH, mode=MarchMode.BLOCKS, test="SS"),
    "address": LoadPlan(LoadKind.MARCH, data=DataKind.ADDRESS),
    "hash": LoadPlan(LoadKind.MARCH, data=DataKind.HASH),
    "checker": LoadPlan(LoadKind.CHECKER),
    "permute": LoadPlan(LoadKind.PERMUTE),
    "copy": LoadPlan(LoadKind.COPY),
    "retain": LoadPlan(LoadKind.RETAIN, wait_s=0.2),
    "disturb": LoadPlan(LoadKind.DISTURB),
}


@pytest.mark.parametrize(("name", "bit"), [(name, 7 * k % 64) for k, name in enumerate(MEMORY_LOADS)])
def test_a_flipped_bit_is_found_and_its_address_named(around: Surroundings, name: str, bit: int) -> None:
    share = SMALL_BYTES * len(around.cores) / around.total_bytes
    run = LoadRun(replace(MEMORY_LOADS[name], duration_s=600.0, share=share), around)
    flipped: list[int] = []

    def flip() -> None:
        worker = len(run.pids) - 1
        while (lane := run.progress().lanes[worker]).laps == 0 and ("writing" in lane.doing or lane.doing == "ready"):
            time.sleep(0.02)
        block = run.blocks[worker]
        address = block["address"] + block["bytes"] // 3 // 8 * 8
        flip_bit(run.pids[worker], address, bit)
        flipped.append(address)

    report = run_while(run, flip)
    assert report.outcome is Outcome.ERRED
    first = report.mismatches[0]
    assert first.address == flipped[0]
    assert first.wrong_bits == (bit,)
    assert first.kind is MismatchKind.STORED
    assert first.read == first.read_again
    assert hex(flipped[0])[2:] in first.show()


def test_who_never_gets_to_work_has_shown_nothing(around: Surroundings, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("tenaz.loads.workers.SILENCE_S", 3.0)
    run = LoadRun(LoadPlan(LoadKind.DIGEST, 1.0), around)

    def stop_one() -> None:
        while len(run.blocks) < len(around.cores):
            time.sleep(0.001)
        os.kill(run.pids[-1], signal.SIGSTOP)

    threading.Thread(target=stop_one).start()
    report = run.run()
    assert report.outcome is Outcome.STOPPED, "and certainly not held"
    assert "it could not work, and that says nothing about the rig" in report.detail


def test_loads_run_side_by_side_on_chosen_cores_and_end_together(around: Surroundings) -> None:
    beside = LoadPlan(LoadKind.DIGEST, cores=around.cores[-1:])
    plan = LoadPlan(LoadKind.MARCH, 1.5, size_bytes=SMALL_BYTES, cores=around.cores[:1], beside=(beside,))
    seen: list[LoadProgress] = []
    report = LoadRun(plan, around, seen.append).run()
    assert (report.outcome, [lane.kind for lane in seen[-1].lanes]) == (Outcome.HELD, [LoadKind.MARCH, LoadKind.DIGEST])
    assert all(lane.rate > 0 for lane in seen[-1].lanes)
    march, digest = report.loads
    assert (march.kind, digest.kind) == (LoadKind.MARCH, LoadKind.DIGEST)
    assert march.reach.share == pytest.approx(march.covered * SMALL_BYTES / around.total_bytes)
    assert (len(march.cores), len(digest.cores), march.mode, digest.mode) == (1, 1, MarchMode.CACHED, None)
    assert all(fact.rate > 0 and fact.failed_after_s is None for fact in report.loads)


def test_it_goes_on_after_an_error_when_asked_and_counts_each(around: Surroundings) -> None:
    plan = LoadPlan(LoadKind.MARCH, 1.5, share=SMALL_BYTES * len(around.cores) / around.total_bytes)
    run = LoadRun(replace(plan, stop_at_first_error=False), around)

    def flip() -> None:
        block = run.blocks[0]
        for place in range(5):
            flip_bit(run.pids[0], block["address"] + place * 8 * 1000, place)

    report = run_while(run, flip)
    assert report.errors == 5
    assert len({mismatch.address for mismatch in report.mismatches}) == 5
    assert report.elapsed_s == pytest.approx(1.5, abs=0.5), "it ran to its end"


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
        ({"size_bytes": 2**60}, "is not a part of this machine's"),
        ({"cores": (9999,)}, "core 9999 is not to be used here"),
        ({"test": "{⇑(r0)}"}, "holds nothing known"),
        ({"kind": LoadKind.PULSE, "pulse_hz": 1e6}, "give up to 1000"),
        ({"kind": LoadKind.PROGRAM}, "needs its command"),
    ],
)
def test_a_load_that_is_none_is_refused(change: dict[str, object], words: str, around: Surroundings) -> None:
    with pytest.raises(Refused, match=words):
        LoadRun(replace(LoadPlan(LoadKind.MARCH, 60.0), **change), around)  # type: ignore[arg-type]


@pytest.mark.parametrize("kind", [LoadKind.TRANSFORM, LoadKind.DIGEST, LoadKind.SOLVE])
def test_a_result_that_differs_from_its_golden_is_wrong_and_one_made_otherwise_is_not_compared(
    around: Surroundings, kind: LoadKind
) -> None:
    plan = LoadPlan(kind, laps=2, workers=1, level=CacheLevel.L1)
    first = LoadRun(plan, around)
    assert first.run().outcome is Outcome.HELD
    goldens = {one.made_with: {one.name: one.digest} for one in first.results}
    assert goldens
    assert LoadRun(plan, around, goldens=goldens).run().outcome is Outcome.HELD
    ((made_with, name),) = {(one.made_with, one.name) for one in first.results[:1]}
    false = LoadRun(plan, around, goldens={made_with: {name: "0" * 64}}).run()
    assert (false.outcome, f"{name} differs from its golden" in false.mismatches[0].where) == (Outcome.ERRED, True)
    assert LoadRun(plan, around, goldens={"another version": {name: "0" * 64}}).run().outcome is Outcome.HELD
