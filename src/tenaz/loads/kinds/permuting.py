"""``permute`` in a worker: each line once, in an order that jumps, verified and written.

What it strains: row switching. Almost every access needs a row that is not open, so activates and precharges come as
close as the timings allow; prefetching finds nothing to follow.
"""

from functools import partial

from tenaz.loads.budget import CHUNK_BYTES
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, LINE_BYTES, Sweep, SweepKernels
from tenaz.loads.kernels.visits import Permutation
from tenaz.loads.looking import look_again, words_of
from tenaz.loads.march import Operation
from tenaz.loads.patterns import ALL_ONES, Filled, Pattern, PatternKind
from tenaz.loads.planted import in_lines
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked
from tenaz.loads.worker import Line

STEPS_A_CALL = 100_000
"""A few milliseconds."""
PATTERN = Pattern(PatternKind.HASH)
WRITE = Sweep((Operation(False, 0),), True, PATTERN)


def run(spec: Spec, line: Line) -> float:
    """Lap after lap; a lap is every line once."""
    processor = this_processor()
    sweeps = SweepKernels(processor, [WRITE])
    block = line.take_block()
    visits = Permutation(processor, PATTERN, block.size // LINE_BYTES, seed=spec.worker + 1)
    line.wait_for_go(address=block.address, bytes=block.size, locked=block.locked_bytes)
    for first in range(0, block.size, CHUNK_BYTES):
        if line.stopping:
            return 0.0
        groups = (first // GROUP_BYTES, (first + CHUNK_BYTES) // GROUP_BYTES)
        sweeps.run(WRITE, block.address, *groups, (0, 0, 0))
        line.worked(0.0, CHUNK_BYTES, "writing")
    line.check_by(Checked(in_lines(visits, block, PATTERN, sweeps)))
    word, laps = 0, 0
    while not line.stopping and laps != spec.plan.laps:
        written = word ^ ALL_ONES
        done = 0
        while done < visits.steps and not line.stopping:
            count = min(STEPS_A_CALL, visits.steps - done)
            hit = visits.run(block.address, count, word, written)
            if hit is not None:
                at, count = hit
                tell = partial(line.wrong_word, laps + 1, where=f"line {at}, verified and written")
                before, after = Filled(PATTERN, word), Filled(PATTERN, written)
                look_again(block.address, words_of(at, LINE_BYTES), before, after, sweeps.flush, tell)
            done += count
            line.covered = max(line.covered, done / visits.steps)
            traffic = 2 * block.size * count / visits.steps
            line.worked(laps + done / visits.steps, traffic, "lines in an order that jumps")
        if done < visits.steps:
            return laps + done / visits.steps
        word, laps = written, laps + 1
    return float(laps)
