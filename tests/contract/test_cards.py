"""Loads of graphics cards, on the software driver: every wrong word and pixel at its place, the same bits each time."""

import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import replace

import pytest

from tenaz.benches.here import surroundings
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.cards import Card, CardKind, Tile
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadPlan, LoadProgress, LoadReport, MismatchKind
from tenaz.loads import accounts, cards
from tenaz.loads.budget import BESIDE_OTHERS
from tenaz.loads.card_crews import Room, card_crew
from tenaz.loads.kinds.painting import MOST_TILES
from tenaz.loads.processes import cpu_time_s
from tenaz.loads.run import LoadRun
from tenaz.loads.spec import Spec
from tests.doors.bad_card import seen_of
from tests.patience import PATIENCE_S

pytestmark = pytest.mark.xdist_group("cards")


@pytest.fixture(scope="module", autouse=True)
def _a_card() -> None:
    try:
        found = cards.cards_here()
    except Refused as error:
        pytest.skip(str(error))
    if not found:
        pytest.skip("no driver here can draw, not even in software (Debian: mesa-vulkan-drivers)")


def loaded(text: str) -> LoadReport:
    plan = parse_load(text)
    return LoadRun(plan, surroundings(plan)).run()


@pytest.mark.parametrize("text", ["vram 2s 16MiB", "vram 1s 16MiB hash mats+", "shade 2s", "paint 2s 256px"])
def test_a_card_that_does_as_it_is_told_holds(text: str) -> None:
    report = loaded(text)
    assert (report.outcome, report.detail, report.errors) == (Outcome.HELD, "", 0)
    (fact,) = report.loads
    assert (fact.cards, fact.cores, fact.covered) == ((0,), (), 1.0)
    assert fact.rate > 0


def test_wrong_words_of_a_cards_memory_are_all_found_at_their_place() -> None:
    seen = seen_of("words")
    told = seen["told"]
    assert seen["left"] == 0
    assert sorted([one["address"], one["expected"] ^ one["read"]] for one in told) == seen["wanted"]
    assert len(told) == seen["errors"] == 300
    assert {(one["kind"], one["card"]) for one in told} == {(MismatchKind.STORED.value, 0)}


def test_wrong_pixels_are_all_found_at_their_place_and_kept_as_small_pictures() -> None:
    seen = seen_of("pixels")
    drawn = [one["drawn"] for one in seen["told"]]
    assert sorted([one["number"], one["x"], one["y"]] for one in drawn) == seen["wanted"]
    assert len(drawn) == 100
    assert {one["read"] for one in seen["told"]} == {0x04030201}
    kept = [Tile(**one["tile"]) for one in drawn if one["tile"]]
    assert len(kept) == MOST_TILES
    assert all(right != read for right, read in (one.pixels for one in kept))


def test_two_processes_draw_and_reckon_alike_to_the_last_bit() -> None:
    def results(text: str) -> list[tuple[str, str, str]]:
        plan = parse_load(text)
        run = LoadRun(plan, surroundings(plan))
        assert run.run().outcome is Outcome.HELD
        return sorted((one.made_with, one.name, one.digest) for one in run.results)

    for text in ("paint 1 lap 256px", "shade 1 lap"):
        first = results(text)
        assert len(first) == 4
        assert results(text) == first


def test_results_are_compared_with_the_cards_own_at_stock() -> None:
    plan = parse_load("paint 1 lap 256px")
    run = LoadRun(plan, surroundings(plan))
    run.run()
    goldens = {run.results[0].made_with: {one.name: one.digest for one in run.results}}
    assert LoadRun(plan, surroundings(plan), goldens=goldens).run().outcome is Outcome.HELD
    goldens[run.results[0].made_with][run.results[2].name] = "0" * 64
    report = LoadRun(plan, surroundings(plan), goldens=goldens).run()
    assert report.outcome is Outcome.ERRED
    assert "differs from its golden taken at stock" in report.mismatches[0].show()


def test_faults_of_what_a_card_runs_are_found_at_their_place() -> None:
    seen = list(cards.prove(0, 3, lambda _: None))
    assert [one for one in seen if (one["found"], one["placed"]) != (3, 3)] == []
    assert {one["load"] for one in seen} == {"vram", "shade", "paint"}


def while_running(text: str, act: Callable[[LoadRun], None]) -> LoadReport:
    plan = parse_load(text)
    run = LoadRun(plan, surroundings(plan))

    def later() -> None:
        until = time.monotonic() + PATIENCE_S
        while not any(lane.laps for lane in run.progress().lanes) and time.monotonic() < until:
            time.sleep(0.02)
        act(run)

    thread = threading.Thread(target=later)
    thread.start()
    report = run.run()
    thread.join()
    return report


