"""One pass over memory, as machine code: for each group, a march element's operations.

A *group* is 256 bytes. A read compares the group in registers, and only then is anything stored: a mismatch is noticed
while the bad data is still in memory, so the slow path can look at it again. The pass stops at that group and says
which it was and at which operation; the caller examines it, finishes it, and goes on behind it.
"""

import ctypes
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from tenaz.loads.kernels.native import NativeModule, Processor
from tenaz.loads.march import HELD_BEFORE, Operation
from tenaz.loads.patterns import (
    ALL_ONES,
    HASH_BLOCK_BYTES,
    HASH_FACTORS,
    HASH_SHIFTS,
    HASH_STEP,
    HASH_TURN,
    WORDS,
    Pattern,
    PatternKind,
    hash_constant,
)

GROUP_BYTES = 256
LINE_BYTES = 64
PREFETCH_AHEAD_BYTES = 4096
"""Measured best between 2 and 4 KiB: far enough to hide DRAM latency, near enough to stay in the first cache."""
MOST_TOGETHER = 2
"""Operations of a pass whose groups are compared together: more would ask cells in another order."""
FLUSHED_AHEAD_BYTES = 2048
"""Nearer where lines are flushed: what is read ahead is read before the writes of what lies before it."""


@dataclass(frozen=True, slots=True)
class Sweep:
    """Which pass. ``flushed``: each line is written back and dropped from the caches once its operations are done.
    ``before`` is the pattern of what stood there before, where that was another.
    """

    operations: tuple[Operation, ...]
    ascending: bool
    pattern: Pattern = WORDS
    flushed: bool = False
    before: Pattern | None = None

    @property
    def symbol(self) -> str:
        """Name of the function in the module."""
        what = "".join(operation.show() for operation in self.operations)
        way = "up" if self.ascending else "down"
        before = f"_after_{self.before.name}" if self.before else ""
        return f"sweep_{what}_{way}_{self.pattern.name}{before}{'_flushed' if self.flushed else ''}"

    def pattern_of(self, value: int) -> Pattern:
        """The pattern that an operation's value belongs to."""
        return self.before if value == HELD_BEFORE and self.before is not None else self.pattern


@dataclass(frozen=True, slots=True)
class Shape:
    """How wide a pass works: words in a vector, bytes in a group. ``ahead_bytes`` is how far before its use a line is
    asked for (0: not at all; None: as usual), ``together`` how many groups are compared before it is asked whether any
    of them differs. Where ``diverted`` is given, memory is reached through functions at these addresses instead: read
    (offset → word), write (offset, word), flush (offset).
    """

    lanes: int
    group_bytes: int = GROUP_BYTES
    diverted: tuple[int, int, int] | None = None
    ahead_bytes: int | None = None
    together: int = 1


