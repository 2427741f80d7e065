"""What was found in the book, counted: by board, by modules …, with the interval of the share that held."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Tally:
    """One kind: what it is called, how many rigs and which, trials that held and failed, and the interval at 95 % of
    the share that holds; ``rigs_held`` are those on which none failed.
    """

    label: str
    rigs: tuple[str, ...]
    rigs_held: int
    held: int
    failed: int
    low: float
    high: float

    def show(self) -> str:
        """In one line."""
        trials = self.held + self.failed
        share = f"{self.held} of {trials} trials held ({100 * self.low:.0f} to {100 * self.high:.0f} %)"
        rigs = f"{self.rigs_held} of {len(self.rigs)} rig{'s' if len(self.rigs) != 1 else ''} without a failure"
        return f"{self.label}: {share}; {rigs} ({', '.join(self.rigs)})"
