"""The machine code itself, against what Python and numpy say."""

import ctypes
import random
import struct
from pathlib import Path

import numpy as np
import pytest

from tenaz.core.loads.plan import CacheLevel, MarchMode, MismatchKind
from tenaz.loads.budget import CHUNK_BYTES, bytes_per_worker, transform_points
from tenaz.loads.kernels.clock import ClockMeter
from tenaz.loads.kernels.fourier import FourierKernels, flop_of_round_trip
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, Hit, Shape, Sweep, SweepKernels
from tenaz.loads.kernels.visits import AHEAD, Copier, Hammer, Permutation
from tenaz.loads.march import Operation, Pass
from tenaz.loads.memory import Block
from tenaz.loads.patterns import ALL_ONES, Pattern, PatternKind
from tenaz.loads.physical import physical_address
from tenaz.loads.swept import SweepStep, SweptBlock

GROUPS = 40
OLD, NEW = 0x0123_4567_89AB_CDEF, 0xFEDC_BA98_7654_3210


READ, WRITE = Operation(True, 0), Operation(False, 1)
PATTERNS = [
    Pattern(),
    Pattern(PatternKind.ADDRESS),
    Pattern(PatternKind.HASH),
    *(Pattern(PatternKind.CHECKER, s) for s in (3, 6, 13)),
]
SWEEPS = [
    Sweep(operations, ascending, pattern, flushed)
    for operations in ((READ, WRITE), (READ,), (WRITE,), (READ, WRITE, Operation(True, 1), Operation(False, 0)))
    for ascending in (True, False)
    for pattern in PATTERNS
    for flushed in (False, True)
]
WORDS = (OLD, NEW, 0)


@pytest.fixture(
    scope="module",
    params=[None, Shape(4, ahead_bytes=0, together=4), Shape(2, ahead_bytes=2048, together=2)],
    ids=["alone", "four together", "two together"],
)
def kernels(request: pytest.FixtureRequest) -> SweepKernels:
    return SweepKernels(this_processor(), SWEEPS, request.param)


@pytest.fixture
def words() -> "tuple[Block, np.ndarray]":
    block = Block(GROUPS * GROUP_BYTES)
    view = np.frombuffer((ctypes.c_uint64 * (GROUPS * 32)).from_address(block.address), dtype=np.uint64)
    view[:] = OLD
    return block, view


def base_of(pattern: Pattern) -> "np.ndarray":
    """The pattern's words over all groups, by the twin in Python of what the machine code does."""
    return np.array([pattern.at(8 * k) for k in range(GROUPS * 32)], dtype=np.uint64)


@pytest.mark.parametrize("sweep", SWEEPS, ids=lambda sweep: sweep.symbol)
def test_a_clean_pass_does_its_operations_on_its_groups_only(kernels: SweepKernels, words: tuple, sweep: Sweep) -> None:  # type: ignore[type-arg]
    block, view = words
    base = base_of(sweep.pattern)
    view[:] = base ^ np.uint64(OLD)
    assert kernels.run(sweep, block.address, 3, 30, WORDS) is None
    last = next((one.value for one in reversed(sweep.operations) if not one.reads), 0)
    assert (view[96:960] == base[96:960] ^ np.uint64(WORDS[last])).all()
    assert (view[:96] == base[:96] ^ np.uint64(OLD)).all()
    assert (view[960:] == base[960:] ^ np.uint64(OLD)).all()
    assert kernels.run(sweep, block.address, 5, 5, WORDS) is None, "no group, no work"


def test_what_another_pattern_left_is_verified_as_it_is_written_over(kernels: SweepKernels, words: tuple) -> None:  # type: ignore[type-arg]
    block, view = words
    lines, rows = Pattern(PatternKind.CHECKER, 6), Pattern(PatternKind.HASH)
    over = Sweep((Operation(True, 2), WRITE), True, lines, before=rows)
    view[:] = base_of(rows) ^ np.uint64(5)
    assert kernels.run(over, block.address, 0, GROUPS, (OLD, NEW, 5)) is None
    assert (view == base_of(lines) ^ np.uint64(NEW)).all()
    view[:] = base_of(rows) ^ np.uint64(5)
    view[32 * 11 + 3] ^= np.uint64(1)
    assert kernels.run(over, block.address, 0, GROUPS, (OLD, NEW, 5)) == Hit(11, 0)


