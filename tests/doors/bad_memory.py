"""Memory that does not do as it is told, for a load that runs in this process: whatever a piece of work left there, the
fault has it again before the next.
"""

import ctypes
import time
from collections import defaultdict
from collections.abc import Callable
from typing import Any

from tenaz.benches.here import surroundings
from tenaz.core.loads.plan import LoadPlan
from tenaz.loads.crews import specs_for
from tenaz.loads.memory import Block
from tenaz.loads.spec import Spec
from tenaz.loads.worker import Line, load_of

WORD_BYTES = 8
Fault = Callable[[int], None]
"""Told where the block begins."""


class OwnLine(Line):
    """A worker's line without a parent, for so many seconds; ``fault`` is done to its block at each look up."""

    def __init__(self, spec: Spec, most_s: float, fault: Fault | None = None) -> None:
        self._fault, self._until_s, self._most_s = fault, float("inf"), most_s
        self._base: int | None = None
        self.told: dict[str, list[dict[str, Any]]] = defaultdict(list)
        self.values: dict[int, set[int]] = defaultdict(set)
        """Of the words looked at, the values that they were seen with."""
        self.looked_at: list[int] = []
        super().__init__(spec)

    def _listen(self) -> None:
        pass

    def say(self, word: str, **fields: Any) -> None:
        self.told[word].append(fields)

    @property
    def stopping(self) -> bool:
        self._again()
        return time.monotonic() > self._until_s or super().stopping

    def take_block(self) -> Block:
        block = super().take_block()
        self._base = block.address
        return block

    def wait_for_go(self, **block: int) -> None:
        self._go.set()
        super().wait_for_go(**block)
        self._until_s = time.monotonic() + self._most_s

    def worked(self, laps: float, work: float, doing: str | Callable[[], str]) -> None:
        self._again()
        super().worked(laps, work, doing)

    def wrong_word(self, *args: Any, **more: Any) -> None:
        self._again()
        super().wrong_word(*args, **more)

    def _again(self) -> None:
        if self._base is None:
            return
        if self._fault is not None:
            self._fault(self._base)
        for offset in self.looked_at:
            self.values[offset].add(ctypes.c_uint64.from_address(self._base + offset).value)


def run_on(plan: LoadPlan, most_s: float, fault: Fault | None = None, looked_at: tuple[int, ...] = ()) -> OwnLine:
    """Run the first worker of a plan here; gives what it told. It has ended when this returns."""
    spec = specs_for(plan, surroundings(plan))[0]
    line = OwnLine(spec, most_s, fault)
    line.looked_at = list(looked_at)
    line.done(load_of(plan.kind)(spec, line))
    return line


def stuck(offset: int, bit: int, value: int) -> Fault:
    """A cell that holds one value for ever."""

    def fault(base: int) -> None:
        word = ctypes.c_uint64.from_address(base + offset)
        word.value = word.value | 1 << bit if value else word.value & ~(1 << bit)

    return fault


def stuck_line(bit: int, value: int, every_bytes: int) -> Fault:
    """One data line: the same bit of every so many bytes."""

    def fault(base: int) -> None:
        for offset in range(0, 1 << 20, every_bytes):
            stuck(offset, bit, value)(base)

    return fault


def lost_writes(offset: int, size: int) -> Fault:
    """Whatever is written to a page from now on is lost."""
    held: list[bytes] = []

    def fault(base: int) -> None:
        if not held:
            held.append(ctypes.string_at(base + offset, size))
        ctypes.memmove(base + offset, held[0], size)

    return fault
