"""What loads strain, where their data live, what a march writes, and what it does about caches."""

from enum import StrEnum


class Strains(StrEnum):
    """What a load is there to find weak."""

    MEMORY = "memory"
    CPU = "CPU"
    GRAPHICS = "graphics"
    ANYTHING = "whatever it does"


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
