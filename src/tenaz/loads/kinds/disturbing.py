"""``disturb`` in a worker: lines read again and again from memory around others, which are then verified.

What it strains: rows beside rows that are opened very often. Which addresses are neighbouring rows of one bank is not
published, so distances that common mappings use are tried in turn, inside one huge page where there is one, in which
addresses next to each other are next to each other in memory too.
"""

import random
from functools import partial

from tenaz.loads.budget import CHUNK_BYTES
from tenaz.loads.kernels.native import this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, Sweep, SweepKernels
from tenaz.loads.kernels.visits import Hammer
from tenaz.loads.looking import look_again, words_of
from tenaz.loads.march import Operation
from tenaz.loads.memory import HUGE_PAGE_BYTES, Block
from tenaz.loads.patterns import ALL_ONES, ROW_SHIFT, Filled, Pattern, PatternKind
from tenaz.loads.planted import in_sweeps
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked
from tenaz.loads.worker import Line

PATTERN = Pattern(PatternKind.CHECKER, ROW_SHIFT)
WRITE = Sweep((Operation(False, 0),), True, PATTERN)
VERIFY = Sweep((Operation(True, 0),), True, PATTERN)
DISTANCES = tuple(1 << shift for shift in range(14, 20))
"""Bytes from the victim to each line that is read: 16 KiB to 512 KiB."""
READS_A_CALL = 50_000
CALLS_A_VICTIM = 16
"""1.6 million reads: at 80 ns each well beyond one refresh of 64 ms."""
VICTIMS_A_LAP = 48
READ = 0.75
"""Part of a lap that is told as reading around victims; the rest is the look at all of it."""


def run(spec: Spec, line: Line) -> float:
    """Lap after lap; a lap is some victims at all distances, their page verified after each, all memory at its end."""
    processor = this_processor()
    sweeps, hammer = SweepKernels(processor, [WRITE, VERIFY]), Hammer(processor)
    block = line.take_block()
    line.wait_for_go(address=block.address, bytes=block.size, locked=block.locked_bytes)
    line.check_by(Checked(in_sweeps(sweeps, block)))
    chosen, laps, word = random.Random(spec.worker), 0, 0
    while not line.stopping and laps != spec.plan.laps:
        for first in range(0, block.size, CHUNK_BYTES):
            if line.stopping:
                return float(laps)
            groups = (first // GROUP_BYTES, (first + CHUNK_BYTES) // GROUP_BYTES)
            sweeps.run(WRITE, block.address, *groups, (word, 0, 0))
            line.worked(float(laps), 0.0, "writing")
        looked_at: set[int] = set()
        for number in range(VICTIMS_A_LAP):
            distance = DISTANCES[number % len(DISTANCES)]
            page = chosen.randrange(block.size // HUGE_PAGE_BYTES) * HUGE_PAGE_BYTES
            victim = page + chosen.randrange(distance, HUGE_PAGE_BYTES - distance, 64)
            for _ in range(CALLS_A_VICTIM):
                if line.stopping:
                    return laps + READ * number / VICTIMS_A_LAP
                hammer.run(block.address + victim - distance, block.address + victim + distance, READS_A_CALL)
                words = f"{distance // 1024} KiB on either side of a victim"
                line.worked(laps + READ * number / VICTIMS_A_LAP, 2e3 * READS_A_CALL, words)
            _verify(block, (page, page + HUGE_PAGE_BYTES), word, sweeps, line, (laps + 1, distance))
            looked_at.add(page)
            line.covered = max(line.covered, min(1.0, len(looked_at) * HUGE_PAGE_BYTES / block.size))
        for first in range(0, block.size, CHUNK_BYTES):
            if line.stopping:
                return laps + READ + (1 - READ) * first / block.size
            _verify(block, (first, first + CHUNK_BYTES), word, sweeps, line, (laps + 1, 0))
            line.covered = max(line.covered, (first + CHUNK_BYTES) / block.size)
            line.worked(laps + READ + (1 - READ) * (first + CHUNK_BYTES) / block.size, 0.0, "looking at all of it")
        laps, word = laps + 1, word ^ ALL_ONES
    return float(laps)


def _verify(
    block: Block, part: tuple[int, int], word: int, sweeps: SweepKernels, line: Line, at: tuple[int, int]
) -> None:
    """A part of the block from one byte up to another: the page that victim and readers lie in, at the end all."""
    lap, distance = at
    where = f"after reads {distance // 1024} KiB away" if distance else "after all reads of a lap"
    right, tell = Filled(PATTERN, word), partial(line.wrong_word, lap, where=where)
    group, last = part[0] // GROUP_BYTES, part[1] // GROUP_BYTES
    while group < last and not line.stopping:
        hit = sweeps.run(VERIFY, block.address, group, last, (word, 0, 0))
        if hit is None:
            return
        look_again(block.address, words_of(hit.group, GROUP_BYTES), right, right, sweeps.flush, tell)
        group = hit.group + 1
