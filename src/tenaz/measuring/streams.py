"""Plain passes over a block, with nothing verified: read, write, copy, and turn (read, then written where it stood).

What they measure is the bandwidth of whatever level the block fits into. Unrolled vectors, with and without a prefetch
ahead: which is faster depends on machine and level, so both are tried first and the faster is measured.
"""

import ctypes
import time
from collections.abc import Callable

from tenaz.loads.kernels.native import NativeModule, Processor

UNROLLED = 8
LINE_BYTES = 64
AHEAD_BYTES = (0, 2048, 4096)
TRIED = 5
WAYS = {"read": (1, 0), "write": (0, 1), "copy": (1, 1), "turn": (1, 1)}
"""Bytes read and written for each byte of the block; a copy's block is source and target together, so half of each."""
WRITTEN = 0x5A17_C0DE_5A17_C0DE

Pass = Callable[[int, int, int, int], object]
"""Address, bytes, how many times, and what is written."""


class Streams:
    """Passes compiled for this processor."""

    def __init__(self, processor: Processor) -> None:
        lanes = processor.vector_bits // 64
        ir = ["declare void @llvm.prefetch.p0(ptr, i32, i32, i32)"]
        ir += [_ir(way, lanes, ahead) for way in WAYS for ahead in AHEAD_BYTES]
        self._module = NativeModule("\n".join(ir))
        self._passes: dict[str, list[Pass]] = {
            way: [
                self._module.function(
                    f"{way}_{ahead}", ctypes.c_int64, [ctypes.c_void_p, *[ctypes.c_int64] * 2, ctypes.c_uint64]
                )
                for ahead in AHEAD_BYTES
            ]
            for way in WAYS
        }
        self._best: dict[tuple[str, int], int] = {}
        self._step = UNROLLED * lanes * 8

    def pass_bytes(self, way: str, size: int) -> int:
        """Bytes that one pass over a block moves."""
        part = self._part(way, size)
        return sum(WAYS[way]) * part

    def run(self, way: str, address: int, size: int, times: int) -> None:
        """So many passes over the block."""
        part = self._part(way, size)
        self._passes[way][self._best_of(way, address, size)](address, part, times, WRITTEN)

    def _part(self, way: str, size: int) -> int:
        # A copy goes from the first half to the second.
        return (size // 2 if way == "copy" else size) // self._step * self._step

    def _best_of(self, way: str, address: int, size: int) -> int:
        key = way, size
        if key not in self._best:
            part = self._part(way, size)
            times = max(1, (4 << 20) // part)
            took = [[] for _ in AHEAD_BYTES]  # type: list[list[float]]
            for _ in range(TRIED):
                for at, run in enumerate(self._passes[way]):
                    began = time.perf_counter()
                    run(address, part, times, WRITTEN)
                    took[at].append(time.perf_counter() - began)
            self._best[key] = min(range(len(took)), key=lambda at: min(took[at]))
        return self._best[key]


def _ir(way: str, lanes: int, ahead: int) -> str:
    """IR of ``i64 (ptr base, i64 bytes, i64 times, i64 written)``; a copy goes to what lies ``bytes`` behind."""
    vector, size = f"<{lanes} x i64>", lanes * 8
    reads, writes = way != "write", way != "read"
    lines = [
        f"define i64 @{way}_{ahead}(ptr %base, i64 %bytes, i64 %times, i64 %written) {{",
        "entry:",
        f"  %w1 = insertelement {vector} poison, i64 %written, i64 0",
        f"  %w = shufflevector {vector} %w1, {vector} poison, <{lanes} x i32> zeroinitializer",
        "  br label %again",
        "again:",
        "  %time = phi i64 [ 0, %entry ], [ %time1, %once ]",
        f"  %kept = phi {vector} [ zeroinitializer, %entry ], [ %sum{UNROLLED}, %once ]",
        "  br label %body",
        "body:",
        "  %i = phi i64 [ 0, %again ], [ %next, %body ]",
        f"  %sum0 = phi {vector} [ %kept, %again ], [ %sum{UNROLLED}, %body ]",
        "  %p = getelementptr i8, ptr %base, i64 %i",
        "  %q = getelementptr i8, ptr %p, i64 %bytes",
    ]
    for offset in range(0, UNROLLED * size, LINE_BYTES) if ahead else ():
        lines.append(f"  %f{offset} = getelementptr i8, ptr %p, i64 {ahead + offset}")
        lines.append(f"  call void @llvm.prefetch.p0(ptr %f{offset}, i32 {int(writes and not reads)}, i32 3, i32 1)")
    for k in range(UNROLLED):
        lines.append(f"  %a{k} = getelementptr i8, ptr %p, i64 {k * size}")
        lines.append(f"  %b{k} = getelementptr i8, ptr %q, i64 {k * size}")
        if reads:
            lines.append(f"  %v{k} = load {vector}, ptr %a{k}, align {size}")
        if way == "turn":
            lines.append(f"  %y{k} = xor {vector} %v{k}, %w")
        if writes:
            value = {"write": "%w", "copy": f"%v{k}", "turn": f"%y{k}"}[way]
            lines.append(f"  store {vector} {value}, ptr {'%b' if way == 'copy' else '%a'}{k}, align {size}")
        more = f"%v{k}" if way == "read" else "zeroinitializer"
        lines.append(f"  %sum{k + 1} = xor {vector} %sum{k}, {more}")
    lines += [
        f"  %next = add i64 %i, {UNROLLED * size}",
        "  %more = icmp ult i64 %next, %bytes",
        "  br i1 %more, label %body, label %once",
        "once:",
        "  %time1 = add i64 %time, 1",
        "  %enough = icmp uge i64 %time1, %times",
        "  br i1 %enough, label %done, label %again",
        "done:",
        f"  %one = extractelement {vector} %sum{UNROLLED}, i64 0",
        "  ret i64 %one",
        "}",
    ]
    return "\n".join(lines)
