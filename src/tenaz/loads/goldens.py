"""What results were made with: instructions and libraries that decide their bits."""

from functools import cache
from importlib import metadata

LIBRARIES = ("llvmlite", "numpy")


@cache
def made_with() -> str:
    """Processor by name, widths used, and versions of the libraries; anything else in it asks for new goldens."""
    from tenaz.loads.kernels.native import this_processor  # noqa: PLC0415 - only workers import the code generator

    processor = this_processor()
    fused = "fused" if processor.has_fma else "not fused"
    versions = ", ".join(f"{name} {metadata.version(name)}" for name in LIBRARIES)
    return f"{processor.name}, {processor.arithmetic_bits} bits, {fused}; {versions}"
