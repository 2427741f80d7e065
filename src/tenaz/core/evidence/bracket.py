"""The bracket of an edge: the hardest value that held, the easiest that failed."""

from collections.abc import Iterable
from dataclasses import dataclass

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Knob


@dataclass(frozen=True, slots=True)
class Bracket:
    """``held`` and ``failed`` in the knob's unit; None while nothing held, or nothing failed.

    A value counts as failed when any trial there failed; ``held`` is the hardest value easier than every failure.
    """

    held: int | None
    failed: int | None

    def closed(self, knob: Knob) -> bool:
        """Whether no untried grid value is left between the two."""
        if self.held is None or self.failed is None:
            return False
        return knob.strain(self.failed) - knob.strain(self.held) == 1

    def show(self, knob: Knob) -> str:
        """Like ``held 6000 · failed 6200 MT/s``, or ``held 6000 MT/s · nothing failed``."""
        unit = f" {knob.unit}".rstrip()
        held = "nothing held" if self.held is None else f"held {self.held}{unit if self.failed is None else ''}"
        failed = "nothing failed" if self.failed is None else f"failed {self.failed}{unit}"
        return f"{held} · {failed}"


class Bracketing:
    """A bracket that is closed in upon, result by result."""

    def __init__(self, knob: Knob) -> None:
        self._knob = knob
        self._passed: set[int] = set()
        self._failed: int | None = None
        self._held: int | None = None

    def take(self, value: int, verdict: Verdict) -> Bracket:
        """The bracket after one more result; void ones say nothing."""
        strain = self._knob.strain(value)
        if verdict is Verdict.FAIL and (self._failed is None or strain < self._failed):
            self._failed = strain
            self._held = max((passed for passed in self._passed if passed < strain), default=None)
        elif verdict is Verdict.PASS:
            self._passed.add(strain)
            if (self._failed is None or strain < self._failed) and (self._held is None or strain > self._held):
                self._held = strain
        return self.now

    @property
    def now(self) -> Bracket:
        """The bracket as it stands."""
        held, failed = self._held, self._failed
        at_strain = self._knob.at_strain
        return Bracket(None if held is None else at_strain(held), None if failed is None else at_strain(failed))


def bracket_of(knob: Knob, results: Iterable[tuple[int, Verdict]]) -> Bracket:
    """The bracket after these results (value, verdict) along one knob."""
    bracketing = Bracketing(knob)
    # In whatever order they come, and however often: the easiest that failed, and the hardest that passed before it.
    for value, verdict in set(results):
        bracketing.take(value, verdict)
    return bracketing.now
