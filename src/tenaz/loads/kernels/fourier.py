"""Complex Fourier transforms there and back, as machine code, each result checked without any golden value.

Radix 4, in place, with one independent transform in every vector lane, so that no lane ever talks to another; where
the length is twice a power of four, one stage of radix 2 stands before, so that a block fills its cache better.
The forward transform decimates in frequency and leaves its output in digit-reversed order; the inverse
decimates in time and takes that order, so neither needs a permutation. Inputs are small whole numbers made
from their own index: after the way there and back, ``rint(x / n)`` must equal the input exactly. A second check
is finer: only IEEE 754 operations and explicit fused multiply-add are used, so the raw bits of the result are
the same each time, and their digest must equal the digest of the first lap.
"""

import ctypes
import math
from dataclasses import dataclass

from tenaz.loads.kernels.native import NativeModule, Processor
from tenaz.loads.kernels.twiddles import factors, pure_points

ADDS_PER_BUTTERFLY = 16
MULTIPLIES_PER_BUTTERFLY = 18
"""Real operations of one radix-4 butterfly: 8 complex additions, 3 complex multiplications of 6 each."""

PER_HALVING_BUTTERFLY = 10
"""Of one radix-2 butterfly: 2 complex additions, 1 complex multiplication."""


def is_length(points: int) -> bool:
    """Whether a transform can have so many points: a power of two from 16 on."""
    return points >= 16 and points & (points - 1) == 0


def flop_of_round_trip(points: int, lanes: int) -> int:
    """Floating-point operations really done by one transform there and back in all lanes (not the 5·n·log2 n
    convention, which would flatter radix 4).
    """
    stages = (points.bit_length() - 1) // 2
    per_stage = points // 4 * lanes
    halving = (points - pure_points(points)) * lanes * PER_HALVING_BUTTERFLY
    return 2 * (per_stage * (stages * ADDS_PER_BUTTERFLY + (stages - 1) * MULTIPLIES_PER_BUTTERFLY) + halving)


class _Writer:
    """Collects IR lines and gives each value a fresh name."""

    def __init__(self, lanes: int, fma: bool) -> None:
        self.lines: list[str] = []
        self.vector = f"<{lanes} x double>"
        self.lanes = lanes
        self._fma = fma
        self._count = 0

    def emit(self, expression: str) -> str:
        self._count += 1
        name = f"%t{self._count}"
        self.lines.append(f"  {name} = {expression}")
        return name

    def add(self, a: str, b: str) -> str:
        return self.emit(f"fadd {self.vector} {a}, {b}")

    def sub(self, a: str, b: str) -> str:
        return self.emit(f"fsub {self.vector} {a}, {b}")

    def mul(self, a: str, b: str) -> str:
        return self.emit(f"fmul {self.vector} {a}, {b}")

    def mul_add(self, a: str, b: str, c: str, negate_c: bool = False) -> str:
        """a·b + c, or a·b − c: fused where the processor can, in two roundings where it cannot."""
        if not self._fma:
            product = self.mul(a, b)
            return self.sub(product, c) if negate_c else self.add(product, c)
        addend = self.emit(f"fneg {self.vector} {c}") if negate_c else c
        name = f"@llvm.fma.v{self.lanes}f64"
        return self.emit(f"call {self.vector} {name}({self.vector} {a}, {self.vector} {b}, {self.vector} {addend})")

    def times(self, a: tuple[str, str], w: tuple[str, str], conjugate: bool) -> tuple[str, str]:
        """Complex a·w, or a·conj(w)."""
        (ar, ai), (wr, wi) = a, w
        real = self.mul_add(ar, wr, self.mul(ai, wi), negate_c=not conjugate)
        if conjugate:
            return real, self.mul_add(ai, wr, self.mul(ar, wi), negate_c=True)
        return real, self.mul_add(ai, wr, self.mul(ar, wi))

    def splat(self, pointer: str, slot: int) -> str:
        at = self.emit(f"getelementptr double, ptr {pointer}, i64 {slot}")
        value = self.emit(f"load double, ptr {at}, align 8")
        one = self.emit(f"insertelement {self.vector} poison, double {value}, i64 0")
        return self.emit(
            f"shufflevector {self.vector} {one}, {self.vector} poison, <{self.lanes} x i32> zeroinitializer"
        )


