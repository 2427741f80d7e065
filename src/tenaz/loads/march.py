"""March tests: their notation, and the passes over memory that a lap is made of.

Notation of van de Goor: ``{⇕(w0); ⇑(r0,w1); …}``, ⇑ ascending, ⇓ descending, ⇕ either; 0 stands for the data
background, 1 for its complement. For 64-bit words the backgrounds are ⌈log2 64⌉ + 1 = 7. ``up``, ``down`` and ``any``
may be typed for the arrows.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.loads.patterns import ALL_ONES

MARCH_TESTS = {
    "MATS+": "{⇕(w0); ⇑(r0,w1); ⇓(r1,w0)}",
    "C-": "{⇕(w0); ⇑(r0,w1); ⇑(r1,w0); ⇓(r0,w1); ⇓(r1,w0); ⇕(r0)}",
    "LR": "{⇕(w0); ⇓(r0,w1); ⇑(r1,w0,r0,w1); ⇑(r1,w0); ⇑(r0,w1,r1,w0); ⇑(r0)}",
    "SS": "{⇕(w0); ⇑(r0,r0,w0,r0,w1); ⇑(r1,r1,w1,r1,w0); ⇓(r0,r0,w0,r0,w1); ⇓(r1,r1,w1,r1,w0); ⇕(r0)}",
}
"""MATS+ (Abadir, Reghbati 1983), C− (Marinescu 1982; van de Goor 1991), LR (van de Goor, Gaydadjiev 1996), SS
(Hamdioui, van de Goor, Rodgers 2002): 5, 10, 14 and 22 operations a cell.
"""

CHECKED = "{⇕(w0); ⇑(r0,w1); ⇓(r1,w0); ⇕(r0)}"
"""For squares in opposition: every cell holds both values while its neighbours hold the other."""
KEPT = "{⇕(w0); ⇕(r0,w1); ⇕(r1)}"
"""For waiting between its elements: every cell is left alone with both values."""

BACKGROUNDS = (
    0x0000_0000_0000_0000,
    0x5555_5555_5555_5555,
    0x3333_3333_3333_3333,
    0x0F0F_0F0F_0F0F_0F0F,
    0x00FF_00FF_00FF_00FF,
    0x0000_FFFF_0000_FFFF,
    0x0000_0000_FFFF_FFFF,
)
"""Any two bits of a word differ in at least one of them, so coupling inside a word shows."""

HELD_BEFORE = 2
"""Value of an operation that reads what stood there before this background; 0 and 1 are background and complement."""

ARROWS = {"⇑": True, "up": True, "⇓": False, "down": False, "⇕": None, "any": None}
MOST_OPERATIONS = 8
"""An element's operations each cost machine code; published tests have at most six."""


@dataclass(frozen=True, slots=True)
class Operation:
    """Read or write of a cell; ``value`` 0 or 1, in a pass also :data:`HELD_BEFORE`."""

    reads: bool
    value: int

    def show(self) -> str:
        """Like ``r0``."""
        return f"{'r' if self.reads else 'w'}{self.value}"


@dataclass(frozen=True, slots=True)
class Element:
    """One march element: direction (None: either) and operations done on each cell before the next."""

    ascending: bool | None
    operations: tuple[Operation, ...]

    def show(self) -> str:
        """Like ``⇑(r0,w1)``."""
        arrow = {True: "⇑", False: "⇓", None: "⇕"}[self.ascending]
        return f"{arrow}({','.join(operation.show() for operation in self.operations)})"


def show_march(elements: tuple[Element, ...]) -> str:
    """The notation of a test; the opposite of :func:`parse_march`."""
    return f"{{{'; '.join(element.show() for element in elements)}}}"


def operations_a_cell(elements: tuple[Element, ...]) -> int:
    """The test's length: its N."""
    return sum(len(element.operations) for element in elements)


def named_march(text: str) -> str:
    """The notation of a built-in test by its name (``C−`` or ``C-``), or the text itself."""
    wanted = text.strip().upper().replace("−", "-").removeprefix("MARCH").strip()
    return MARCH_TESTS.get(wanted, text)


