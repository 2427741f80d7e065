"""What measures is itself measured: bandwidth beside the best plain loops, latency beside a chain written by hand, how
steady a median is, how long a whole measure takes.
"""

import ctypes
import statistics
import time

import numpy as np

from tenaz.core.scores.measure import MeasurePlan
from tenaz.loads.kernels.native import NativeModule, this_processor
from tenaz.loads.memory import Block
from tenaz.measuring.chains import LINE_BYTES, Chase, Order, Pages, Ring
from tenaz.measuring.here import Measurer, Watched
from tenaz.measuring.streams import Streams
from tests.bench.kernels import rate
from tests.bench.limits import plain_loops

ROUNDS = 15
BLOCK_BYTES = 256 << 20
STEPS = 1 << 19
WAYS = {"read": "r", "write": "w", "turn": "rw"}

BY_HAND = """
define ptr @by_hand(ptr %at, i64 %steps) {
entry:
  br label %body
body:
  %k = phi i64 [ 0, %entry ], [ %k1, %body ]
  %p = phi ptr [ %at, %entry ], [ %next, %body ]
  %next = load ptr, ptr %p, align 8
  %k1 = add i64 %k, 1
  %over = icmp eq i64 %k1, %steps
  br i1 %over, label %done, label %body
done:
  ret ptr %next
}
"""


def bandwidth() -> None:
    """Ratio to the best plain loop of the same round."""
    block, streams = Block(BLOCK_BYTES), Streams(this_processor())
    block.populate(lambda _: True)
    for way, limit in WAYS.items():
        loops, ratios = plain_loops(limit), []
        for _ in range(ROUNDS):
            best = max(
                rate(lambda loop=loop: loop(block.address, BLOCK_BYTES), len(limit) * BLOCK_BYTES)  # type: ignore[misc]
                for loop in loops.values()
            )
            mine = rate(
                lambda way=way: streams.run(way, block.address, BLOCK_BYTES, 1),  # type: ignore[misc]
                streams.pass_bytes(way, BLOCK_BYTES),
            )
            ratios.append(mine / best)
        print(f"measure, {way:<6} {statistics.median(ratios):.2f} of the best plain loop (bar 0.95)")


def latency() -> None:
    """Ratio to a chain written by hand, over the same ring."""
    module, chase = NativeModule(BY_HAND), Chase()
    by_hand = module.function("by_hand", ctypes.c_int64, [ctypes.c_void_p, ctypes.c_int64])
    for size in (16 << 10, BLOCK_BYTES):
        ring, ratios = Ring(size, Order.RANDOM, Pages.HUGE), []
        for _ in range(ROUNDS):
            hand = rate(lambda ring=ring: by_hand(ring.start, STEPS), STEPS)  # type: ignore[misc]
            ratios.append(rate(lambda ring=ring: chase.run(ring, STEPS), STEPS) / hand)  # type: ignore[misc]
        told = f"{size // 1024} KiB" if size < 1 << 20 else f"{size >> 20} MiB"
        print(f"measure, latency {told}: {statistics.median(ratios):.3f} of a chain by hand (bar 0.95 to 1.05)")
        assert ring.lines == size // LINE_BYTES


def whole() -> None:
    """A whole quick measure, twice: its time, and how far the medians lie apart."""
    found = []
    for _ in range(2):
        began = time.monotonic()
        found.append(Measurer().measure(MeasurePlan(), lambda _: None, Watched(())))
        print(f"measure, whole: {time.monotonic() - began:.0f} s (bar 60), {len(found[-1].scores)} figures")
    before = {one.figure.name: one for one in found[0].scores}
    apart = [
        abs(np.log(one.middle / before[one.figure.name].middle)) for one in found[1].scores if one.figure.name in before
    ]
    wide = [one.half_width for one in found[1].scores if one.half_width is not None]
    if apart:
        print(f"measure, twice: medians {100 * statistics.median(apart):.1f} % apart (bar 1 % on a quiet machine)")
    if wide:
        print(f"measure, half of an interval: {100 * statistics.median(wide):.1f} % in the middle figure")
    disturbed = sum(one.disturbed for one in found[1].scores)
    print(f"measure: {disturbed} of {len(found[1].scores)} figures were disturbed by other programs")


def report() -> None:
    """All of it."""
    bandwidth()
    latency()
    whole()