@pytest.mark.parametrize("bit", [0, 31, 63])
@pytest.mark.parametrize("word", [0, 1, 5 * 32 + 31, GROUPS * 32 - 1])
@pytest.mark.parametrize("sweep", [s for s in SWEEPS if len(s.operations) == 2], ids=lambda sweep: sweep.symbol)
def test_a_mismatch_stops_before_its_group_is_written(
    kernels: SweepKernels,
    words: tuple,
    word: int,
    bit: int,
    sweep: Sweep,  # type: ignore[type-arg]
) -> None:
    block, view = words
    base = base_of(sweep.pattern)
    view[:] = base ^ np.uint64(OLD)
    view[word] ^= np.uint64(1 << bit)
    bad = int(view[word])
    assert kernels.run(sweep, block.address, 0, GROUPS, WORDS) == Hit(word // 32, 0)
    assert view[word] == bad, "the bad data is still there to be looked at"
    done = slice(0, word // 32 * 32) if sweep.ascending else slice((word // 32 + 1) * 32, None)
    assert (view[done] == base[done] ^ np.uint64(NEW)).all()
    kernels.flush(block.address + word * 8)
    assert view[word] == bad


def test_a_permutation_visits_each_line_once_in_an_order_that_jumps_and_stops_at_a_wrong_one() -> None:
    lines = 5 * 1000
    block, pattern = Block(lines * 64), Pattern(PatternKind.HASH)
    view = np.frombuffer((ctypes.c_uint64 * (lines * 8)).from_address(block.address), dtype=np.uint64)
    base = np.array([pattern.at(8 * k) for k in range(lines * 8)], dtype=np.uint64)
    view[:] = base
    visits = Permutation(this_processor(), pattern, lines, seed=3)
    assert visits.run(block.address, AHEAD, 0, ALL_ONES) is None
    touched = np.nonzero((view != base).reshape(lines, 8).any(axis=1))[0]
    assert len(touched) <= AHEAD
    assert np.abs(np.diff(touched)).max() > 128, "rows are changed"
    assert visits.run(block.address, visits.steps - AHEAD, 0, ALL_ONES) is None
    assert (view == ~base).all(), "each was verified and written once: a second visit would have found it wrong"
    view[8 * 4321 + 5] ^= np.uint64(1 << 40)
    hit = visits.run(block.address, visits.steps, ALL_ONES, 0)
    assert hit is not None
    at, steps = hit
    assert at == 4321
    view[8 * at : 8 * at + 8] = base[8 * at : 8 * at + 8]
    assert visits.run(block.address, visits.steps - steps, ALL_ONES, 0) is None
    assert (view == base).all()


def test_a_copy_verifies_both_ends_before_it_writes() -> None:
    block, pattern = Block(2 * GROUPS * GROUP_BYTES), Pattern(PatternKind.HASH)
    view = np.frombuffer((ctypes.c_uint64 * (2 * GROUPS * 32)).from_address(block.address), dtype=np.uint64)
    here, there = view[: GROUPS * 32], view[GROUPS * 32 :]
    base = base_of(pattern)
    here[:], there[:] = base ^ np.uint64(OLD), base ^ np.uint64(NEW)
    copier = Copier(this_processor(), pattern)
    to = block.address + GROUPS * GROUP_BYTES
    here[32 * 7] ^= np.uint64(1)
    there[32 * 9] ^= np.uint64(2)
    assert copier.run(block.address, to, (0, GROUPS), (OLD, NEW), ALL_ONES) == (7, False)
    here[32 * 7] ^= np.uint64(1)
    assert copier.run(block.address, to, (7, GROUPS), (OLD, NEW), ALL_ONES) == (9, True)
    there[32 * 9] ^= np.uint64(2)
    assert copier.run(block.address, to, (9, GROUPS), (OLD, NEW), ALL_ONES) is None
    assert (there == base ^ np.uint64(OLD ^ ALL_ONES)).all()
    Hammer(this_processor()).run(block.address, to, 1000)
    assert (here == base ^ np.uint64(OLD)).all(), "reading changes nothing"


@pytest.mark.parametrize("points", [16, 32, 64, 128, 512, 1024])
def test_the_transform_is_the_fourier_transform(points: int) -> None:
    kernels = FourierKernels(this_processor(), points)
    block = Block(kernels.block_bytes)
    kernels.fill(block.address, 7)
    view = np.frombuffer((ctypes.c_double * kernels.slots).from_address(block.address))
    halves = view.reshape(points, 2, kernels.lanes)
    given = (halves[:, 0, :] + 1j * halves[:, 1, :]).copy()
    assert (given.real == np.rint(given.real)).all()
    assert len(np.unique(given)) > points * kernels.lanes // 2
    kernels.forward(block.address)
    stages, halved = divmod(points.bit_length() - 1, 2)
    numbers = np.arange(points) // (2 if halved else 1)
    place = np.zeros(points, dtype=int)
    for digit in range(stages):
        place = place * 4 + numbers // 4**digit % 4
    if halved:
        place += np.arange(points) % 2 * (points // 2)
    got = (halves[:, 0, :] + 1j * halves[:, 1, :])[place]
    wanted = np.fft.fft(given, axis=0)
    assert np.abs(got - wanted).max() < 1e-13 * np.abs(wanted).max()


def test_every_kind_of_wrong_result_is_told() -> None:
    kernels = FourierKernels(this_processor(), 256)
    block = Block(kernels.block_bytes)
    view = np.frombuffer((ctypes.c_double * kernels.slots).from_address(block.address))
    digest, wrong = kernels.first_digest(block.address, 7)
    assert wrong == []
    assert kernels.rounds(block.address, 7, 5, digest).good == 5
    view[30] += 0.9
    broken = kernels.rounds(block.address, 7, 5, digest)
    assert broken.good == 0
    assert [point.slot for point in broken.wrong] == [30]
    assert broken.wrong[0].read == pytest.approx(broken.wrong[0].expected + 0.9)
    assert kernels.rounds(block.address, 7, 5, digest).good == 5, "the exact input was put back"
    view[8] = np.nan
    lost = kernels.rounds(block.address, 7, 1, digest).wrong
    assert len(lost) > 1, "one lane of the transform is lost as a whole"
    assert len({point.slot % kernels.lanes for point in lost}) == 1
    view[30] *= 1 + 1e-12
    fine = kernels.rounds(block.address, 7, 1, digest)
    assert (fine.good, fine.wrong) == (0, []), "too small for rounding, but the bits tell"
    assert kernels.rounds(block.address, 7, 1, digest).good == 1


def test_operations_are_counted_as_done() -> None:
    # 16 points: 4 butterflies a stage, 2 stages, 16 additions each, and one twiddled stage of 18; there and back.
    assert flop_of_round_trip(16, lanes=1) == 2 * 4 * (2 * 16 + 18)
    # 32 points: 16 halvings before two transforms of 16.
    assert flop_of_round_trip(32, lanes=1) == 2 * (2 * 4 * (2 * 16 + 18) + 16 * 10)
    with pytest.raises(ValueError, match="power of two"):
        FourierKernels(this_processor(), 48)


def test_blocks_fit_their_cache_level() -> None:
    for lanes in (2, 4, 8):
        for size in (32 * 1024, 1 << 20, 33 << 20):
            points = transform_points(CacheLevel.L2, size, lanes)
            assert points * 16 * lanes <= 0.75 * size
            assert points * 2 * 16 * lanes > 0.75 * size, "and fill more than a third of it"
        assert transform_points(CacheLevel.MEMORY, 1 << 20, lanes) * 16 * lanes >= 2 << 20


def test_memory_is_divided_in_whole_chunks() -> None:
    each = bytes_per_worker(0.5, 3, 8 * 2**30, 7 * 2**30)
    assert each % (8 * 2**20) == 0
    assert 3 * each <= 4 * 2**30


def test_the_measured_clock_is_a_clock_and_stays() -> None:
    meter = ClockMeter()
    measured = sorted(meter.measure_mhz() for _ in range(9))
    assert 500 < measured[4] < 7000
    assert measured[-1] < 1.6 * measured[4], "no measurement is faster than the core"


class Tampered(SweepKernels):
    """Test door: memory as the kernels see it, tampered with at one word in one of three ways."""

    def __init__(self, kind: MismatchKind, word: "ctypes.c_uint64", bit: int) -> None:
        super().__init__(this_processor())
        self._kind, self._word, self._bit = kind, word, bit

    def run(
        self, sweep: Sweep, base: int, first_group: int, last_group: int, words: tuple[int, int, int]
    ) -> Hit | None:
        if self._kind is MismatchKind.COMPARED:
            self._kind = MismatchKind.STORED
            return Hit((ctypes.addressof(self._word) - base) // GROUP_BYTES, 0)
        if self._bit >= 0:
            self._word.value ^= 1 << self._bit
        hit = super().run(sweep, base, first_group, last_group, words)
        if hit is None and self._bit >= 0:
            self._word.value ^= 1 << self._bit
        return hit

    def flush(self, address: int) -> None:
        super().flush(address)
        if self._kind is MismatchKind.ON_THE_WAY:
            self._word.value ^= 1 << self._bit
        self._bit = -1


@pytest.mark.parametrize("kind", [MismatchKind.STORED, MismatchKind.ON_THE_WAY, MismatchKind.COMPARED])
def test_what_a_second_look_shows_is_told_right_a_hundred_times_of_a_hundred(kind: MismatchKind) -> None:
    chosen = random.Random(kind.value)
    block = Block(CHUNK_BYTES)
    block.populate(lambda _: True)
    steps = [SweepStep(Pass(True, (READ,), (0, ALL_ONES, 0)))]
    for _ in range(100):
        address = block.address + 8 * chosen.randrange(CHUNK_BYTES // 8)
        bit = chosen.randrange(64)
        line = Heard()
        kernels = Tampered(kind, ctypes.c_uint64.from_address(address), -1 if kind is MismatchKind.COMPARED else bit)
        SweptBlock(block, kernels, line, MarchMode.CACHED).lap(1, steps)  # type: ignore[arg-type]
        ((lap, at, words, told, _),) = line.told
        assert (lap, told) == (1, kind)
        expected, read, again = words
        if kind is MismatchKind.COMPARED:
            assert at // GROUP_BYTES == address // GROUP_BYTES
            assert expected == read == again
        else:
            assert (at, read ^ expected) == (address, 1 << bit)
            assert again == (read if kind is MismatchKind.STORED else expected)


class Heard:
    """Stands where a worker's line does, and keeps what it is told."""

    stopping = False
    covered = 0.0

    def __init__(self) -> None:
        self.told: list[tuple[int, int, tuple[int, int, int], MismatchKind, str]] = []

    def worked(self, laps: float, work: float, doing: object) -> None:
        """Nobody asks."""

    def wrong_word(self, lap: int, address: int, words: tuple[int, int, int], kind: MismatchKind, where: str) -> None:
        """Keep it."""
        self.told.append((lap, address, words, kind, where))


def test_a_physical_address_is_given_where_the_system_grants_it(tmp_path: Path) -> None:
    pagemap = tmp_path / "pagemap"
    page = 4096
    pagemap.write_bytes(struct.pack("<4Q", 0, 1 << 63 | 0x1234, 1 << 63, 0x77))
    assert physical_address(page + 24, pagemap) == 0x1234 * page + 24
    assert [physical_address(at * page, pagemap) for at in (0, 2, 3, 4, 1 << 60)] == [None] * 5
    assert physical_address(0, tmp_path / "none") is None