def _butterfly(w: _Writer, points: list[str], twiddles: str | None, inverse: bool) -> None:
    """Load four points, do one butterfly, store them where they came from."""
    half = w.lanes * 8
    value = []
    for pointer in points:
        imaginary = w.emit(f"getelementptr i8, ptr {pointer}, i64 {half}")
        value.append(
            (
                w.emit(f"load {w.vector}, ptr {pointer}, align {half}"),
                w.emit(f"load {w.vector}, ptr {imaginary}, align {half}"),
            )
        )
    factor = [(w.splat(twiddles, 2 * k), w.splat(twiddles, 2 * k + 1)) for k in range(3)] if twiddles else []
    if inverse and factor:
        value = [value[0]] + [w.times(v, f, True) for v, f in zip(value[1:], factor, strict=True)]
    (r0, i0), (r1, i1), (r2, i2), (r3, i3) = value
    sum02, sum13 = (w.add(r0, r2), w.add(i0, i2)), (w.add(r1, r3), w.add(i1, i3))
    difference02, difference13 = (w.sub(r0, r2), w.sub(i0, i2)), (w.sub(r1, r3), w.sub(i1, i3))
    # −i·d forward, +i·d backward: a swap of parts with one sign, folded into the additions below.
    plus = (w.add(difference02[0], difference13[1]), w.sub(difference02[1], difference13[0]))
    minus = (w.sub(difference02[0], difference13[1]), w.add(difference02[1], difference13[0]))
    if inverse:
        plus, minus = minus, plus
    result = [
        (w.add(sum02[0], sum13[0]), w.add(sum02[1], sum13[1])),
        plus,
        (w.sub(sum02[0], sum13[0]), w.sub(sum02[1], sum13[1])),
        minus,
    ]
    if not inverse and factor:
        result = [result[0]] + [w.times(v, f, False) for v, f in zip(result[1:], factor, strict=True)]
    for pointer, (real, imaginary_value) in zip(points, result, strict=True):
        imaginary = w.emit(f"getelementptr i8, ptr {pointer}, i64 {half}")
        w.lines.append(f"  store {w.vector} {real}, ptr {pointer}, align {half}")
        w.lines.append(f"  store {w.vector} {imaginary_value}, ptr {imaginary}, align {half}")


def _stage_ir(name: str, lanes: int, fma: bool, inverse: bool, twiddled: bool) -> str:
    """IR of ``void (ptr data, ptr twiddles, i64 blocks, i64 quarter)``: one stage over all blocks."""
    point_bytes = 2 * lanes * 8
    w = _Writer(lanes, fma)
    offset = ["%at"]
    for k in range(1, 4):
        step = w.emit(f"mul i64 %quarter_bytes, {k}")
        offset.append(w.emit(f"getelementptr i8, ptr %at, i64 {step}"))
    twiddle = None
    if twiddled:
        twiddle_bytes = w.emit("mul i64 %j, 48")
        twiddle = w.emit(f"getelementptr i8, ptr %twiddles, i64 {twiddle_bytes}")
    _butterfly(w, offset, twiddle, inverse)
    return "\n".join(
        [
            f"define void @{name}(ptr %data, ptr %twiddles, i64 %blocks, i64 %quarter) {{",
            "entry:",
            f"  %quarter_bytes = mul i64 %quarter, {point_bytes}",
            "  %block_bytes = mul i64 %quarter_bytes, 4",
            "  br label %block",
            "block:",
            "  %b = phi i64 [ 0, %entry ], [ %b1, %block_end ]",
            "  %b_bytes = mul i64 %b, %block_bytes",
            "  %start = getelementptr i8, ptr %data, i64 %b_bytes",
            "  br label %point",
            "point:",
            "  %j = phi i64 [ 0, %block ], [ %j1, %point ]",
            f"  %j_bytes = mul i64 %j, {point_bytes}",
            "  %at = getelementptr i8, ptr %start, i64 %j_bytes",
            *w.lines,
            "  %j1 = add i64 %j, 1",
            "  %points_over = icmp eq i64 %j1, %quarter",
            "  br i1 %points_over, label %block_end, label %point",
            "block_end:",
            "  %b1 = add i64 %b, 1",
            "  %over = icmp eq i64 %b1, %blocks",
            "  br i1 %over, label %done, label %block",
            "done:",
            "  ret void",
            "}",
        ]
    )


