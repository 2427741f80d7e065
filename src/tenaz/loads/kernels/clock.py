"""The clock that a core really reaches, measured: a chain of operations that each wait for the one before.

An addition and an exclusive-or of registers take one cycle each on the processors that this runs on, and a chain of
them cannot be overlapped: so many operations in so much time is the clock, whatever any register claims.
"""

import ctypes
import time

from tenaz.loads.kernels.native import NativeModule

PAIRS = 64
"""Pairs of operations in one turn of the loop: so many that the loop's own counting hides behind them."""

TURNS = 1500
"""Turns in one measurement: 192,000 operations, under a tenth of a millisecond."""

TRIES = 3
"""The fastest of some: one that was interrupted reads too slow, none reads too fast."""


def chain_ir() -> str:
    """IR of ``i64 chain(i64 turns, i64 seed)``."""
    lines = [
        "define i64 @chain(i64 %turns, i64 %seed) {",
        "entry:",
        "  br label %body",
        "body:",
        "  %k = phi i64 [ 0, %entry ], [ %k1, %body ]",
        f"  %x0 = phi i64 [ %seed, %entry ], [ %x{2 * PAIRS}, %body ]",
    ]
    for pair in range(PAIRS):
        lines.append(f"  %x{2 * pair + 1} = add i64 %x{2 * pair}, %seed")
        lines.append(f"  %x{2 * pair + 2} = xor i64 %x{2 * pair + 1}, %turns")
    lines += [
        "  %k1 = add i64 %k, 1",
        "  %over = icmp eq i64 %k1, %turns",
        "  br i1 %over, label %done, label %body",
        "done:",
        f"  ret i64 %x{2 * PAIRS}",
        "}",
    ]
    return "\n".join(lines)


class ClockMeter:
    """Measures the clock of the core that it is called on."""

    def __init__(self) -> None:
        self._module = NativeModule(chain_ir())
        self._chain = self._module.function("chain", ctypes.c_int64, [ctypes.c_int64, ctypes.c_int64])

    def measure_mhz(self) -> float:
        """The clock reached now, in MHz."""
        shortest = float("inf")
        for _ in range(TRIES):
            started = time.perf_counter_ns()
            self._chain(TURNS, 0x5DEECE66D)
            shortest = min(shortest, time.perf_counter_ns() - started)
        return 2 * PAIRS * TURNS / shortest * 1000
