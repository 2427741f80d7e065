"""A sensor's readings over time, to be drawn: whatever the length, a window of it is asked for in so many buckets."""

from dataclasses import dataclass, field
from typing import Protocol

Span = tuple[float, float]
"""Lowest and highest reading of a stretch."""

CAPACITY = 1024
"""Buckets that a live series keeps; when they are full, neighbours are merged and each is twice as long."""


class Series(Protocol):
    """Readings that can be looked at through a window."""

    def buckets(self, start_s: float, end_s: float, count: int) -> list[Span | None]:
        """Divide a window of time into so many buckets; None where nothing was read."""
        ...


@dataclass(slots=True)
class LiveSeries:
    """Takes readings as they come, for as long as it must, in room that does not grow."""

    capacity: int = CAPACITY
    width_s: float = 1.0
    _spans: list[Span | None] = field(default_factory=list)

    def add(self, at_s: float, value: float | None) -> None:
        """Take a reading; times go forward."""
        while int(at_s / self.width_s) >= self.capacity:
            self._spans = [merged(self._spans[k : k + 2]) for k in range(0, len(self._spans), 2)]
            self.width_s *= 2
        place = int(at_s / self.width_s)
        self._spans += [None] * (place + 1 - len(self._spans))
        if value is not None:
            self._spans[place] = merged([self._spans[place], (value, value)])

    def buckets(self, start_s: float, end_s: float, count: int) -> list[Span | None]:
        """See :class:`Series`; a bucket shorter than a kept one shows that one."""
        step = (end_s - start_s) / max(1, count)
        result = []
        for k in range(count):
            first = int((start_s + k * step) / self.width_s)
            last = max(first + 1, int((start_s + (k + 1) * step) / self.width_s))
            result.append(merged(self._spans[max(0, first) : max(0, last)]))
        return result


def merged(spans: "list[Span | None]") -> Span | None:
    """The span over all of them."""
    known = [span for span in spans if span is not None]
    return (min(low for low, _ in known), max(high for _, high in known)) if known else None
