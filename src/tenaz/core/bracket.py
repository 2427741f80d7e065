"""The bracket of an edge: the hardest value that held, the easiest that failed."""

from collections.abc import Iterable
from dataclasses import dataclass

from tenaz.core.knobs import Knob
from tenaz.core.outcomes import Verdict


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


def bracket_of(knob: Knob, results: Iterable[tuple[int, Verdict]]) -> Bracket:
    """The bracket after these results (value, verdict) along one knob; void ones say nothing."""
    known = [(value, verdict) for value, verdict in results if verdict is not Verdict.VOID]
    failed = min((knob.strain(v) for v, verdict in known if verdict is Verdict.FAIL), default=None)
    held = max(
        (
            knob.strain(v)
            for v, verdict in known
            if verdict is Verdict.PASS and (failed is None or knob.strain(v) < failed)
        ),
        default=None,
    )
    return Bracket(None if held is None else knob.at_strain(held), None if failed is None else knob.at_strain(failed))