def _halving_ir(name: str, lanes: int, fma: bool, inverse: bool) -> str:
    """IR of ``void (ptr data, ptr factors, i64 half)``: one stage of radix 2 over the whole block."""
    point_bytes, size = 2 * lanes * 8, lanes * 8
    w = _Writer(lanes, fma)
    step = w.emit(f"mul i64 %half, {point_bytes}")
    pointers = ["%at", w.emit(f"getelementptr i8, ptr %at, i64 {step}")]
    factor_bytes = w.emit("mul i64 %j, 16")
    at = w.emit(f"getelementptr i8, ptr %factors, i64 {factor_bytes}")
    factor = (w.splat(at, 0), w.splat(at, 1))
    parts = [w.emit(f"getelementptr i8, ptr {pointer}, i64 {size}") for pointer in pointers]
    a, b = (
        (w.emit(f"load {w.vector}, ptr {real}, align {size}"), w.emit(f"load {w.vector}, ptr {other}, align {size}"))
        for real, other in zip(pointers, parts, strict=True)
    )
    if inverse:
        b = w.times(b, factor, True)
    total, difference = (w.add(a[0], b[0]), w.add(a[1], b[1])), (w.sub(a[0], b[0]), w.sub(a[1], b[1]))
    if not inverse:
        difference = w.times(difference, factor, False)
    for pointer, part, (real, other) in zip(pointers, parts, (total, difference), strict=True):
        w.lines.append(f"  store {w.vector} {real}, ptr {pointer}, align {size}")
        w.lines.append(f"  store {w.vector} {other}, ptr {part}, align {size}")
    return "\n".join(
        [
            f"define void @{name}(ptr %data, ptr %factors, i64 %half) {{",
            "entry:",
            "  br label %point",
            "point:",
            "  %j = phi i64 [ 0, %entry ], [ %j1, %point ]",
            f"  %j_bytes = mul i64 %j, {point_bytes}",
            "  %at = getelementptr i8, ptr %data, i64 %j_bytes",
            *w.lines,
            "  %j1 = add i64 %j, 1",
            "  %over = icmp eq i64 %j1, %half",
            "  br i1 %over, label %done, label %point",
            "done:",
            "  ret void",
            "}",
        ]
    )


def _input_lines(w: _Writer) -> str:
    """Whole numbers from −2048 to 2047 out of slot index and seed, as doubles."""
    ints = f"<{w.lanes} x i32>"
    low = w.emit("trunc i64 %slot to i32")
    one = w.emit(f"insertelement {ints} poison, i32 {low}, i64 0")
    base = w.emit(f"shufflevector {ints} {one}, {ints} poison, {ints} zeroinitializer")
    step = "<" + ", ".join(f"i32 {k}" for k in range(w.lanes)) + ">"
    index = w.emit(f"add {ints} {base}, {step}")
    seed_one = w.emit(f"insertelement {ints} poison, i32 %seed, i64 0")
    seed = w.emit(f"shufflevector {ints} {seed_one}, {ints} poison, {ints} zeroinitializer")
    mixed = w.emit(f"xor {ints} {index}, {seed}")
    # Knuth's multiplicative hash constant; the top twelve bits of the product are well mixed.
    factor = "<" + ", ".join(["i32 -1640531535"] * w.lanes) + ">"
    shift = "<" + ", ".join(["i32 20"] * w.lanes) + ">"
    product = w.emit(f"mul {ints} {mixed}, {factor}")
    whole = w.emit(f"ashr {ints} {product}, {shift}")
    return w.emit(f"sitofp {ints} {whole} to {w.vector}")


def _fill_ir(lanes: int) -> str:
    """IR of ``void fill(ptr data, i64 slots, i32 seed)``."""
    w = _Writer(lanes, fma=False)
    value = _input_lines(w)
    return "\n".join(
        [
            "define void @fill(ptr %data, i64 %slots, i32 %seed) {",
            "entry:",
            "  br label %body",
            "body:",
            "  %slot = phi i64 [ 0, %entry ], [ %next, %body ]",
            "  %at = getelementptr double, ptr %data, i64 %slot",
            *w.lines,
            f"  store {w.vector} {value}, ptr %at, align {lanes * 8}",
            f"  %next = add i64 %slot, {lanes}",
            "  %over = icmp uge i64 %next, %slots",
            "  br i1 %over, label %done, label %body",
            "done:",
            "  ret void",
            "}",
        ]
    )