def parse_march(notation: str) -> tuple[Element, ...]:
    """Read a march test.

    Raises:
        Refused: naming the element that cannot be read, or that reads what memory cannot hold there.
    """
    elements: list[Element] = []
    holds: int | None = None
    for text in notation.strip().removeprefix("{").removesuffix("}").rstrip("; ").split(";"):
        found = re.fullmatch(r"\s*(⇑|⇓|⇕|up|down|any)\s*\(\s*([rw][01](?:\s*,\s*[rw][01])*)\s*\)\s*", text)
        if found is None:
            raise Refused(f"march element {text.strip()!r} is not of the form ⇑(r0,w1), ⇓(…) or ⇕(…).")
        operations = tuple(Operation(one.strip()[0] == "r", int(one.strip()[1])) for one in found[2].split(","))
        if len(operations) > MOST_OPERATIONS:
            raise Refused(f"march element {text.strip()!r} has more than {MOST_OPERATIONS} operations; divide it.")
        for operation in operations:
            if operation.reads and holds != operation.value:
                held = "nothing known" if holds is None else holds
                raise Refused(
                    f"march element {text.strip()!r} reads {operation.value} where memory holds {held}; it would "
                    f"fail on good memory."
                )
            holds = operation.value
        elements.append(Element(ARROWS[found[1]], operations))
    return tuple(elements)


@dataclass(frozen=True, slots=True)
class Pass:
    """Memory once through. ``words`` are what the values 0, 1 and :data:`HELD_BEFORE` stand for."""

    ascending: bool
    operations: tuple[Operation, ...]
    words: tuple[int, int, int]

    @property
    def traffic(self) -> int:
        """Times that each byte crosses the memory bus where what is repeated on a cell stays in the caches."""
        return crossings(self.operations)

    @property
    def paired_traffic(self) -> int:
        """The same where each sub-sweep of the mode ``blocks`` reaches the memory."""
        return sum(crossings(part) for part in paired(self.operations))

    @property
    def leaves(self) -> int:
        """The word that memory holds afterwards."""
        return self.words[self.operations[-1].value]

    def show(self) -> str:
        """Like ``⇑(r5555…,waaaa…)``."""
        done = [f"{'r' if one.reads else 'w'}{self.words[one.value]:016x}" for one in self.operations]
        return f"{'⇑' if self.ascending else '⇓'}({','.join(done)})"


def crossings(operations: tuple[Operation, ...]) -> int:
    """Times that a byte crosses the bus in one sweep: once if anything is read first, once if anything is written."""
    return operations[0].reads + any(not operation.reads for operation in operations)


def lap_passes(
    elements: tuple[Element, ...], backgrounds: tuple[int, ...] = BACKGROUNDS, holds: int | None = None
) -> Iterator[Pass]:
    """The passes of one lap over all backgrounds.

    ``holds`` is the word that all of memory holds when the lap begins (None: unknown). A pass that begins by writing
    over known contents reads and checks them on its way, so that no flip is ever overwritten unseen; a pure read that
    is followed by such a write is the same pass and not made twice.
    """
    steps = [(background, element) for background in backgrounds for element in elements]
    for number, (background, element) in enumerate(steps):
        words = (background, background ^ ALL_ONES, holds if holds is not None else background)
        following = steps[number + 1][1] if number + 1 < len(steps) else None
        only_reads = len(element.operations) == 1 and element.operations[0].reads
        if only_reads and following is not None and not following.operations[0].reads:
            holds = words[element.operations[0].value]
            continue
        operations = element.operations
        if not operations[0].reads and holds is not None:
            operations = (Operation(True, HELD_BEFORE), *operations)
        one = Pass(element.ascending is not False, operations, words)
        yield one
        holds = one.leaves


def last_word(elements: tuple[Element, ...], backgrounds: tuple[int, ...] = BACKGROUNDS) -> int:
    """The word that all of memory holds after a lap."""
    return backgrounds[-1] ^ (ALL_ONES if elements[-1].operations[-1].value else 0)


def paired(operations: tuple[Operation, ...]) -> tuple[tuple[Operation, ...], ...]:
    """An element's operations as sub-sweeps of at most one read and one write after it: between two of them a block is
    flushed, so that each reaches the memory.
    """
    parts: list[tuple[Operation, ...]] = []
    for operation in operations:
        if parts and not operation.reads and len(parts[-1]) == 1 and parts[-1][0].reads:
            parts[-1] = (*parts[-1], operation)
        else:
            parts.append((operation,))
    return tuple(parts)