def shape_for(processor: Processor, group_bytes: int = GROUP_BYTES) -> Shape:
    """The width at which passes are fastest, where nothing was measured: that of streaming."""
    return Shape(min(processor.vector_bits, 8 * group_bytes) // 64, group_bytes)


@dataclass(frozen=True, slots=True)
class Hit:
    """Where a pass stopped: the group, and the place of the read among the operations."""

    group: int
    operation: int


TO_BYTE = "%to_byte"
"""Where the group lies that a copy goes to, for functions through which memory is reached."""


class GroupBody:
    """IR of what is done with one group, whose bytes begin at ``%byte`` from the base and at ``%p``."""

    def __init__(self, sweep: Sweep, shape: Shape) -> None:
        self.sweep, self.shape = sweep, shape
        self.lines: list[str] = []
        self.vector = f"<{shape.lanes} x i64>"
        self.size = shape.lanes * 8
        self.offsets = list(range(0, shape.group_bytes * shape.together, self.size))
        self.at_byte = "%byte"
        """Where the group lies for functions through which memory is reached."""
        if not sweep.ascending:
            self.offsets.reverse()
        self._count = 0
        self._hashes: dict[int, str] = {}

    def emit(self, expression: str) -> str:
        """One instruction; gives the name of its result."""
        self._count += 1
        self.lines.append(f"  %t{self._count} = {expression}")
        return f"%t{self._count}"

    def splat(self, number: int) -> str:
        """A constant in every lane."""
        return "<" + ", ".join([f"i64 {number}"] * self.shape.lanes) + ">"

    def base_value(self, offset: int, pattern: Pattern) -> str | None:
        """The pattern's words at a vector of the group; None where they are zero."""
        vector = self.vector
        if pattern.kind is PatternKind.WORDS:
            return None
        if pattern.kind is PatternKind.HASH:
            return self.hashed(offset)
        lanes = "<" + ", ".join(f"i64 {offset + 8 * k}" for k in range(self.shape.lanes)) + ">"
        word = self.emit(f"add {vector} %at, {lanes}")
        if pattern.kind is PatternKind.CHECKER:
            square = self.emit(f"lshr {vector} {word}, {self.splat(pattern.shift)}")
            odd = self.emit(f"and {vector} {square}, {self.splat(1)}")
            return self.emit(f"sub {vector} zeroinitializer, {odd}")
        return word

    def hashed(self, offset: int) -> str:
        """The hash's words at a vector of the group: one hash for 256 bytes, turned by place, and constants."""
        stretch = offset // HASH_BLOCK_BYTES * HASH_BLOCK_BYTES
        if self.shape.group_bytes < HASH_BLOCK_BYTES:
            # A group is a part of such a stretch: where in it is only known as it runs.
            return self._hashed_within(offset)
        if stretch not in self._hashes:
            self._hashes[stretch] = self._splatted(self._hash("%byte", stretch))
        places = [(offset - stretch) // 8 + k for k in range(self.shape.lanes)]
        turns = [HASH_TURN * place % 64 for place in places]
        turned = self._turned(self._hashes[stretch], "<" + ", ".join(f"i64 {one}" for one in turns) + ">")
        constants = "<" + ", ".join(f"i64 {hash_constant(place)}" for place in places) + ">"
        return self.emit(f"xor {self.vector} {turned}, {constants}")

    def _hash(self, byte: str, add: int) -> str:
        """One hash, in ordinary registers: they have nothing else to do."""
        word = self.emit(f"add i64 {byte}, {(add + HASH_STEP) & ALL_ONES}")
        for shift, factor in zip(HASH_SHIFTS, (*HASH_FACTORS, None), strict=True):
            shifted = self.emit(f"lshr i64 {word}, {shift}")
            word = self.emit(f"xor i64 {word}, {shifted}")
            if factor is not None:
                word = self.emit(f"mul i64 {word}, {factor}")
        return word

    def _hashed_within(self, offset: int) -> str:
        at = self.emit(f"add i64 %byte, {offset}")
        within = self.emit(f"and i64 {at}, {HASH_BLOCK_BYTES - 1}")
        stretch = self.emit(f"sub i64 {at}, {within}")
        word = self._splatted(self._hash(stretch, 0))
        first = self._splatted(self.emit(f"lshr i64 {within}, 3"))
        lanes = "<" + ", ".join(f"i64 {k}" for k in range(self.shape.lanes)) + ">"
        place = self.emit(f"add {self.vector} {first}, {lanes}")
        by = self.emit(f"mul {self.vector} {place}, {self.splat(HASH_TURN)}")
        turned = self._turned(word, self.emit(f"and {self.vector} {by}, {self.splat(63)}"))
        after = self.emit(f"add {self.vector} {place}, {self.splat(1)}")
        constants = self.emit(f"mul {self.vector} {after}, {self.splat(HASH_STEP)}")
        return self.emit(f"xor {self.vector} {turned}, {constants}")

    def _splatted(self, word: str) -> str:
        one = self.emit(f"insertelement {self.vector} poison, i64 {word}, i64 0")
        lanes = self.shape.lanes
        return self.emit(f"shufflevector {self.vector} {one}, {self.vector} poison, <{lanes} x i32> zeroinitializer")

    def _turned(self, word: str, by: str) -> str:
        name, vector = f"@llvm.fshl.v{self.shape.lanes}i64", self.vector
        return self.emit(f"call {vector} {name}({vector} {word}, {vector} {word}, {vector} {by})")

    def value(self, base: str | None, value: int) -> str:
        """The words that an operation reads or writes."""
        return f"%p{value}" if base is None else self.emit(f"xor {self.vector} {base}, %p{value}")

    def load(self, offset: int) -> str:
        """One vector of the group, as it stands in memory."""
        if self.shape.diverted is not None:
            return self._read(self.at_byte, offset)
        at = self.emit(f"getelementptr i8, ptr %p, i64 {offset}")
        # Repeated operations on a cell are meant: the compiler must not make them one.
        volatile = "volatile " if len(self.sweep.operations) > 2 else ""
        return self.emit(f"load {volatile}{self.vector}, ptr {at}, align {self.size}")

    def _read(self, byte: str, offset: int) -> str:
        at = self.emit(f"add i64 {byte}, {offset}")
        word = self.emit(f"call i64 %read(i64 {at})")
        return self.emit(f"insertelement {self.vector} poison, i64 {word}, i64 0")

    def _write(self, byte: str, offset: int, value: str) -> None:
        at = self.emit(f"add i64 {byte}, {offset}")
        word = self.emit(f"extractelement {self.vector} {value}, i64 0")
        self.lines.append(f"  call void %write(i64 {at}, i64 {word})")

    def store(self, offset: int, value: str) -> None:
        """One vector of the group."""
        if self.shape.diverted is not None:
            self._write(self.at_byte, offset, value)
            return
        at = self.emit(f"getelementptr i8, ptr %p, i64 {offset}")
        volatile = "volatile " if len(self.sweep.operations) > 2 else ""
        self.lines.append(f"  store {volatile}{self.vector} {value}, ptr {at}, align {self.size}")

    def operations(self, leave: tuple[str, ...] = (), onward: str = "") -> None:
        """Operations in turn; a read that finds anything wrong leaves before the next, by the IR lines given.

        With ``onward``, what was read is written to the group at that pointer, turned over by ``%turns``, once that has
        been found to hold the words of value 1.
        """
        patterns = dict.fromkeys(self.sweep.pattern_of(operation.value) for operation in self.sweep.operations)
        of = {pattern: {at: self.base_value(at, pattern) for at in self.offsets} for pattern in patterns}
        for number, operation in enumerate(self.sweep.operations):
            bases = of[self.sweep.pattern_of(operation.value)]
            if not operation.reads:
                for offset in self.offsets:
                    self.store(offset, self.value(bases[offset], operation.value))
                continue
            read, of_group = dict[int, str](), dict[int, str]()
            for offset in self.offsets:
                expected = self.value(bases[offset], operation.value)
                read[offset] = self.load(offset)
                differs = self.emit(f"xor {self.vector} {read[offset]}, {expected}")
                group = offset // self.shape.group_bytes
                known = of_group.get(group)
                of_group[group] = differs if known is None else self.emit(f"or {self.vector} {known}, {differs}")
            told = (f"  store i64 {number}, ptr %at_operation, align 8", *self._first_of(of_group))
            differing = next(iter(of_group.values()))
            for one in list(of_group.values())[1:]:
                differing = self.emit(f"or {self.vector} {differing}, {one}")
            self._leave_if_any(differing, f"hit{number}", leave or told, f"good{number}")
            if onward:
                self._onward(onward, bases, read)

    def _first_of(self, of_group: dict[int, str]) -> list[str]:
        """IR lines that return which group differs: of several together, the first in the pass's own order."""
        if self.shape.together == 1:
            return ["  ret i64 %g"]
        bits, order = self.shape.lanes * 64, list(of_group)
        lines, found = [f"  %whole = mul i64 %g, {self.shape.together}"], f"{order[-1]}"
        for group in reversed(order[:-1]):
            lines += [
                f"  %bits{group} = bitcast {self.vector} {of_group[group]} to i{bits}",
                f"  %bad{group} = icmp ne i{bits} %bits{group}, 0",
                f"  %first{group} = select i1 %bad{group}, i64 {group}, i64 {found}",
            ]
            found = f"%first{group}"
        return [*lines, f"  %where = add i64 %whole, {found}", "  ret i64 %where"]

    def _onward(self, pointer: str, bases: dict[int, str | None], read: dict[int, str]) -> None:
        diverted, differing = self.shape.diverted is not None, None
        places: dict[int, str] = {}
        for offset in self.offsets:
            if diverted:
                held = self._read(TO_BYTE, offset)
            else:
                places[offset] = self.emit(f"getelementptr i8, ptr %{pointer}, i64 {offset}")
                held = self.emit(f"load {self.vector}, ptr {places[offset]}, align {self.size}")
            differs = self.emit(f"xor {self.vector} {held}, {self.value(bases[offset], 1)}")
            differing = differs if differing is None else self.emit(f"or {self.vector} {differing}, {differs}")
        self._leave_if_any(differing, "hit_there", ("  %there = sub i64 -1, %g", "  ret i64 %there"), "good_there")
        for offset in self.offsets:
            turned = self.emit(f"xor {self.vector} {read[offset]}, %turns")
            if diverted:
                self._write(TO_BYTE, offset, turned)
            else:
                self.lines.append(f"  store {self.vector} {turned}, ptr {places[offset]}, align {self.size}")

    def _leave_if_any(self, differing: str | None, hit: str, leave: tuple[str, ...], good: str) -> None:
        bits = self.shape.lanes * 64
        whole = self.emit(f"bitcast {self.vector} {differing} to i{bits}")
        bad = self.emit(f"icmp ne i{bits} {whole}, 0")
        self.lines += [f"  br i1 {bad}, label %{hit}, label %{good}", f"{hit}:", *leave, f"{good}:"]

    def flushes(self, intrinsic: str | None) -> None:
        """Write the lines of the group back and drop them."""
        for offset in range(0, self.shape.group_bytes * self.shape.together, LINE_BYTES):
            if self.shape.diverted is not None:
                at = self.emit(f"add i64 %byte, {offset}")
                self.lines.append(f"  call void %flush(i64 {at})")
            elif intrinsic is not None:
                at = self.emit(f"getelementptr i8, ptr %p, i64 {offset}")
                self.lines.append(f"  call void @{intrinsic}(ptr {at})")


def splats(name: str, argument: str, lanes: int) -> list[str]:
    """IR lines that put one 64-bit argument into every lane of ``%name``."""
    vector = f"<{lanes} x i64>"
    return [
        f"  %{name}_one = insertelement {vector} poison, i64 {argument}, i64 0",
        f"  %{name} = shufflevector {vector} %{name}_one, {vector} poison, <{lanes} x i32> zeroinitializer",
    ]


def functions_ir(addresses: tuple[int, int, int]) -> list[str]:
    """IR lines that name the functions through which memory is reached."""
    names = zip(("read", "write", "flush"), addresses, strict=True)
    return [f"  %{name} = inttoptr i64 {address} to ptr" for name, address in names]


def sweep_ir(sweep: Sweep, processor: Processor, shape: Shape | None = None) -> str:
    """IR of ``i64 (ptr base, i64 first, i64 last, i64 w0, i64 w1, i64 w2, ptr at_operation)`` over first ≤ g < last.

    Returns the group that mismatched, before anything more is stored into it, with the operation's place at
    ``at_operation``; ``last`` (ascending) or ``first − 1`` (descending) when all of them matched.
    """
    shape = shape or shape_for(processor)
    body = GroupBody(sweep, shape)
    body.operations()
    if sweep.flushed:
        body.flushes(processor.flush_many)
    start, end = ("%first", "%last") if sweep.ascending else ("%top", "%bottom")
    step = 1 if sweep.ascending else -1
    usual = FLUSHED_AHEAD_BYTES if sweep.flushed else PREFETCH_AHEAD_BYTES
    ahead = step * (usual if shape.ahead_bytes is None else shape.ahead_bytes)
    stretch = shape.group_bytes * shape.together
    # A line that is about to be flushed gains nothing from being asked for early to write to.
    writes = any(not operation.reads for operation in sweep.operations) and not sweep.flushed
    prefetches: list[str] = []
    functions: list[str] = []
    if shape.diverted is None:
        for k, offset in enumerate(range(0, stretch, LINE_BYTES) if ahead else ()):
            prefetches += [
                f"  %pf{k} = getelementptr i8, ptr %p, i64 {ahead + offset}",
                f"  call void @llvm.prefetch.p0(ptr %pf{k}, i32 {int(writes)}, i32 3, i32 1)",
            ]
    else:
        functions = functions_ir(shape.diverted)
    last_good = next(
        (f"good{k}" for k in range(len(sweep.operations) - 1, -1, -1) if sweep.operations[k].reads), "body"
    )
    return "\n".join(
        [
            f"define i64 @{symbol_of(sweep, shape)}(ptr %base, i64 %first, i64 %last, i64 %w0, i64 %w1, i64 %w2, "
            "ptr %at_operation) {",
            "entry:",
            *functions,
            *(line for value in range(3) for line in splats(f"p{value}", f"%w{value}", shape.lanes)),
            "  %top = sub i64 %last, 1",
            "  %bottom = sub i64 %first, 1",
            "  %none = icmp sge i64 %first, %last",
            "  br i1 %none, label %done, label %body",
            "body:",
            f"  %g = phi i64 [ {start}, %entry ], [ %next, %{last_good} ]",
            f"  %byte = mul i64 %g, {stretch}",
            "  %p = getelementptr i8, ptr %base, i64 %byte",
            *splats("at", "%byte", shape.lanes),
            *prefetches,
            *body.lines,
            f"  %next = add i64 %g, {step}",
            f"  %over = icmp eq i64 %next, {end}",
            "  br i1 %over, label %done, label %body",
            "done:",
            *(["  fence seq_cst"] if sweep.flushed else []),
            f"  ret i64 {end}",
            "}",
        ]
    )


def symbol_of(sweep: Sweep, shape: Shape) -> str:
    """Name of a pass in one of its shapes."""
    ahead = "" if shape.ahead_bytes is None else f"_{shape.ahead_bytes}"
    return f"{sweep.symbol}_{64 * shape.lanes}{ahead}" + (f"_by{shape.together}" if shape.together > 1 else "")


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


TURNS = tuple(
    f"declare <{lanes} x i64> @llvm.fshl.v{lanes}i64(<{lanes} x i64>, <{lanes} x i64>, <{lanes} x i64>)"
    for lanes in (1, 2, 4, 8)
)
"""What turns the words of a vector."""


SweepClass = tuple[PatternKind, bool]
"""Passes that are fastest in the same shape: by the kind of their pattern, and whether they write."""


def class_of(sweep: Sweep) -> SweepClass:
    """Which kind of pass it is, as far as its shape goes."""
    return sweep.pattern.kind, any(not operation.reads for operation in sweep.operations)


def takes_several(sweep: Sweep) -> bool:
    """Whether groups may be compared together: it reads first and at most once, and nothing is flushed between."""
    reads = [number for number, operation in enumerate(sweep.operations) if operation.reads]
    return reads == [0] and len(sweep.operations) <= MOST_TOGETHER and not sweep.flushed


class SweepKernels:
    """Passes and the line flush, compiled for this processor. Those not named at first are compiled when asked for.

    Each pass is there for single groups; where its shape takes several ``together``, for those too: long stretches go
    by these, and what lies before a group that differs is then done by itself.
    """

    def __init__(self, processor: Processor, sweeps: Iterable[Sweep] = (), shape: Shape | None = None) -> None:
        self._processor, self._shape = processor, shape
        self._shapes: dict[SweepClass, Shape] = {}
        self._functions: dict[Sweep, ctypes._FuncPointer] = {}
        self._together: dict[Sweep, ctypes._FuncPointer] = {}
        self._modules = [NativeModule(flush_ir(processor))]
        self._flush = self._modules[0].function("flush_line", None, [ctypes.c_void_p])
        self._at_operation = ctypes.c_int64(0)
        self.compile(sweeps)

    def shape_of(self, sweep: Sweep) -> Shape:
        """The shape that a pass is compiled in: as was measured for its kind, else as it was given, or usual."""
        return self._shapes.get(class_of(sweep)) or self._shape or shape_for(self._processor)

    def together(self, sweep: Sweep) -> int:
        """How many groups a pass compares together on long stretches."""
        return self.shape_of(sweep).together if takes_several(sweep) else 1

    def take_shapes(self, shapes: Mapping["SweepClass", Shape]) -> None:
        """Work in these shapes from now on; what was compiled is compiled anew when it is asked for."""
        self._shapes.update(shapes)
        self._functions.clear()
        self._together.clear()

    def compile(self, sweeps: Iterable[Sweep]) -> None:
        """Have these passes ready."""
        new = [sweep for sweep in dict.fromkeys(sweeps) if sweep not in self._functions]
        if not new:
            return
        parts = ["declare void @llvm.prefetch.p0(ptr, i32, i32, i32)", *TURNS]
        parts += [f"declare void @{self._processor.flush_many}(ptr)"] if self._processor.flush_many else []
        shapes = {one: self.shape_of(one) for one in new}
        single = {one: replace(shape, together=1) for one, shape in shapes.items()}
        several = {one: shape for one, shape in shapes.items() if shape.together > 1 and takes_several(one)}
        parts += [sweep_ir(one, self._processor, shape) for one, shape in (*single.items(), *several.items())]
        module = NativeModule("\n".join(parts))
        self._modules.append(module)
        arguments = [ctypes.c_void_p] + [ctypes.c_int64] * 2 + [ctypes.c_uint64] * 3 + [ctypes.c_void_p]
        for known, of in ((self._functions, single), (self._together, several)):
            for sweep, shape in of.items():
                known[sweep] = module.function(symbol_of(sweep, shape), ctypes.c_int64, arguments)

    @property
    def compiled(self) -> tuple[Sweep, ...]:
        """The passes that are ready."""
        return tuple(self._functions)

    def run(
        self, sweep: Sweep, base: int, first_group: int, last_group: int, words: tuple[int, int, int]
    ) -> Hit | None:
        """Run one pass over groups first ≤ g < last; give where it mismatched, or None.

        ``base`` is the address of group 0, ``words`` are the pattern's parameters for the values 0, 1 and 2.
        """
        if sweep not in self._functions:
            self.compile([sweep])
        several = self._together.get(sweep)
        wide = self.together(sweep)
        low, high = -(-first_group // wide), last_group // wide
        if several is None or high <= low:
            return self._call(self._functions[sweep], base, first_group, last_group, words)
        edges = [(first_group, low * wide), (high * wide, last_group)]
        for begin, end in edges[:1] if sweep.ascending else edges[1:]:
            hit = self._call(self._functions[sweep], base, begin, end, words)
            if hit is not None:
                return hit
        hit = self._call(several, base, low, high, words)
        if hit is not None:
            # Compared and not yet written: what comes before it in the pass is done by itself.
            whole = hit.group // wide * wide
            begin, end = (whole, hit.group) if sweep.ascending else (hit.group + 1, whole + wide)
            return self._call(self._functions[sweep], base, begin, end, words) or hit
        begin, end = edges[1] if sweep.ascending else edges[0]
        return self._call(self._functions[sweep], base, begin, end, words)

    def _call(
        self, function: "ctypes._FuncPointer", base: int, first: int, last: int, words: tuple[int, int, int]
    ) -> Hit | None:
        self._at_operation.value = -1
        at: int = function(base, first, last, *words, ctypes.addressof(self._at_operation))
        return Hit(at, self._at_operation.value) if self._at_operation.value >= 0 else None

    def flush(self, address: int) -> None:
        """Drop the cache line that holds ``address``, so that the next read comes from memory."""
        self._flush(address)
