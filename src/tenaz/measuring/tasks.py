"""What is measured on this machine: one task a figure, with the block that it works over."""

from dataclasses import asdict, dataclass
from enum import StrEnum
from typing import Any

from tenaz.core.scores.score import Cores, Figure, Unit
from tenaz.measuring.chains import Order, Pages
from tenaz.probe.system import Caches

LEAST_MEMORY_BYTES = 256 << 20
OF_FREE = 0.2
"""Of the memory that is free, at most so much."""
OF_LEVEL = 0.5
"""A block fills half of a cache: what else lies there does not push it out."""
WORDS_BYTES = 1 << 20
SMALL_ROWS = 256


class Work(StrEnum):
    """Kinds of task."""

    READ = "read"
    WRITE = "write"
    COPY = "copy"
    TURN = "turn"
    LATENCY = "latency"
    TRANSFORM = "transform"
    SOLVE = "solve"
    HASH = "hash"
    COMPRESS = "compress"


STREAMS = (Work.READ, Work.WRITE, Work.COPY, Work.TURN)


@dataclass(frozen=True, slots=True)
class Task:
    """One figure of this machine: ``size`` is bytes of the block of each worker; ``order`` and ``pages`` are a
    chain's, ``system`` the rows of a system to solve.
    """

    work: Work
    figure: Figure
    size: int
    order: Order = Order.RANDOM
    pages: Pages = Pages.HUGE

    def to_fields(self) -> dict[str, Any]:
        """For the worker, which needs not know the figure."""
        fields = asdict(self)
        del fields["figure"]
        return fields


@dataclass(frozen=True, slots=True)
class Machine:
    """What the choice of tasks must know of the machine; bytes. ``caches`` are what one core can count on."""

    cores: int
    caches: Caches
    free_bytes: int

    @property
    def memory_block(self) -> int:
        """So large that hardly anything of it stays in a cache: a power of two, so that figures keep their names."""
        wanted = max(LEAST_MEMORY_BYTES, 4 * self.caches.l3_bytes * self.cores)
        most = max(16 << 20, int(OF_FREE * self.free_bytes))
        return 1 << (min(wanted, most).bit_length() - 1 if wanted > most else (wanted - 1).bit_length())


def tasks_of(machine: Machine) -> tuple[Task, ...]:
    """All that is measured, memory first. Four lead, one of each kind: the fewer judge, the less noise there is in the
    judgement.
    """
    found: list[Task] = []
    levels = _levels(machine)
    memory = machine.memory_block
    for work in STREAMS:
        for size in (*levels, memory):
            found.append(_stream(work, size, Cores.ONE, 1, False))
        found.append(_stream(work, memory, Cores.ALL, machine.cores, work is Work.READ))
    found += [_stream(Work.READ, size, Cores.ALL, 1, False) for size in levels]
    found.append(_stream(Work.TURN, levels[1], Cores.ALL, 1, False))
    found += [_chain(size) for size in levels]
    found += [_chain(memory, leads=True), _chain(memory, Order.ROWS), _chain(memory, pages=Pages.SMALL)]
    for cores in Cores:
        for size in (*levels[:2], 4 * levels[2]):
            leads = size == levels[1] and cores is Cores.ALL
            figure = Figure("transform", Unit.GFLOP_S, True, size, cores, leads)
            found.append(Task(Work.TRANSFORM, figure, size))
        for rows in (SMALL_ROWS, 3 * SMALL_ROWS):
            figure = Figure(f"solve {rows} × {rows}", Unit.GFLOP_S, True, None, cores)
            found.append(Task(Work.SOLVE, figure, rows))
        for work in (Work.HASH, Work.COMPRESS):
            leads = work is Work.COMPRESS and cores is Cores.ALL
            figure = Figure(work.value, Unit.GB_S, True, None, cores, leads)
            found.append(Task(work, figure, WORDS_BYTES))
    return tuple(found)


def _levels(machine: Machine) -> tuple[int, int, int]:
    """Blocks for the three levels of caches, in whole pages."""
    caches = machine.caches
    sizes = (caches.l1_bytes, caches.l2_bytes, caches.l3_bytes)
    first, second, third = (int(OF_LEVEL * size) // 4096 * 4096 for size in sizes)
    return first, second, max(third >> 20 << 20, 2 * second)


def _stream(work: Work, size: int, cores: Cores, parts: int, leads: bool) -> Task:
    return Task(work, Figure(work.value, Unit.GB_S, True, size, cores, leads), size // parts // 4096 * 4096)


def _chain(size: int, order: Order = Order.RANDOM, pages: Pages = Pages.HUGE, leads: bool = False) -> Task:
    words = [order.value] * (order is not Order.RANDOM) + [pages.value] * (pages is not Pages.HUGE)
    what = " ".join(["latency", *words])
    return Task(Work.LATENCY, Figure(what, Unit.NS, False, size, Cores.ONE, leads), size, order, pages)