def _check_ir(lanes: int) -> str:
    """IR of ``i64 check(ptr data, i64 from, i64 slots, i32 seed, double scale, ptr digest)``.

    Looks at slots from ≤ k < slots: folds the raw bits into the digest (one 64-bit lane each), compares
    ``rint(x·scale)`` with the input, puts the exact input back, and stops at the first wrong vector, giving its
    slot *before* it is put back; ``slots`` when all were right.
    """
    w = _Writer(lanes, fma=False)
    longs = f"<{lanes} x i64>"
    expected = _input_lines(w)
    raw = w.emit(f"load {w.vector}, ptr %at, align {lanes * 8}")
    bits = w.emit(f"bitcast {w.vector} {raw} to {longs}")
    one = "<" + ", ".join(["i64 1"] * lanes) + ">"
    turned = w.emit(f"call {longs} @llvm.fshl.v{lanes}i64({longs} %digest0, {longs} %digest0, {longs} {one})")
    w.lines.append(f"  %digest1 = xor {longs} {turned}, {bits}")
    scaled = w.emit(f"fmul {w.vector} {raw}, %scales")
    rounded = w.emit(f"call {w.vector} @llvm.rint.v{lanes}f64({w.vector} {scaled})")
    differs = w.emit(f"fcmp une {w.vector} {rounded}, {expected}")
    w.lines.append(f"  %mask = bitcast <{lanes} x i1> {differs} to i{lanes}")
    w.lines.append(f"  %bad = icmp ne i{lanes} %mask, 0")
    return "\n".join(
        [
            "define i64 @check(ptr %data, i64 %from, i64 %slots, i32 %seed, double %scale, ptr %digest) {",
            "entry:",
            f"  %scale1 = insertelement {w.vector} poison, double %scale, i64 0",
            f"  %scales = shufflevector {w.vector} %scale1, {w.vector} poison, <{lanes} x i32> zeroinitializer",
            f"  %start = load {longs}, ptr %digest, align 8",
            "  br label %body",
            "body:",
            "  %slot = phi i64 [ %from, %entry ], [ %next, %good ]",
            f"  %digest0 = phi {longs} [ %start, %entry ], [ %digest1, %good ]",
            "  %at = getelementptr double, ptr %data, i64 %slot",
            *w.lines,
            "  br i1 %bad, label %hit, label %good",
            "hit:",
            f"  store {longs} %digest1, ptr %digest, align 8",
            "  ret i64 %slot",
            "good:",
            f"  store {w.vector} {expected}, ptr %at, align {lanes * 8}",
            f"  %next = add i64 %slot, {lanes}",
            "  %over = icmp uge i64 %next, %slots",
            "  br i1 %over, label %done, label %body",
            "done:",
            f"  store {longs} %digest1, ptr %digest, align 8",
            "  ret i64 %slots",
            "}",
        ]
    )


THERE_IR = """
define ptr @there(ptr %data, ptr %table, i64 %points, i64 %pure) {
entry:
  %widest = udiv i64 %points, 4
  %first = udiv i64 %pure, 4
  %factors = sub i64 %points, %pure
  %factor_bytes = mul i64 %factors, 16
  %twiddles = getelementptr i8, ptr %table, i64 %factor_bytes
  %is_pure = icmp eq i64 %factors, 0
  br i1 %is_pure, label %stage, label %halve
halve:
  call void @halve(ptr %data, ptr %table, i64 %pure)
  br label %stage
stage:
  %q = phi i64 [ %first, %entry ], [ %first, %halve ], [ %q_next, %stage ]
  %tw = phi ptr [ %twiddles, %entry ], [ %twiddles, %halve ], [ %tw_next, %stage ]
  %blocks = udiv i64 %widest, %q
  call void @forward(ptr %data, ptr %tw, i64 %blocks, i64 %q)
  %tw_bytes = mul i64 %q, 48
  %tw_next = getelementptr i8, ptr %tw, i64 %tw_bytes
  %q_next = udiv i64 %q, 4
  %narrow = icmp eq i64 %q_next, 1
  br i1 %narrow, label %last, label %stage
last:
  call void @forward_last(ptr %data, ptr null, i64 %widest, i64 1)
  ret ptr %tw_next
}"""
"""The whole forward transform; gives the end of the twiddles."""


NEAREST_CACHE_PART = 1.0
"""Part of the nearest cache that a part of a block may fill; measured best among quarter, whole and four times: a stage
more in the near cache is worth more than what its twiddles drive out.
"""


