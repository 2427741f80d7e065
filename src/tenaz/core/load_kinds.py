"""The kinds of load, what each strains, and what a march does about caches."""

from dataclasses import dataclass
from enum import StrEnum


class Strains(StrEnum):
    """What a load is there to find weak."""

    MEMORY = "memory"
    CPU = "CPU"
    ANYTHING = "whatever it does"


class LoadKind(StrEnum):
    """The kinds of stress."""

    MARCH = "march"
    CHECKER = "checker"
    PERMUTE = "permute"
    COPY = "copy"
    RETAIN = "retain"
    DISTURB = "disturb"
    TRANSFORM = "transform"
    SOLVE = "solve"
    DIGEST = "digest"
    PULSE = "pulse"
    SOLO = "solo"
    PROGRAM = "program"

    @property
    def strains(self) -> Strains:
        """What it strains."""
        return _TRAITS[self].strains

    @property
    def rate_unit(self) -> str:
        """Unit of its rate."""
        return _TRAITS[self].rate_unit

    @property
    def about(self) -> str:
        """What it does and how it is verified, in a line."""
        return _TRAITS[self].about


@dataclass(frozen=True, slots=True)
class _Traits:
    strains: Strains
    rate_unit: str
    about: str


_TRAITS = {
    LoadKind.MARCH: _Traits(Strains.MEMORY, "GB/s", "a march test in notation over all data backgrounds, every word"),
    LoadKind.CHECKER: _Traits(
        Strains.MEMORY, "GB/s", "neighbours in opposition: words, lines and row-sized blocks, every word"
    ),
    LoadKind.PERMUTE: _Traits(
        Strains.MEMORY, "GB/s", "lines in an order that touches each once and changes rows each time, every word"
    ),
    LoadKind.COPY: _Traits(Strains.MEMORY, "GB/s", "bulk moves between far regions, both ends verified"),
    LoadKind.RETAIN: _Traits(Strains.MEMORY, "GB/s", "written, left alone, verified: what cells lose while waiting"),
    LoadKind.DISTURB: _Traits(
        Strains.MEMORY, "M reads/s", "lines read again and again from memory around others, which are verified"
    ),
    LoadKind.TRANSFORM: _Traits(
        Strains.CPU, "GFLOP/s", "Fourier transforms there and back: inputs return, bits repeat"
    ),
    LoadKind.SOLVE: _Traits(
        Strains.CPU, "GFLOP/s", "matrix products that are exact, and systems solved: every number, every residual"
    ),
    LoadKind.DIGEST: _Traits(Strains.CPU, "GB/s", "hashing, compressing and restoring, sorting: whole numbers only"),
    LoadKind.PULSE: _Traits(Strains.CPU, "GFLOP/s", "all cores in step between idle and full: the supply's load steps"),
    LoadKind.SOLO: _Traits(
        Strains.CPU, "GFLOP/s", "one core at a time, the others idle: each at its highest clock, named when it fails"
    ),
    LoadKind.PROGRAM: _Traits(Strains.ANYTHING, "runs/h", "a program of your own, judged by exit status and output"),
}


class CacheLevel(StrEnum):
    """Where the data of a CPU load live."""

    L1 = "L1"
    L2 = "L2"
    L3 = "L3"
    MEMORY = "memory"


class DataKind(StrEnum):
    """What a march writes."""

    WORDS = "words"
    ADDRESS = "address"
    HASH = "hash"

    @property
    def meaning(self) -> str:
        """In words."""
        return {
            DataKind.WORDS: "seven backgrounds in which any two bits of a word differ at least once",
            DataKind.ADDRESS: "each word its own address: decoders that mix addresses up show at once",
            DataKind.HASH: "each word a hash of its address: every lane holds both values equally often, lines differ",
        }[self]


class MarchMode(StrEnum):
    """What a march does about caches, and so what of it the memory sees."""

    CACHED = "cached"
    FLUSHED = "flushed"
    BLOCKS = "blocks"

    @property
    def meaning(self) -> str:
        """What reaches the memory, and what can be found."""
        return {
            MarchMode.CACHED: (
                "at full speed; lines reach the memory when the caches drop them, repeated operations do not. Finds "
                "stuck and leaking cells, transitions, the bus; decoders and couplings in part"
            ),
            MarchMode.FLUSHED: (
                "each line is flushed after its element, so that lines reach the memory in the test's order; repeated "
                "operations do not. Finds decoders and couplings too, if not within the few KiB that are read ahead"
            ),
            MarchMode.BLOCKS: (
                "in flushed blocks of 1 MiB, at most one read and one write between two flushes, so that repeated "
                "operations reach the memory. Finds reads and writes that disturb too; slowest"
            ),
        }[self]
