"""One pass over memory, as machine code: for each group, a march element's operations.

A *group* is 256 bytes. A read compares the group in registers, and only then is anything stored: a mismatch is noticed
while the bad data is still in memory, so the slow path can look at it again. The pass stops at that group and says
which it was and at which operation; the caller examines it, finishes it, and goes on behind it.
"""

import ctypes
from collections.abc import Iterable
from dataclasses import dataclass

from tenaz.loads.kernels.native import NativeModule, Processor
from tenaz.loads.march import HELD_BEFORE, Operation
from tenaz.loads.patterns import HASH_SHIFTS, WORDS, Pattern, PatternKind

GROUP_BYTES = 256
LINE_BYTES = 64
PREFETCH_AHEAD_BYTES = 4096
"""Measured best between 2 and 4 KiB: far enough to hide DRAM latency, near enough to stay in the first cache."""
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
    """How wide a pass works: words in a vector, bytes in a group. Where ``diverted`` is given, memory is reached
    through functions at these addresses instead: read (offset → word), write (offset, word), flush (offset).
    """

    lanes: int
    group_bytes: int = GROUP_BYTES
    diverted: tuple[int, int, int] | None = None


def shape_for(processor: Processor, pattern: Pattern, group_bytes: int = GROUP_BYTES) -> Shape:
    """The width at which a pattern is fastest: that of streaming, but for hashes, which are arithmetic, the widest."""
    bits = processor.arithmetic_bits if pattern.kind is PatternKind.HASH else processor.vector_bits
    return Shape(min(bits, 8 * group_bytes) // 64, group_bytes)


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
        self.offsets = list(range(0, shape.group_bytes, self.size))
        self.at_byte = "%byte"
        """Where the group lies for functions through which memory is reached."""
        if not sweep.ascending:
            self.offsets.reverse()
        self._count = 0

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
        lanes = "<" + ", ".join(f"i64 {offset + 8 * k}" for k in range(self.shape.lanes)) + ">"
        word = self.emit(f"add {vector} %at, {lanes}")
        if pattern.kind is PatternKind.CHECKER:
            square = self.emit(f"lshr {vector} {word}, {self.splat(pattern.shift)}")
            odd = self.emit(f"and {vector} {square}, {self.splat(1)}")
            return self.emit(f"sub {vector} zeroinitializer, {odd}")
        if pattern.kind is PatternKind.HASH:
            for left, right, last in HASH_SHIFTS:
                for way, by in (("shl", left), ("lshr", right), ("shl", last)):
                    shifted = self.emit(f"{way} {vector} {word}, {self.splat(by)}")
                    word = self.emit(f"xor {vector} {word}, {shifted}")
        return word

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
            differing, read = None, dict[int, str]()
            for offset in self.offsets:
                expected = self.value(bases[offset], operation.value)
                read[offset] = self.load(offset)
                differs = self.emit(f"xor {self.vector} {read[offset]}, {expected}")
                differing = differs if differing is None else self.emit(f"or {self.vector} {differing}, {differs}")
            told = (f"  store i64 {number}, ptr %at_operation, align 8", "  ret i64 %g")
            self._leave_if_any(differing, f"hit{number}", leave or told, f"good{number}")
            if onward:
                self._onward(onward, bases, read)

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
        for offset in range(0, self.shape.group_bytes, LINE_BYTES):
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
    shape = shape or shape_for(processor, sweep.pattern)
    body = GroupBody(sweep, shape)
    body.operations()
    if sweep.flushed:
        body.flushes(processor.flush_many)
    start, end = ("%first", "%last") if sweep.ascending else ("%top", "%bottom")
    step = 1 if sweep.ascending else -1
    ahead = step * (FLUSHED_AHEAD_BYTES if sweep.flushed else PREFETCH_AHEAD_BYTES)
    # A line that is about to be flushed gains nothing from being asked for early to write to.
    writes = any(not operation.reads for operation in sweep.operations) and not sweep.flushed
    prefetches: list[str] = []
    functions: list[str] = []
    if shape.diverted is None:
        for k, offset in enumerate(range(0, shape.group_bytes, LINE_BYTES)):
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
            f"define i64 @{sweep.symbol}(ptr %base, i64 %first, i64 %last, i64 %w0, i64 %w1, i64 %w2, "
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
            f"  %byte = mul i64 %g, {shape.group_bytes}",
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
    """Passes and the line flush, compiled for this processor. Those not named at first are compiled when asked for."""

    def __init__(self, processor: Processor, sweeps: Iterable[Sweep] = (), shape: Shape | None = None) -> None:
        self._processor, self._shape = processor, shape
        self._functions: dict[Sweep, ctypes._FuncPointer] = {}
        self._modules = [NativeModule(flush_ir(processor))]
        self._flush = self._modules[0].function("flush_line", None, [ctypes.c_void_p])
        self._at_operation = ctypes.c_int64(0)
        self.compile(sweeps)

    def compile(self, sweeps: Iterable[Sweep]) -> None:
        """Have these passes ready."""
        new = [sweep for sweep in dict.fromkeys(sweeps) if sweep not in self._functions]
        if not new:
            return
        parts = ["declare void @llvm.prefetch.p0(ptr, i32, i32, i32)"]
        parts += [f"declare void @{self._processor.flush_many}(ptr)"] if self._processor.flush_many else []
        module = NativeModule("\n".join([*parts, *(sweep_ir(one, self._processor, self._shape) for one in new)]))
        self._modules.append(module)
        arguments = [ctypes.c_void_p] + [ctypes.c_int64] * 2 + [ctypes.c_uint64] * 3 + [ctypes.c_void_p]
        for sweep in new:
            self._functions[sweep] = module.function(sweep.symbol, ctypes.c_int64, arguments)

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
        where = ctypes.addressof(self._at_operation)
        at: int = self._functions[sweep](base, first_group, last_group, *words, where)
        return Hit(at, self._at_operation.value) if first_group <= at < last_group else None

    def flush(self, address: int) -> None:
        """Drop the cache line that holds ``address``, so that the next read comes from memory."""
        self._flush(address)