def near_points(points: int, lanes: int, nearest_cache_bytes: int = 32 * 1024) -> int:
    """Points of a part of a block that is taken there and back at once in the nearest cache; a power of four."""
    pure = pure_points(points)
    part = 16
    while part < pure and 4 * part * 16 * lanes <= NEAREST_CACHE_PART * nearest_cache_bytes:
        part *= 4
    return part


def _both_ways_ir(lanes: int) -> str:
    """IR of ``void both_ways(data, table, points, pure, part)``: there and back, the narrow stages of both ways part by
    part, so that a block larger than the nearest cache passes through it half as often. The same operations in the same
    order for each point as all stages one after the other. ``pure`` is the length of what is left for radix 4; the
    table begins with the factors of the stage of radix 2, where there is one.
    """
    return _there_ir(lanes) + _BACK_IR


def _there_ir(lanes: int) -> str:
    """The way there: wide stages over the whole, then the narrow ones of each part, up to where it turns."""
    return f"""
define void @both_ways(ptr %data, ptr %table, i64 %points, i64 %pure, i64 %part) {{
entry:
  %widest = udiv i64 %points, 4
  %first = udiv i64 %pure, 4
  %factors = sub i64 %points, %pure
  %factor_bytes = mul i64 %factors, 16
  %twiddles = getelementptr i8, ptr %table, i64 %factor_bytes
  %is_pure = icmp eq i64 %factors, 0
  %quarter = udiv i64 %part, 4
  %part_bytes = mul i64 %part, {2 * lanes * 8}
  %parts = udiv i64 %points, %part
  br i1 %is_pure, label %wide, label %halve
halve:
  call void @halve(ptr %data, ptr %table, i64 %pure)
  br label %wide
wide:
  %q = phi i64 [ %first, %entry ], [ %first, %halve ], [ %q_next, %wide_stage ]
  %tw = phi ptr [ %twiddles, %entry ], [ %twiddles, %halve ], [ %tw_next, %wide_stage ]
  %fits = icmp ule i64 %q, %quarter
  br i1 %fits, label %one_part, label %wide_stage
wide_stage:
  %blocks = udiv i64 %widest, %q
  call void @forward(ptr %data, ptr %tw, i64 %blocks, i64 %q)
  %tw_bytes = mul i64 %q, 48
  %tw_next = getelementptr i8, ptr %tw, i64 %tw_bytes
  %q_next = udiv i64 %q, 4
  br label %wide
one_part:
  %s = phi i64 [ 0, %wide ], [ %s1, %part_done ]
  %offset = mul i64 %s, %part_bytes
  %d = getelementptr i8, ptr %data, i64 %offset
  br label %near
near:
  %n = phi i64 [ %quarter, %one_part ], [ %n_next, %near ]
  %nt = phi ptr [ %tw, %one_part ], [ %nt_next, %near ]
  %near_blocks = udiv i64 %quarter, %n
  call void @forward(ptr %d, ptr %nt, i64 %near_blocks, i64 %n)
  %nt_bytes = mul i64 %n, 48
  %nt_next = getelementptr i8, ptr %nt, i64 %nt_bytes
  %n_next = udiv i64 %n, 4
  %narrow = icmp eq i64 %n_next, 1
  br i1 %narrow, label %turn, label %near
"""


_BACK_IR = """turn:
  call void @forward_last(ptr %d, ptr null, i64 %quarter, i64 1)
  call void @inverse_first(ptr %d, ptr null, i64 %quarter, i64 1)
  br label %back
back:
  %p = phi i64 [ 4, %turn ], [ %p_next, %back ]
  %te = phi ptr [ %nt_next, %turn ], [ %tb, %back ]
  %tb_bytes = mul i64 %p, -48
  %tb = getelementptr i8, ptr %te, i64 %tb_bytes
  %back_blocks = udiv i64 %quarter, %p
  call void @inverse(ptr %d, ptr %tb, i64 %back_blocks, i64 %p)
  %p_next = mul i64 %p, 4
  %part_over = icmp uge i64 %p_next, %part
  br i1 %part_over, label %part_done, label %back
part_done:
  %s1 = add i64 %s, 1
  %parts_over = icmp eq i64 %s1, %parts
  br i1 %parts_over, label %wide_back, label %one_part
wide_back:
  %w = phi i64 [ %part, %part_done ], [ %w_next, %wide_back_stage ]
  %we = phi ptr [ %tw, %part_done ], [ %wb, %wide_back_stage ]
  %whole = icmp uge i64 %w, %pure
  br i1 %whole, label %joined, label %wide_back_stage
wide_back_stage:
  %wb_bytes = mul i64 %w, -48
  %wb = getelementptr i8, ptr %we, i64 %wb_bytes
  %wide_blocks = udiv i64 %widest, %w
  call void @inverse(ptr %data, ptr %wb, i64 %wide_blocks, i64 %w)
  %w_next = mul i64 %w, 4
  br label %wide_back
joined:
  br i1 %is_pure, label %done, label %join
join:
  call void @join(ptr %data, ptr %table, i64 %pure)
  br label %done
done:
  ret void
}"""
"""The way back: the narrow stages of the part in hand, and, when all parts are through, the wide ones."""


