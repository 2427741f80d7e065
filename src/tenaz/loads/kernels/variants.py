"""The shape in which passes are fastest on this machine, by a short measurement: caches, prefetching and wide registers
differ too much between machines to be told beforehand.
"""

import time
from collections.abc import Iterable
from itertools import cycle
from statistics import median

from tenaz.loads.kernels.native import Processor, this_processor
from tenaz.loads.kernels.sweep import GROUP_BYTES, Shape, Sweep, SweepClass, SweepKernels, class_of, takes_several
from tenaz.loads.march import Operation
from tenaz.loads.patterns import ALL_ONES

STRETCH_BYTES = 32 << 20
"""Measured over so much at a time: beyond what a core has to itself."""
GROUND_BYTES = 1 << 30
"""The next stretch each time, within so much: beyond the caches that cores share, where the block is."""
LEAST_BYTES = 64 << 20
"""Of a block; a smaller one is done before anything is gained."""
ROUNDS = 5
WIDER = 1.03
"""What takes more of the core, for the same speed, is not taken: it must be faster by so much."""

NARROW = ((2048, 1), (1024, 2), (2048, 4))
WIDE = ((2048, 1), (2048, 2), (0, 2))
"""How far ahead a line is asked for, in bytes, and how many groups are compared together."""


def shapes_for(processor: Processor) -> tuple[Shape, ...]:
    """The shapes that are tried: those of the width that is fastest as a rule, and of the widest there is."""
    narrow, wide = processor.vector_bits // 64, processor.arithmetic_bits // 64
    found = [Shape(narrow, ahead_bytes=ahead, together=together) for ahead, together in NARROW]
    if wide > narrow:
        found += [Shape(wide, ahead_bytes=ahead, together=together) for ahead, together in WIDE]
    return tuple(found)


def measured(kernels: SweepKernels, sweeps: Iterable[Sweep], address: int, size: int) -> str:
    """Have passes work in the shapes in which those of their kind are fastest on this memory, whose contents are lost;
    gives that in words. Nothing is done, or said, on a block too small for it.
    """
    classes = {class_of(one): one for one in sweeps if takes_several(one) and one.before is None}
    if size < LEAST_BYTES or not classes:
        return ""
    found = {kind: _fastest(one, address, min(size, GROUND_BYTES)) for kind, one in classes.items()}
    kernels.take_shapes(found)
    return "; ".join(dict.fromkeys(_words(kind, shape) for kind, shape in found.items()))


def _fastest(sweep: Sweep, address: int, size: int) -> Shape:
    processor = this_processor()
    stretch = STRETCH_BYTES // GROUP_BYTES
    starts = cycle(range(0, size // GROUP_BYTES - stretch + 1, stretch))
    there = Sweep(sweep.operations, sweep.ascending, sweep.pattern)
    ways = {shape: SweepKernels(processor, [there], shape) for shape in shapes_for(processor)}
    fill = Sweep((Operation(False, 0),), True, sweep.pattern)
    next(iter(ways.values())).run(fill, address, 0, size // GROUP_BYTES, (0, 0, 0))
    took: dict[Shape, list[float]] = {shape: [] for shape in ways}
    writes, turned = class_of(sweep)[1], dict.fromkeys(range(0, size // GROUP_BYTES, stretch), False)
    for number in range(ROUNDS + 1):
        for shape, way in ways.items():
            first = next(starts)
            words = (ALL_ONES, 0, 0) if turned[first] else (0, ALL_ONES, 0)
            begun = time.perf_counter()
            way.run(there, address, first, first + stretch, words)
            if number:
                took[shape].append(time.perf_counter() - begun)
            turned[first] ^= writes
    usual = next(iter(ways))
    best = min(ways, key=lambda shape: median(took[shape]))
    return best if median(took[usual]) > WIDER * median(took[best]) else usual


def _words(kind: SweepClass, shape: Shape) -> str:
    pattern, writes = kind
    ahead = f", {(shape.ahead_bytes or 0) // 1024} KiB ahead" if shape.ahead_bytes else ", nothing ahead"
    together = f", {shape.together} groups together" if shape.together > 1 else ""
    return f"{pattern} {'verified and written' if writes else 'verified'} {64 * shape.lanes} bits wide{ahead}{together}"
