"""``march``, ``checker`` and ``retain`` in a worker: laps of passes over its block."""

from collections.abc import Iterator

from tenaz.core.loads.plan import DataKind, LoadKind, LoadPlan, MarchMode
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import SweepKernels
from tenaz.loads.kernels.variants import measured
from tenaz.loads.march import BACKGROUNDS, CHECKED, KEPT, Pass, lap_passes, named_march, parse_march
from tenaz.loads.patterns import (
    ALL_ONES,
    HASH_STEP,
    LINE_SHIFT,
    ROW_SHIFT,
    WORD_SHIFT,
    WORDS,
    Pattern,
    PatternKind,
)
from tenaz.loads.planted import in_sweeps
from tenaz.loads.spec import Spec
from tenaz.loads.swept import SweepStep, SweptBlock, sweeps_of
from tenaz.loads.tried import Checked
from tenaz.loads.worker import Line

PATTERNS = {
    DataKind.WORDS: WORDS,
    DataKind.ADDRESS: Pattern(PatternKind.ADDRESS),
    DataKind.HASH: Pattern(PatternKind.HASH),
}

CHECKER_BACKGROUNDS = (0, 0x5555_5555_5555_5555)
"""Squares of whole words, and squares with bits in opposition inside each word too."""


def march_steps(plan: LoadPlan, lap: int, holds: int | None) -> Iterator[SweepStep]:
    """A lap of ``march``: the test over all backgrounds; address and hash change each lap."""
    elements = parse_march(named_march(plan.test))
    pattern = PATTERNS[plan.data]
    backgrounds = BACKGROUNDS if pattern is WORDS else (lap * HASH_STEP & ALL_ONES,)
    return (SweepStep(one, pattern) for one in lap_passes(elements, backgrounds, holds))


def checker_steps(_plan: LoadPlan, _lap: int, holds: int | None) -> Iterator[SweepStep]:
    """A lap of ``checker``: words, lines and rows in opposition; what the squares before left is verified too."""
    before = Pattern(PatternKind.CHECKER, ROW_SHIFT)
    for shift in (WORD_SHIFT, LINE_SHIFT, ROW_SHIFT):
        pattern = Pattern(PatternKind.CHECKER, shift)
        for number, one in enumerate(lap_passes(parse_march(CHECKED), CHECKER_BACKGROUNDS, holds)):
            yield SweepStep(one, pattern, before=before if number == 0 else None)
            holds = one.leaves
        before = pattern


def retain_steps(plan: LoadPlan, _lap: int, holds: int | None) -> Iterator[SweepStep]:
    """A lap of ``retain``: every cell is left alone once with each value, between rows that hold the opposite."""
    pattern = Pattern(PatternKind.CHECKER, ROW_SHIFT)
    for one in lap_passes(parse_march(KEPT), (0x5555_5555_5555_5555,), holds):
        looks = one.operations[0].reads and one.operations[0].value < 2
        yield SweepStep(one, pattern, plan.wait_s if looks else 0.0)


STEPS = {LoadKind.MARCH: march_steps, LoadKind.CHECKER: checker_steps, LoadKind.RETAIN: retain_steps}


def run(spec: Spec, line: Line) -> float:
    """Lap after lap, until told to stop or until the laps are done."""
    plan = spec.plan
    steps_of = STEPS[plan.kind]
    # What stays in a cache while memory is left alone would not be seen to leak.
    mode = MarchMode.FLUSHED if plan.kind is LoadKind.RETAIN and plan.mode is MarchMode.CACHED else plan.mode
    kernels = SweepKernels(this_processor())
    block = line.take_block()
    # What every lap but the first needs is compiled before the clock runs; the first begins with unknown contents.
    first = list(steps_of(plan, 1, None))
    holds = _left(first)
    needed = [*sweeps_of(first, mode), *sweeps_of(steps_of(plan, 2, holds), mode)]
    if told := measured(kernels, needed, block.address, block.size):
        line.note(f"worker {spec.worker}: measured fastest here: {told}")
    kernels.compile(needed)
    line.wait_for_go(address=block.address, bytes=block.size, locked=block.locked_bytes)
    swept = SweptBlock(block, kernels, line, mode)
    line.check_by(Checked(in_sweeps(kernels, block)))
    number, steps = 0, first
    while not line.stopping and number != plan.laps:
        number += 1
        if not swept.lap(number, steps):
            return swept.laps_done(0.0)
        steps = list(steps_of(plan, number + 1, _left(steps)))
    return float(number)


def _left(steps: list[SweepStep]) -> int:
    last: Pass = steps[-1].one
    return last.leaves