def _trips_ir(lanes: int) -> str:
    """IR of ``i64 trips(data, table, points, pure, part, rounds, slots, seed, scale, digest, reference, where)``.

    Whole rounds (there, back, check) without leaving machine code. Returns the number of good rounds. After a bad
    one ``where`` holds the slot at which the check stopped, or ``slots`` when only the digest differed.
    """
    longs, bits = f"<{lanes} x i64>", lanes * 64
    return f"""
define i64 @trips(ptr %data, ptr %table, i64 %points, i64 %pure, i64 %part, i64 %rounds, i64 %slots, i32 %seed,
                  double %scale, ptr %digest, ptr %reference, ptr %where) {{
entry:
  %wanted = load {longs}, ptr %reference, align 8
  br label %round
round:
  %r = phi i64 [ 0, %entry ], [ %r1, %good ]
  call void @both_ways(ptr %data, ptr %table, i64 %points, i64 %pure, i64 %part)
  br label %checked
checked:
  store {longs} zeroinitializer, ptr %digest, align 8
  %stop = call i64 @check(ptr %data, i64 0, i64 %slots, i32 %seed, double %scale, ptr %digest)
  store i64 %stop, ptr %where, align 8
  %whole = icmp eq i64 %stop, %slots
  %got = load {longs}, ptr %digest, align 8
  %change = xor {longs} %got, %wanted
  %change_bits = bitcast {longs} %change to i{bits}
  %same = icmp eq i{bits} %change_bits, 0
  %fine = and i1 %whole, %same
  br i1 %fine, label %good, label %over
good:
  %r1 = add i64 %r, 1
  %finished = icmp eq i64 %r1, %rounds
  br i1 %finished, label %over, label %round
over:
  %count = phi i64 [ %r, %checked ], [ %r1, %good ]
  ret i64 %count
}}"""


@dataclass(frozen=True, slots=True)
class WrongPoint:
    """One result that is not its input: the slot (a double) in the block, what it should be and what came out."""

    slot: int
    expected: float
    read: float


Digest = ctypes.Array[ctypes.c_uint64]


@dataclass(frozen=True, slots=True)
class Rounds:
    """What came of a call: good rounds, the digest of the last one, and the wrong points of a bad one.

    Fewer good rounds than asked for and no wrong point: the result rounds to its input, but its bits are not those
    of the first round.
    """

    good: int
    digest: "Digest"
    wrong: list[WrongPoint]


