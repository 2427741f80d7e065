"""One pass of a march element over memory, as machine code.

A *group* is 256 bytes. An element reads each group, compares it in registers, and only then stores: a
mismatch is noticed while the bad data is still in memory, so the slow path can look at it again. The element
stops at that group and says which it was; the caller examines it, writes it, and goes on behind it.
"""

import ctypes
from dataclasses import dataclass

from tenaz.loads.kernels.native import NativeModule, Processor

GROUP_BYTES = 256
LINE_BYTES = 64
PREFETCH_AHEAD_BYTES = 4096
"""Measured best between 2 and 4 KiB: far enough to hide DRAM latency, near enough to stay in the first cache."""


@dataclass(frozen=True, slots=True)
class Sweep:
    """Which pass: whether it reads and compares, whether it writes, and its direction."""

    reads: bool
    writes: bool
    ascending: bool

    @property
    def symbol(self) -> str:
        """Name of the function in the module."""
        return f"sweep_{'r' if self.reads else ''}{'w' if self.writes else ''}_{'up' if self.ascending else 'down'}"


ALL_SWEEPS = tuple(
    Sweep(reads, writes, ascending)
    for reads, writes in ((True, True), (True, False), (False, True))
    for ascending in (True, False)
)


def _vector_accesses(sweep: Sweep, lanes: int) -> tuple[list[str], list[str]]:
    """Lines that load and compare one group, and lines that store it, in the direction of the pass."""
    vector, size = f"<{lanes} x i64>", lanes * 8
    offsets = list(range(0, GROUP_BYTES, size))
    if not sweep.ascending:
        offsets.reverse()
    loads, stores = [], []
    for k, offset in enumerate(offsets):
        if sweep.reads:
            loads += [
                f"  %at{k} = getelementptr i8, ptr %p, i64 {offset}",
                f"  %v{k} = load {vector}, ptr %at{k}, align {size}",
                f"  %x{k} = xor {vector} %v{k}, %e",
                f"  %o{k} = or {vector} %x{k}, {f'%o{k - 1}' if k else 'zeroinitializer'}",
            ]
        if sweep.writes:
            stores += [
                f"  %to{k} = getelementptr i8, ptr %p, i64 {offset}",
                f"  store {vector} %w, ptr %to{k}, align {size}",
            ]
    if sweep.reads:
        last = len(offsets) - 1
        loads += [
            f"  %bits = bitcast {vector} %o{last} to i{lanes * 64}",
            f"  %bad = icmp ne i{lanes * 64} %bits, 0",
        ]
    else:
        loads += ["  %bad = icmp ne i64 0, 0"]
    return loads, stores


def sweep_ir(sweep: Sweep, processor: Processor) -> str:
    """IR of ``i64 (ptr base, i64 first, i64 last, i64 expected, i64 written)`` over groups first ≤ g < last.

    Returns the group that mismatched, before anything is stored into it; ``last`` (ascending) or
    ``first − 1`` (descending) when all of them matched.
    """
    lanes = processor.vector_bits // 64
    vector = f"<{lanes} x i64>"
    loads, stores = _vector_accesses(sweep, lanes)
    start, end = ("%first", "%last") if sweep.ascending else ("%top", "%bottom")
    step, ahead = (1, PREFETCH_AHEAD_BYTES) if sweep.ascending else (-1, -PREFETCH_AHEAD_BYTES)
    prefetches = [
        line
        for k, offset in enumerate(range(0, GROUP_BYTES, LINE_BYTES))
        for line in (
            f"  %pf{k} = getelementptr i8, ptr %p, i64 {ahead + offset}",
            f"  call void @llvm.prefetch.p0(ptr %pf{k}, i32 {int(sweep.writes)}, i32 3, i32 1)",
        )
    ]
    return "\n".join(
        [
            f"define i64 @{sweep.symbol}(ptr %base, i64 %first, i64 %last, i64 %expected, i64 %written) {{",
            "entry:",
            f"  %e0 = insertelement {vector} poison, i64 %expected, i64 0",
            f"  %e = shufflevector {vector} %e0, {vector} poison, <{lanes} x i32> zeroinitializer",
            f"  %w0 = insertelement {vector} poison, i64 %written, i64 0",
            f"  %w = shufflevector {vector} %w0, {vector} poison, <{lanes} x i32> zeroinitializer",
            "  %top = sub i64 %last, 1",
            "  %bottom = sub i64 %first, 1",
            "  %none = icmp sge i64 %first, %last",
            "  br i1 %none, label %done, label %body",
            "body:",
            f"  %g = phi i64 [ {start}, %entry ], [ %next, %good ]",
            f"  %byte = mul i64 %g, {GROUP_BYTES}",
            "  %p = getelementptr i8, ptr %base, i64 %byte",
            *prefetches,
            *loads,
            "  br i1 %bad, label %hit, label %good",
            "hit:",
            "  ret i64 %g",
            "good:",
            *stores,
            f"  %next = add i64 %g, {step}",
            f"  %over = icmp eq i64 %next, {end}",
            "  br i1 %over, label %done, label %body",
            "done:",
            f"  ret i64 {end}",
            "}",
        ]
    )


def flush_ir(processor: Processor) -> str:
    """IR of ``void flush_line(ptr)``: the next read of the line must fetch it from memory."""
    if processor.flush_line is None:
        return "define void @flush_line(ptr %p) {\n  fence seq_cst\n  ret void\n}"
    return "\n".join(
        [
            f"declare void @{processor.flush_line}(ptr)",
            "define void @flush_line(ptr %p) {",
            "  fence seq_cst",
            f"  call void @{processor.flush_line}(ptr %p)",
            "  fence seq_cst",
            "  ret void",
            "}",
        ]
    )


class SweepKernels:
    """All passes and the line flush, compiled for this processor."""

    def __init__(self, processor: Processor) -> None:
        parts = ["declare void @llvm.prefetch.p0(ptr, i32, i32, i32)", flush_ir(processor)]
        parts += [sweep_ir(sweep, processor) for sweep in ALL_SWEEPS]
        self._module = NativeModule("\n".join(parts))
        arguments = [ctypes.c_void_p] + [ctypes.c_int64] * 2 + [ctypes.c_uint64] * 2
        self._sweeps = {s: self._module.function(s.symbol, ctypes.c_int64, arguments) for s in ALL_SWEEPS}
        self._flush = self._module.function("flush_line", None, [ctypes.c_void_p])

    def run(
        self, sweep: Sweep, base: int, first_group: int, last_group: int, expected: int, written: int
    ) -> int | None:
        """Run one pass over groups first ≤ g < last; give the group that mismatched, or None.

        ``base`` is the address of group 0, ``expected`` and ``written`` are 64-bit words.
        """
        at: int = self._sweeps[sweep](base, first_group, last_group, expected, written)
        return at if first_group <= at < last_group else None

    def flush(self, address: int) -> None:
        """Drop the cache line that holds ``address``, so that the next read comes from memory."""
        self._flush(address)