@pytest.mark.parametrize(("answers", "outcome"), [(True, Outcome.RESTARTED), (False, Outcome.FROZE)])
def test_a_card_that_goes_away_is_an_outcome(answers: bool, outcome: Outcome, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(accounts, "answers_again", lambda _: answers)
    report = while_running("shade 60s", lambda run: os.kill(run.pids[0], signal.SIGSEGV))
    assert report.outcome is outcome
    assert report.detail.startswith("card 0 was lost")
    assert report.failed_after_s is not None


def test_a_card_that_stops_answering_is_told_as_lost_and_an_error_of_ours_is_not() -> None:
    assert seen_of("broken") == {"raised": "validation error"}
    assert "does not answer any more" in seen_of("lost")["told"][0]["text"]


def test_a_lost_cards_driver_that_works_answers_again() -> None:
    assert cards.answers_again(0)
    assert not cards.answers_again(99)


def test_it_is_stopped_soon() -> None:
    began = [0.0]

    def stop(run: LoadRun) -> None:
        began[0] = time.monotonic()
        run.stop()

    report = while_running("paint 600s 512px", stop)
    assert report.outcome is Outcome.STOPPED
    assert time.monotonic() - began[0] < PATIENCE_S / 4


def test_everything_at_once_is_verified_part_by_part() -> None:
    report = loaded("digest 3s 1 worker beside march 32MiB 1 worker beside paint 256px beside vram 16MiB")
    assert report.errors == 0
    assert [(one.kind.value, one.shown) for one in report.loads] == [
        ("digest", True), ("march", True), ("paint", True), ("vram", True),
    ]  # fmt: skip


def test_in_step_all_rest_for_half_of_the_time() -> None:
    plan, parts = parse_load("transform 3s L1 1 worker in step 2Hz"), list[float]()

    def told(now: LoadProgress) -> None:
        if now.elapsed_s > 2:
            parts.append((cpu_time_s(run.pids[0]) - started[0][0]) / (now.elapsed_s - started[0][1]))
        elif now.elapsed_s > 0 and not started:
            started.append((cpu_time_s(run.pids[0]), now.elapsed_s))

    started: list[tuple[float, float]] = []
    run = LoadRun(plan, surroundings(), told)
    assert run.run().outcome is Outcome.HELD
    assert parts[-1] < 0.75


GIB = 1 << 30
OWN, SHARED = CardKind.OWN_MEMORY, CardKind.SHARED_MEMORY
FOUND = (Card(0, "a card", OWN, memory_bytes=8 * GIB), Card(1, "another", OWN), Card(2, "within", SHARED))
ROOM = Room(32 * GIB, 24 * GIB, BESIDE_OTHERS)


@pytest.mark.parametrize(
    ("text", "sizes"),
    [
        ("vram 1h 50% card 0", {0: int(0.5 * (8 * GIB - 8 * GIB // 10))}),
        ("vram 1h 2GiB cards 0,1", {0: 2 * GIB, 1: 2 * GIB}),
        ("vram 1h card 1", {1: GIB}),
        ("vram 1h 25% card 2", {2: 8 * GIB}),
        ("paint 1h", {0: 0, 1: 0, 2: 0}),
        ("vram 1h 9GiB card 0", "card 0 has 8 GiB of memory"),
        ("vram 1h 90% card 2", "at most"),
        ("paint 1h card 3", "there is no card 3 here; there are: 0"),
    ],
)
def test_each_card_gets_a_worker_and_its_part_of_memory(text: str, sizes: dict[int, int] | str) -> None:
    first = Spec(parse_load(text), 0, 0, 0)
    if isinstance(sizes, str):
        with pytest.raises(Refused, match=sizes):
            card_crew(first, FOUND, ROOM)
        return
    specs, of_main = card_crew(first, FOUND, ROOM)
    assert {spec.card: spec.size for spec in specs} == sizes
    assert of_main == sizes.get(2, 0)
    assert Spec.from_json(specs[0].to_json()) == replace(specs[0], plan=replace(specs[0].plan, beside=()))


def test_software_draws_only_where_nothing_else_does() -> None:
    plan = LoadPlan(parse_load("paint 1h").kind)
    soft = Card(0, "software", CardKind.SOFTWARE)
    for found, used in (((*FOUND[:1], replace(soft, index=1)), [0]), ((soft,), [0])):
        specs, _ = card_crew(Spec(plan, 0, 0, 0), found, ROOM)
        assert [spec.card for spec in specs] == used
    with pytest.raises(Refused, match="no graphics card can be reached here"):
        card_crew(Spec(plan, 0, 0, 0), (), ROOM)


def test_without_the_extra_the_rest_works_and_says_how_to_get_it() -> None:
    hidden = "import sys; sys.modules['wgpu'] = None; from tenaz.loads.graphics.listing import main; main()"
    said = subprocess.run([sys.executable, "-c", hidden], capture_output=True, text=True, check=True).stdout
    assert "pip install 'tenaz[graphics]'" in said
    imported = "import sys, tenaz.benches.here, tenaz.loads.run; sys.exit('wgpu' in sys.modules)"
    assert subprocess.run([sys.executable, "-c", imported], check=False).returncode == 0
