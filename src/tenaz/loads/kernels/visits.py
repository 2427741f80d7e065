"""Kernels that visit lines in another order than one after the other: permuted, copied, and read around a victim."""

import ctypes

from tenaz.loads.kernels.native import NativeModule, Processor
from tenaz.loads.kernels.sweep import (
    LINE_BYTES,
    PREFETCH_AHEAD_BYTES,
    TO_BYTE,
    TURNS,
    GroupBody,
    Shape,
    Sweep,
    functions_ir,
    shape_for,
    splats,
)
from tenaz.loads.march import Operation
from tenaz.loads.patterns import ALL_ONES, Pattern

MULTIPLIER = 0x5851_F42D_4C95_7F2D
INCREMENT = 0x1405_7B7E_F767_814F
"""Knuth's MMIX generator: multiplier ≡ 1 mod 4 and an odd increment give the full period for every power of two (Hull,
Dobell 1962), so each line is visited exactly once.
"""

AHEAD = 16
"""Visits between a line's prefetch and its use: enough in flight to cover the latency of the memory."""

VERIFY_WRITE = (Operation(True, 0), Operation(False, 1))


def ahead_of(state: int, steps: int) -> int:
    """The generator's state so many steps further."""
    for _ in range(steps):
        state = (state * MULTIPLIER + INCREMENT) & ALL_ONES
    return state


def permute_ir(processor: Processor, pattern: Pattern) -> str:
    """IR of ``i64 permute(base, lines, mask, count, states, w0, w1)``: so many steps of the generator.

    ``states`` points to the state of the step to come and, second, to one that runs ahead for prefetches. A step whose
    low bits name no line is passed over. Gives the line that did not hold ``w0``, before it is written and with the
    states behind its step; −1 when all were right.
    """
    shape = shape_for(processor, LINE_BYTES)
    body = GroupBody(Sweep(VERIFY_WRITE, True, pattern), shape)
    body.operations(leave=("  br label %leave",))
    return "\n".join(
        [
            "define i64 @permute(ptr %base, i64 %lines, i64 %mask, i64 %count, ptr %states, i64 %w0, i64 %w1) {",
            "entry:",
            *splats("p0", "%w0", shape.lanes),
            *splats("p1", "%w1", shape.lanes),
            "  %ahead_at = getelementptr i64, ptr %states, i64 1",
            "  %s0 = load i64, ptr %states, align 8",
            "  %a0 = load i64, ptr %ahead_at, align 8",
            "  br label %body",
            "body:",
            "  %left = phi i64 [ %count, %entry ], [ %left1, %step ]",
            "  %s = phi i64 [ %s0, %entry ], [ %s1, %step ]",
            "  %a = phi i64 [ %a0, %entry ], [ %a1, %step ]",
            f"  %sm = mul i64 %s, {MULTIPLIER}",
            f"  %s1 = add i64 %sm, {INCREMENT}",
            f"  %am = mul i64 %a, {MULTIPLIER}",
            f"  %a1 = add i64 %am, {INCREMENT}",
            "  %left1 = sub i64 %left, 1",
            "  %soon = and i64 %a, %mask",
            f"  %soon_byte = mul i64 %soon, {LINE_BYTES}",
            "  %soon_at = getelementptr i8, ptr %base, i64 %soon_byte",
            "  call void @llvm.prefetch.p0(ptr %soon_at, i32 1, i32 3, i32 1)",
            "  %g = and i64 %s, %mask",
            "  %inside = icmp ult i64 %g, %lines",
            "  br i1 %inside, label %visit, label %step",
            "visit:",
            f"  %byte = mul i64 %g, {LINE_BYTES}",
            "  %p = getelementptr i8, ptr %base, i64 %byte",
            *splats("at", "%byte", shape.lanes),
            *body.lines,
            "  br label %step",
            "step:",
            "  %over = icmp eq i64 %left1, 0",
            "  br i1 %over, label %done, label %body",
            "leave:",
            "  store i64 %s1, ptr %states, align 8",
            "  store i64 %a1, ptr %ahead_at, align 8",
            "  %seen = sub i64 %count, %left1",
            "  %seen_at = getelementptr i64, ptr %states, i64 2",
            "  store i64 %seen, ptr %seen_at, align 8",
            "  ret i64 %g",
            "done:",
            "  store i64 %s1, ptr %states, align 8",
            "  store i64 %a1, ptr %ahead_at, align 8",
            "  ret i64 -1",
            "}",
        ]
    )


def copy_ir(processor: Processor, pattern: Pattern, shape: Shape | None = None) -> str:
    """IR of ``i64 copy(from, to, first, last, w0, w1, turn)`` over groups: what is read is compared with the pattern of
    its place at parameter ``w0``, what stands where it goes with that at ``w1``; then it is written there, turned over
    by ``turn``.

    Gives the group that mismatched, before it is written, as −1 − g when it did so where it goes; ``last`` when all
    were right.
    """
    shape = shape or shape_for(processor)
    body = GroupBody(Sweep((Operation(True, 0),), True, pattern), shape)
    body.at_byte = "%from_byte"
    body.operations(leave=("  ret i64 %g",), onward="to_p")
    if shape.diverted is None:
        functions, reached = list[str](), _ahead_of_both(shape.group_bytes)
    else:
        functions = functions_ir(shape.diverted)
        reached = ["  %from_byte = add i64 %byte, %from_offset", f"  {TO_BYTE} = add i64 %byte, %to_offset"]
    return "\n".join(
        [
            "define i64 @copy(ptr %base, ptr %to, i64 %first, i64 %last, i64 %w0, i64 %w1, i64 %turn) {",
            "entry:",
            *functions,
            "  %from_offset = ptrtoint ptr %base to i64",
            "  %to_offset = ptrtoint ptr %to to i64",
            *splats("p0", "%w0", shape.lanes),
            *splats("p1", "%w1", shape.lanes),
            *splats("turns", "%turn", shape.lanes),
            "  br label %body",
            "body:",
            "  %g = phi i64 [ %first, %entry ], [ %next, %good_there ]",
            f"  %byte = mul i64 %g, {shape.group_bytes}",
            "  %p = getelementptr i8, ptr %base, i64 %byte",
            "  %to_p = getelementptr i8, ptr %to, i64 %byte",
            *splats("at", "%byte", shape.lanes),
            *reached,
            *body.lines,
            "  %next = add i64 %g, 1",
            "  %over = icmp eq i64 %next, %last",
            "  br i1 %over, label %done, label %body",
            "done:",
            "  ret i64 %last",
            "}",
        ]
    )


