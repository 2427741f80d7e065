"""A load's own check, tried while it runs: an error is planted in its data, and must be found, with the right bit.

A bit that is wrong in the code that compares, or in the tables it goes by, can leave a check blind and quiet: it then
passes whatever comes. So at moments that nobody can foresee, a few a minute, known errors are planted where the check
looks next, and the machine code that compares is summed up. What is not found ends the load, which then says nothing of
the rig.
"""

import time
from collections.abc import Callable, Iterator
from random import SystemRandom

from tenaz.loads.kernels.native import code_sums

FIRST_S, OFTEN_S = (0.4, 2.0), (5.0, 12.0)
"""When the first trial of the check comes, and how long after each the next: drawn anew each time."""

MOST_SHARE, AT_FIRST_S = 0.0008, 0.004
"""Of the worker's time that trying may take, and what it may take before it has worked; what takes long is done more
seldom, and not all at once.
"""

Plant = Callable[[], str]
"""Plants one error or some, sees whether they are found, and puts all right; says what was not found, or nothing."""


class Checked:
    """When to try, and what is tried: ``plants`` gives what can be planted now."""

    def __init__(
        self,
        plants: Callable[[SystemRandom], Iterator[Plant]],
        now_s: Callable[[], float] = time.monotonic,
    ) -> None:
        self._plants, self._now_s = plants, now_s
        self._luck = SystemRandom()
        self._began_s = now_s()
        self._next_s = self._began_s + self._luck.uniform(*FIRST_S)
        self._code = code_sums()
        self.tried, self.took_s, self.longest_s = 0, 0.0, 0.0

    def look(self) -> str:
        """Try, if it is time; says what was not found, or nothing."""
        if self._now_s() < self._next_s:
            return ""
        began_s = self._now_s()
        found = self._try()
        took_s = self._now_s() - began_s
        self.took_s += took_s
        self.longest_s = max(self.longest_s, took_s)
        self._next_s = self._now_s() + self._luck.uniform(*OFTEN_S)
        return found

    def _try(self) -> str:
        self.tried += 1
        now = code_sums()
        for function, before in self._code.items():
            if now.get(function, before) != before:
                return f"the machine code of {function[0]} is not what it was when the load began"
        # What was compiled since is taken as it is, and watched from now on.
        self._code = now
        began_s = self._now_s()
        may_take_s = AT_FIRST_S + MOST_SHARE * (began_s - self._began_s) - self.took_s
        plants = list(self._plants(self._luck))
        self._luck.shuffle(plants)
        for plant in plants:
            if self._now_s() - began_s > may_take_s:
                break
            if missed := plant():
                return missed
        return ""


def told(where: str, bit: int) -> str:
    """In words, that a planted error was not found."""
    return f"an error planted in bit {bit} of {where} was not found"
