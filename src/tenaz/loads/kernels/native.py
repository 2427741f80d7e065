"""Compiles LLVM IR to functions of this processor: the one door to llvmlite."""

import ctypes
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from weakref import WeakSet

import llvmlite.binding as llvm


@dataclass(frozen=True, slots=True)
class Processor:
    """What the code generator knows about the processor that it compiles for."""

    name: str
    vector_bits: int
    """Width at which streaming over memory was fastest."""
    arithmetic_bits: int
    """Widest registers for arithmetic."""
    has_fma: bool
    flush_line: str | None
    """Intrinsic that writes one cache line back and drops it; None where there is none for ordinary programs."""
    flush_many: str | None
    """The same for many lines one after the other: not ordered among themselves, where the processor has that."""


def this_processor() -> Processor:
    """Read the name and the features that matter here from the code generator."""
    features = llvm.get_host_cpu_features()
    x86 = llvm.get_process_triple().startswith(("x86_64", "i686"))
    return Processor(
        name=llvm.get_host_cpu_name(),
        vector_bits=256 if features.get("avx2") or not x86 else 128,
        arithmetic_bits=512 if features.get("avx512dq") else 256 if features.get("avx2") or not x86 else 128,
        has_fma=bool(features.get("fma")) or not x86,
        flush_line="llvm.x86.sse2.clflush" if x86 else None,
        flush_many="llvm.x86.clflushopt" if features.get("clflushopt") else "llvm.x86.sse2.clflush" if x86 else None,
    )


_MODULES: "WeakSet[NativeModule]" = WeakSet()


def code_sums() -> dict[tuple[str, int], int]:
    """Checksums of all machine code that was compiled here, as it stands in memory now, by function and place."""
    found = {(name, part[0]): part for module in _MODULES for name, part in module.code.items()}
    of = {part: zlib.crc32(ctypes.string_at(part[0], part[1] - part[0])) for part in set(found.values())}
    return {key: of[part] for key, part in found.items()}


class NativeModule:
    """Machine code from one IR module; keeps it alive while its functions are used.

    Functions are called through ctypes, which releases the interpreter's lock for the length of the call.
    """

    def __init__(self, ir: str) -> None:
        llvm.initialize_native_target()
        llvm.initialize_native_asmprinter()
        target = llvm.Target.from_triple(llvm.get_process_triple())
        machine = target.create_target_machine(
            cpu=llvm.get_host_cpu_name(),
            features=llvm.get_host_cpu_features().flatten(),
            opt=3,
            jit=True,
        )
        module = llvm.parse_assembly(ir)
        module.verify()
        options = llvm.create_pipeline_tuning_options(speed_level=3)
        builder = llvm.create_pass_builder(machine, options)
        builder.getModulePassManager().run(module, builder)
        self._machine = machine
        self._engine = llvm.create_mcjit_compiler(module, machine)
        self._engine.finalize_object()
        self._code: dict[str, tuple[int, int]] = {}
        _MODULES.add(self)

    def function(
        self, name: str, result: type[ctypes.c_int64] | None, arguments: Sequence[type]
    ) -> "ctypes._FuncPointer":
        """Give the function ``name`` of the module as a callable with the given C types."""
        address = self._engine.get_function_address(name)
        if not address:
            raise LookupError(f"the compiled module has no function {name!r}")
        self._code[name] = _executable(address)
        prototype = ctypes.CFUNCTYPE(result, *arguments)
        function: ctypes._FuncPointer = prototype(address)
        return function

    @property
    def code(self) -> dict[str, tuple[int, int]]:
        """Of each function asked for, the stretch of memory that it lies in, from its first byte up to another."""
        return self._code


def _executable(address: int) -> tuple[int, int]:
    """The stretch of executable memory that an address lies in, from its first byte up to another."""
    for line in Path("/proc/self/maps").read_text().splitlines():
        first, last = (int(end, 16) for end in line.split(maxsplit=1)[0].split("-"))
        if first <= address < last:
            return first, last
    return address, address