class FourierKernels:
    """Transforms of ``points`` (a power of two) complex numbers, one in each of ``lanes`` vector lanes."""

    def __init__(self, processor: Processor, points: int) -> None:
        if not is_length(points):
            raise ValueError(f"points must be a power of two from 16 on, not {points}")
        self.points = points
        self._pure = pure_points(points)
        self.lanes = processor.arithmetic_bits // 64
        self.slots = points * 2 * self.lanes
        self.block_bytes = self.slots * 8
        self._part = near_points(points, self.lanes)
        lanes, fma = self.lanes, processor.has_fma
        vector, longs = f"<{lanes} x double>", f"<{lanes} x i64>"
        self._module = NativeModule(
            "\n".join(
                [
                    f"declare {vector} @llvm.fma.v{lanes}f64({vector}, {vector}, {vector})",
                    f"declare {vector} @llvm.rint.v{lanes}f64({vector})",
                    f"declare {longs} @llvm.fshl.v{lanes}i64({longs}, {longs}, {longs})",
                    _stage_ir("forward", lanes, fma, inverse=False, twiddled=True),
                    _stage_ir("forward_last", lanes, fma, inverse=False, twiddled=False),
                    _stage_ir("inverse", lanes, fma, inverse=True, twiddled=True),
                    _stage_ir("inverse_first", lanes, fma, inverse=True, twiddled=False),
                    _halving_ir("halve", lanes, fma, inverse=False),
                    _halving_ir("join", lanes, fma, inverse=True),
                    _fill_ir(lanes),
                    _check_ir(lanes),
                    THERE_IR,
                    _both_ways_ir(lanes),
                    _trips_ir(lanes),
                ]
            )
        )
        self._fill = self._module.function("fill", None, [ctypes.c_void_p, ctypes.c_int64, ctypes.c_int32])
        self._check = self._module.function(
            "check",
            ctypes.c_int64,
            [
                ctypes.c_void_p,
                ctypes.c_int64,
                ctypes.c_int64,
                ctypes.c_int32,
                ctypes.c_double,
                ctypes.c_void_p,
            ],
        )
        self._there = self._module.function("there", ctypes.c_int64, [*[ctypes.c_void_p] * 2, *[ctypes.c_int64] * 2])
        self._trips = self._module.function(
            "trips",
            ctypes.c_int64,
            [*[ctypes.c_void_p] * 2, *[ctypes.c_int64] * 5, ctypes.c_int32, ctypes.c_double, *[ctypes.c_void_p] * 3],
        )
        self.table = factors(points)
        """What the stages multiply by, as they use it; wrong from the start, it would be wrong there and back alike."""

    def fill(self, data: int, seed: int) -> None:
        """Write the whole-number input of ``seed`` into the block at address ``data``."""
        self._fill(data, self.slots, seed)

    def forward(self, data: int) -> None:
        """Transform the block at address ``data`` one way; the result stands in digit-reversed order."""
        self._there(data, self.table.buffer_info()[0], self.points, self._pure)

    def first_digest(self, data: int, seed: int) -> tuple["Digest", list[WrongPoint]]:
        """One round from a freshly filled block: the digest that all later rounds must repeat, and what was wrong."""
        self.fill(data, seed)
        nothing = (ctypes.c_uint64 * self.lanes)()
        outcome = self.rounds(data, seed, 1, nothing)
        return outcome.digest, outcome.wrong

    def rounds(self, data: int, seed: int, count: int, reference: "Digest") -> "Rounds":
        """Run up to ``count`` checked rounds over the block at ``data``, which must hold the input of ``seed``.

        Stops after the first round that is wrong. The block holds the exact input again afterwards.
        """
        digest = (ctypes.c_uint64 * self.lanes)()
        where = ctypes.c_int64()
        good = self._trips(
            data,
            self.table.buffer_info()[0],
            self.points,
            self._pure,
            self._part,
            count,
            self.slots,
            seed,
            1.0 / self.points,
            ctypes.addressof(digest),
            ctypes.addressof(reference),
            ctypes.addressof(where),
        )
        wrong: list[WrongPoint] = []
        slot = where.value
        while slot < self.slots:
            wrong += self._put_back(data, slot, seed)
            slot += self.lanes
            if slot < self.slots:
                slot = self._check(data, slot, self.slots, seed, 1.0 / self.points, ctypes.addressof(digest))
        return Rounds(good, digest, wrong)

    def _put_back(self, data: int, slot: int, seed: int) -> list[WrongPoint]:
        """Name what is wrong in the vector at ``slot`` and restore its input."""
        held = (ctypes.c_double * self.lanes).from_address(data + slot * 8)
        wrong = []
        for lane in range(self.lanes):
            expected = float(_input_value(slot + lane, seed))
            read = held[lane] / self.points
            if round_half_even(read) != expected:
                wrong.append(WrongPoint(slot + lane, expected, read))
            held[lane] = expected
        return wrong


def round_half_even(value: float) -> float:
    """Like IEEE 754 roundToIntegralTiesToEven, also for infinities and NaN, which stay what they are."""
    return float(round(value)) if math.isfinite(value) else value


def _input_value(slot: int, seed: int) -> int:
    """Twin in Python of the hash in the kernels, for naming what was expected."""
    base = slot & 0xFFFFFFFF
    product = ((base ^ (seed & 0xFFFFFFFF)) * (-1640531535 & 0xFFFFFFFF)) & 0xFFFFFFFF
    top = product >> 20
    return top - 4096 if top >= 2048 else top
