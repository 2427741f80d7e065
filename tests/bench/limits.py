"""What kernels are measured against: the fastest plain loops over the same memory, and multiply-adds in registers."""

import ctypes
from collections.abc import Callable

from tenaz.loads.kernels.native import NativeModule, this_processor

UNROLLED = 8
CHAINS = 12
"""Independent chains of multiply-adds: more than latency times units of any processor, fewer than its registers."""
CHAIN_TURNS = 1 << 20


def plain_loops(way: str) -> dict[str, Callable[[int, int], object]]:
    """Candidate loops without any compare, by name: ``way`` is "rw", "r" or "w". Each takes address and bytes."""
    variants = [(lanes, ahead) for lanes in (4, 8) for ahead in (0, 2048, 4096)]
    ir = ["declare void @llvm.prefetch.p0(ptr, i32, i32, i32)"]
    ir += [_loop(lanes, ahead, way) for lanes, ahead in variants]
    module = NativeModule("\n".join(ir))
    loops: dict[str, Callable[[int, int], object]] = {}
    for lanes, ahead in variants:
        function = module.function(f"plain_{lanes}_{ahead}", ctypes.c_int64, [ctypes.c_void_p, ctypes.c_int64])
        function.keep = module  # type: ignore[attr-defined]
        loops[f"{lanes * 64} bits, prefetch {ahead}"] = function
    return loops


def _loop(lanes: int, ahead: int, way: str) -> str:
    """IR of ``i64 (ptr, i64 bytes)``: load, turn all bits over, store; or only the one or the other."""
    vector, size = f"<{lanes} x i64>", lanes * 8
    lines = [
        f"define i64 @plain_{lanes}_{ahead}(ptr %base, i64 %bytes) {{",
        "entry:",
        "  br label %body",
        "body:",
        "  %i = phi i64 [ 0, %entry ], [ %next, %body ]",
        f"  %sum0 = phi {vector} [ zeroinitializer, %entry ], [ %sum{UNROLLED}, %body ]",
        "  %p = getelementptr i8, ptr %base, i64 %i",
    ]
    for offset in range(0, UNROLLED * size, 64) if ahead else ():
        lines.append(f"  %f{offset} = getelementptr i8, ptr %p, i64 {ahead + offset}")
        lines.append(f"  call void @llvm.prefetch.p0(ptr %f{offset}, i32 {int('w' in way)}, i32 3, i32 1)")
    for k in range(UNROLLED):
        lines.append(f"  %a{k} = getelementptr i8, ptr %p, i64 {k * size}")
        if "r" in way:
            lines.append(f"  %v{k} = load {vector}, ptr %a{k}, align {size}")
        if way == "rw":
            lines.append(f"  %y{k} = xor {vector} %v{k}, splat (i64 -1)")
        if "w" in way:
            written = f"%y{k}" if way == "rw" else "splat (i64 -1)"
            lines.append(f"  store {vector} {written}, ptr %a{k}, align {size}")
        more = f"%v{k}" if way == "r" else "zeroinitializer"
        lines.append(f"  %sum{k + 1} = xor {vector} %sum{k}, {more}")
    lines += [
        f"  %next = add i64 %i, {UNROLLED * size}",
        "  %more = icmp ult i64 %next, %bytes",
        "  br i1 %more, label %body, label %done",
        "done:",
        f"  %one = extractelement {vector} %sum{UNROLLED}, i64 0",
        "  ret i64 %one",
        "}",
    ]
    return "\n".join(lines)


class FusedPeak:
    """Multiply-adds in registers only: as many as the core can do."""

    def __init__(self) -> None:
        processor = this_processor()
        lanes = processor.arithmetic_bits // 64
        vector = f"<{lanes} x double>"
        lines = [
            f"declare {vector} @llvm.fma.v{lanes}f64({vector}, {vector}, {vector})",
            "define double @peak(i64 %turns, double %x) {",
            "entry:",
            f"  %x1 = insertelement {vector} poison, double %x, i64 0",
            f"  %xs = shufflevector {vector} %x1, {vector} poison, <{lanes} x i32> zeroinitializer",
            "  br label %body",
            "body:",
            "  %k = phi i64 [ 0, %entry ], [ %k1, %body ]",
        ]
        lines += [f"  %a{c} = phi {vector} [ %xs, %entry ], [ %b{c}, %body ]" for c in range(CHAINS)]
        fused = f"call {vector} @llvm.fma.v{lanes}f64"
        lines += [f"  %b{c} = {fused}({vector} %a{c}, {vector} %xs, {vector} %xs)" for c in range(CHAINS)]
        lines += [
            "  %k1 = add i64 %k, 1",
            "  %over = icmp eq i64 %k1, %turns",
            "  br i1 %over, label %done, label %body",
            "done:",
        ]
        total = "%b0"
        for c in range(1, CHAINS):
            lines.append(f"  %s{c} = fadd {vector} {total}, %b{c}")
            total = f"%s{c}"
        lines += [f"  %one = extractelement {vector} {total}, i64 0", "  ret double %one", "}"]
        self._module = NativeModule("\n".join(lines))
        self._run = self._module.function("peak", ctypes.c_double, [ctypes.c_int64, ctypes.c_double])  # type: ignore[arg-type]
        self.flop = 2 * lanes * CHAINS * CHAIN_TURNS

    def run(self) -> None:
        """So many operations as ``flop`` says."""
        self._run(CHAIN_TURNS, 0.5)
