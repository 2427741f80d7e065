"""The fastest plain in-place read-and-write loop over the same memory: what ``march`` is measured against."""

import ctypes
from collections.abc import Callable

from tenaz.loads.kernels.native import NativeModule

UNROLLED = 8


def plain_loops() -> dict[str, Callable[[int, int], object]]:
    """Candidate loops without any compare, by name; each takes address and bytes. Keep the module's owner alive."""
    variants = [(lanes, ahead) for lanes in (4, 8) for ahead in (0, 2048, 4096)]
    ir = ["declare void @llvm.prefetch.p0(ptr, i32, i32, i32)"]
    ir += [_loop(lanes, ahead) for lanes, ahead in variants]
    module = NativeModule("\n".join(ir))
    loops: dict[str, Callable[[int, int], object]] = {}
    for lanes, ahead in variants:
        function = module.function(f"plain_{lanes}_{ahead}", None, [ctypes.c_void_p, ctypes.c_int64])
        function.keep = module  # type: ignore[attr-defined]
        loops[f"{lanes * 64} bits, prefetch {ahead}"] = function
    return loops


def _loop(lanes: int, ahead: int) -> str:
    """IR of ``void (ptr, i64 bytes)``: load, turn all bits over, store."""
    vector, size = f"<{lanes} x i64>", lanes * 8
    lines = [
        f"define void @plain_{lanes}_{ahead}(ptr %base, i64 %bytes) {{",
        "entry:",
        "  br label %body",
        "body:",
        "  %i = phi i64 [ 0, %entry ], [ %next, %body ]",
        "  %p = getelementptr i8, ptr %base, i64 %i",
    ]
    for offset in range(0, UNROLLED * size, 64) if ahead else ():
        lines.append(f"  %f{offset} = getelementptr i8, ptr %p, i64 {ahead + offset}")
        lines.append(f"  call void @llvm.prefetch.p0(ptr %f{offset}, i32 1, i32 3, i32 1)")
    for k in range(UNROLLED):
        lines += [
            f"  %a{k} = getelementptr i8, ptr %p, i64 {k * size}",
            f"  %v{k} = load {vector}, ptr %a{k}, align {size}",
            f"  %y{k} = xor {vector} %v{k}, splat (i64 -1)",
            f"  store {vector} %y{k}, ptr %a{k}, align {size}",
        ]
    lines += [
        f"  %next = add i64 %i, {UNROLLED * size}",
        "  %more = icmp ult i64 %next, %bytes",
        "  br i1 %more, label %body, label %done",
        "done:",
        "  ret void",
        "}",
    ]
    return "\n".join(lines)
