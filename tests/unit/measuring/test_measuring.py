"""What measures this machine: kernels that do what they say, rounds that end, disturbance that is left out."""

import ctypes
from dataclasses import replace

import numpy as np
import pytest

from tenaz.core.base.errors import Refused
from tenaz.core.scores.measure import MeasurePlan
from tenaz.core.scores.score import Cores, Figure, Unit
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.memory import Block, _huge_among
from tenaz.measuring.chains import LINE_BYTES, ROW_BYTES, Chase, Order, Pages, Ring, visit_order
from tenaz.measuring.crew import Repeat, WorkerLost
from tenaz.measuring.here import BestPossible, Measurer, Watched
from tenaz.measuring.rounds import measured_in_rounds
from tenaz.measuring.streams import WRITTEN, Streams
from tenaz.measuring.tasks import STREAMS, Machine, Work, tasks_of
from tenaz.probe.system import Caches

MACHINE = Machine(4, Caches(32 << 10, 1 << 20, 8 << 20), 16 << 30)


@pytest.mark.parametrize("way", ["read", "write", "copy", "turn"])
def test_a_pass_moves_what_it_says(way: str) -> None:
    streams, block = Streams(this_processor()), Block(1 << 16)
    words = np.frombuffer((ctypes.c_char * (1 << 16)).from_address(block.address), np.uint64)
    words[:] = before = np.arange(len(words), dtype=np.uint64)
    streams.run(way, block.address, 1 << 16, 0)
    # Trying which variant is fastest has run already: begin anew.
    words[:] = before
    streams.run(way, block.address, 1 << 16, 1)
    half = len(words) // 2
    wanted = {
        "read": before,
        "write": np.full_like(before, WRITTEN),
        "copy": np.concatenate([before[:half], before[:half]]),
        "turn": before ^ np.uint64(WRITTEN),
    }[way]
    assert (words == wanted).all()
    assert streams.pass_bytes(way, 1 << 16) == (1 << 17 if way == "turn" else 1 << 16)


@pytest.mark.parametrize("order", list(Order))
def test_a_ring_goes_through_every_line_once(order: Order) -> None:
    visits = visit_order(4096, order)
    assert sorted(visits) == list(range(4096))
    same_row = np.diff(visits.astype(np.int64) // (ROW_BYTES // LINE_BYTES)) == 0
    assert same_row.mean() > 0.98 if order is Order.ROWS else same_row.mean() < 0.1
    ring, chase = Ring(4096 * LINE_BYTES, order, Pages.SMALL), Chase()
    seen = set()
    for _ in range(4096 // 16):
        assert chase.run(ring, 16) == 16
        seen.add(chase._at[ring.start])
    assert len(seen) == 256
    assert ring.start in seen


def test_what_is_measured_fits_the_machine_and_keeps_its_names() -> None:
    tasks = tasks_of(MACHINE)
    names = [task.figure.name for task in tasks]
    assert len(set(names)) == len(names)
    assert names == [task.figure.name for task in tasks_of(replace(MACHINE, free_bytes=15 << 30))]
    every = next(task for task in tasks if task.work is Work.READ and task.figure.cores is Cores.ALL)
    assert 4 * every.size == every.figure.size_bytes == 256 << 20
    assert max(task.size for task in tasks_of(replace(MACHINE, free_bytes=1 << 30))) <= 0.2 * (1 << 30)
    assert {task.figure.what for task in tasks if task.figure.leads} >= {"read", "latency", "transform", "compress"}


class Pretended:
    """A crew whose repeats come from a list."""

    def __init__(self, disturbed: int, dies_after: int = 10**9) -> None:
        self.asked: list[int] = []
        self._disturbed, self._dies_after = disturbed, dies_after

    def prepare(self, number: int, together: bool) -> bool:
        return True

    def repeat(self, number: int, together: bool, for_s: float) -> Repeat:
        self.asked.append(number)
        if len(self.asked) > self._dies_after:
            raise WorkerLost("what measured on core 0 died")
        mine = self.asked.count(number)
        bad = number == 0 and mine <= self._disturbed
        return Repeat(1e9 * (1 if bad else 5 + 0.001 * (mine % 3)), not bad)


def test_rounds_shuffle_leave_out_what_was_disturbed_and_end_when_all_is_known() -> None:
    crew, tasks = Pretended(4), tasks_of(MACHINE)[:6]
    scores = measured_in_rounds(crew, tasks, MeasurePlan(), lambda _: None, lambda: True)  # type: ignore[arg-type]
    assert [score.figure for score in scores] == [task.figure for task in tasks]
    assert scores[0].left_out == 4
    assert all(value > 4.9 for value in scores[0].values)
    assert all(score.half_width is not None and score.half_width <= 0.005 for score in scores)
    assert crew.asked[:6] != crew.asked[6:12]
    lost = Pretended(0, 8)
    with pytest.raises(WorkerLost):
        measured_in_rounds(lost, tasks, MeasurePlan(), lambda _: None, lambda: True)  # type: ignore[arg-type]
    hopeless = Pretended(10**9)
    scores = measured_in_rounds(hopeless, tasks, MeasurePlan(), lambda _: None, lambda: True)  # type: ignore[arg-type]
    assert len(scores) == 6
    assert [one.disturbed for one in scores] == [True] + [False] * 5
    assert scores[0].show().endswith(", disturbed")
    assert scores[0].middle == 1.0


def test_this_machine_is_measured_and_what_is_unknown_refused() -> None:
    plan = MeasurePlan(6.0, 0.2, ("latency, 16", "hash"))
    found = Measurer().measure(plan, lambda _: None, Watched(()))
    names = {score.figure.what for score in found.scores}
    if not found.why:
        assert "hash" in names
    assert all(score.middle > 0 for score in found.scores)
    assert found.seconds < 60
    with pytest.raises(Refused, match="latency"):
        Measurer().measure(MeasurePlan(only=("sorting",)), lambda _: None, Watched(()))
    with pytest.raises(Refused):
        Measurer().measure(MeasurePlan(0.1), lambda _: None, Watched(()))


SMAPS = """7f0000000000-7f0000400000 rw-p 00000000 00:00 0
Size:               4096 kB
AnonHugePages:      2048 kB
7f0000400000-7f0000800000 rw-p 00000000 00:00 0 [anon: other]
AnonHugePages:      4096 kB
VmFlags: rd wr mr mw me ac
"""


def test_huge_pages_are_counted_where_they_are_and_what_is_written_crosses_the_bus_twice() -> None:
    assert _huge_among(SMAPS.splitlines(), 0x7F0000000000, 0x7F0000400000) == 2 << 20
    assert _huge_among(SMAPS.splitlines(), 0x7F0000000000, 0x7F0000800000) == 6 << 20
    best = BestPossible(48.0, 1 << 30)
    told = {work: best(Figure(work.value, Unit.GB_S, True, 1 << 30)) for work in STREAMS}
    assert told == {Work.READ: 48.0, Work.WRITE: 24.0, Work.COPY: 32.0, Work.TURN: 48.0}
    assert best(Figure("read", Unit.GB_S, True, 1 << 20)) is None