def _ahead_of_both(group_bytes: int) -> list[str]:
    """IR lines that ask early for what a copy reads, and for where it goes."""
    lines = []
    for k, offset in enumerate(range(0, group_bytes, LINE_BYTES)):
        for name, pointer, writes in (("pf", "p", 0), ("pt", "to_p", 1)):
            lines += [
                f"  %{name}{k} = getelementptr i8, ptr %{pointer}, i64 {PREFETCH_AHEAD_BYTES + offset}",
                f"  call void @llvm.prefetch.p0(ptr %{name}{k}, i32 {writes}, i32 3, i32 1)",
            ]
    return lines


def hammer_ir(processor: Processor) -> str:
    """IR of ``void hammer(one, other, count)``: both lines read from memory, dropped, and read again, so many times."""
    flush = processor.flush_many
    drops = [f"  call void @{flush}(ptr %one)", f"  call void @{flush}(ptr %other)"] if flush else []
    return "\n".join(
        [
            "define void @hammer(ptr %one, ptr %other, i64 %count) {",
            "entry:",
            "  br label %body",
            "body:",
            "  %k = phi i64 [ 0, %entry ], [ %k1, %body ]",
            "  %a = load volatile i64, ptr %one, align 8",
            "  %b = load volatile i64, ptr %other, align 8",
            *drops,
            "  %k1 = add i64 %k, 1",
            "  %over = icmp eq i64 %k1, %count",
            "  br i1 %over, label %done, label %body",
            "done:",
            "  ret void",
            "}",
        ]
    )


class Permutation:
    """Visits each line of a block once, in an order that jumps; verifies and writes each."""

    def __init__(self, processor: Processor, pattern: Pattern, lines: int, seed: int) -> None:
        prefetch = "\n".join(["declare void @llvm.prefetch.p0(ptr, i32, i32, i32)", *TURNS])
        self._module = NativeModule("\n".join([prefetch, permute_ir(processor, pattern)]))
        numbers = [ctypes.c_int64] * 3
        words = [ctypes.c_uint64] * 2
        self._run = self._module.function(
            "permute", ctypes.c_int64, [ctypes.c_void_p, *numbers, ctypes.c_void_p, *words]
        )
        self._lines = lines
        self.steps = 1 << (lines - 1).bit_length()
        self._states = (ctypes.c_uint64 * 3)(seed, ahead_of(seed, AHEAD), 0)

    def run(self, base: int, steps: int, word: int, written: int) -> tuple[int, int] | None:
        """So many steps; the line that was wrong and the steps made with its own, or None when all were right."""
        at: int = self._run(base, self._lines, self.steps - 1, steps, ctypes.addressof(self._states), word, written)
        return None if at < 0 else (at, int(self._states[2]))

    def finds(self, base: int, line: int, word: int, written: int) -> bool:
        """Whether a line that holds something else than ``word`` is found, visited out of its turn: a state whose low
        bits are its number names it.
        """
        states = (ctypes.c_uint64 * 3)(line, line, 0)
        at: int = self._run(base, self._lines, self.steps - 1, 1, ctypes.addressof(states), word, written)
        return at == line


class Copier:
    """Moves groups from one region to another, verified as they are read."""

    def __init__(self, processor: Processor, pattern: Pattern, shape: Shape | None = None) -> None:
        prefetch = "\n".join(["declare void @llvm.prefetch.p0(ptr, i32, i32, i32)", *TURNS])
        self._module = NativeModule("\n".join([prefetch, copy_ir(processor, pattern, shape)]))
        self._run = self._module.function(
            "copy", ctypes.c_int64, [ctypes.c_void_p] * 2 + [ctypes.c_int64] * 2 + [ctypes.c_uint64] * 3
        )

    def run(
        self, base: int, to: int, groups: tuple[int, int], words: tuple[int, int], turn: int
    ) -> tuple[int, bool] | None:
        """Groups from one up to another; the one that was wrong, and whether where it goes; or None."""
        first, last = groups
        at: int = self._run(base, to, first, last, *words, turn)
        if at < 0:
            return -1 - at, True
        return (at, False) if at < last else None


class Hammer:
    """Reads two lines from memory again and again."""

    def __init__(self, processor: Processor) -> None:
        declares = [f"declare void @{processor.flush_many}(ptr)"] if processor.flush_many else []
        self._module = NativeModule("\n".join([*declares, hammer_ir(processor)]))
        self._run = self._module.function("hammer", None, [ctypes.c_void_p, ctypes.c_void_p, ctypes.c_int64])

    def run(self, one: int, other: int, count: int) -> None:
        """Read the lines at both addresses so many times."""
        self._run(one, other, count)
