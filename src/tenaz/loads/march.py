"""March tests: their notation, and the passes over memory that a lap is made of.

Notation of van de Goor: ``{⇕(w0); ⇑(r0,w1); …}``, ⇑ ascending, ⇓ descending, ⇕ either; 0 stands for the data
background, 1 for its complement. For 64-bit words the backgrounds are ⌈log2 64⌉ + 1 = 7.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass

MARCH_C_MINUS = "{⇕(w0); ⇑(r0,w1); ⇑(r1,w0); ⇓(r0,w1); ⇓(r1,w0); ⇕(r0)}"
"""March C− (Marinescu 1982; van de Goor 1991), 10 operations a cell."""

ALL_ONES = 0xFFFF_FFFF_FFFF_FFFF

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


@dataclass(frozen=True, slots=True)
class Element:
    """One march element: direction, and the value read and written as 0 or 1 (None: does not)."""

    ascending: bool
    read: int | None
    write: int | None


@dataclass(frozen=True, slots=True)
class Pass:
    """Memory once through: what each word must hold (None: not looked at) and what is then written (None: nothing)."""

    ascending: bool
    expected: int | None
    written: int | None

    @property
    def traffic(self) -> int:
        """Times that each byte crosses the memory bus: one for reading, one for writing."""
        return (self.expected is not None) + (self.written is not None)

    def show(self) -> str:
        """Like ``⇑(r5555…,waaaa…)``."""
        operations = []
        if self.expected is not None:
            operations.append(f"r{self.expected:016x}")
        if self.written is not None:
            operations.append(f"w{self.written:016x}")
        return f"{'⇑' if self.ascending else '⇓'}({','.join(operations)})"


def parse_march(notation: str) -> tuple[Element, ...]:
    """Read a march test whose elements are ``(w)``, ``(r)`` or ``(r,w)``.

    Raises:
        ValueError: naming the element that cannot be read.
    """
    elements = []
    for text in notation.strip().strip("{}").split(";"):
        found = re.fullmatch(r"\s*([⇑⇓⇕])\(\s*(?:r([01]))?\s*,?\s*(?:w([01]))?\s*\)\s*", text)
        if not found or (found[2] is None and found[3] is None):
            raise ValueError(f"march element {text.strip()!r} is not of the form ⇑(r0,w1)")
        elements.append(
            Element(found[1] != "⇓", *(None if digit is None else int(digit) for digit in (found[2], found[3])))
        )
    return tuple(elements)


def lap_passes(
    elements: tuple[Element, ...], backgrounds: tuple[int, ...] = BACKGROUNDS, holds: int | None = None
) -> Iterator[Pass]:
    """The passes of one lap over all backgrounds.

    ``holds`` is the word that all of memory holds when the lap begins (None: unknown). A pure write that follows
    known contents reads and checks them on its way, so that no flip is ever overwritten unseen; a pure read that is
    followed by such a write is the same pass and not made twice.
    """
    steps = [
        (
            element,
            background ^ (ALL_ONES if element.read else 0),
            background ^ (ALL_ONES if element.write else 0),
        )
        for background in backgrounds
        for element in elements
    ]
    for k, (element, read, write) in enumerate(steps):
        following = steps[k + 1][0] if k + 1 < len(steps) else None
        if element.write is None and following is not None and following.read is None:
            holds = read
            continue
        expected = read if element.read is not None else holds
        written = write if element.write is not None else None
        yield Pass(element.ascending, expected, written)
        holds = written if written is not None else expected


def last_word(elements: tuple[Element, ...], backgrounds: tuple[int, ...] = BACKGROUNDS) -> int:
    """The word that all of memory holds after a lap."""
    value = next(bit for e in reversed(elements) for bit in (e.write, e.read) if bit is not None)
    return backgrounds[-1] ^ (ALL_ONES if value else 0)
