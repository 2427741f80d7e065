"""``pulse`` in a worker: all cores in step between idle and full, on one grid of the monotonic clock.

What it strains: the supply and its regulation, by the largest steps of current that the processor can ask for.
"""

import time
from collections.abc import Callable

from tenaz.loads.kinds.transforming import TransformBlock, blocks_of, checked
from tenaz.loads.spec import Spec
from tenaz.loads.worker import Line

LEAST_SPIN_S = 300e-6
"""Before an edge the clock is watched for at least so long; a sleep alone wakes tens of microseconds late."""
MOST_SPIN_OF_PERIOD = 0.125
KEPT_WAKES = 64
WAKES_COVERED = 0.97
"""Part of the last wakes whose lateness the watching covers: virtual machines wake later than others."""
CALL_S = 200e-6
"""Length of a call while full: the edge back to idle is no later than that."""
KEPT_EDGES = 1000


def run(spec: Spec, line: Line) -> float:
    """Full for the first half of each period, idle for the second; a lap is a period."""
    block: TransformBlock = blocks_of(spec, line)[0]
    block.place(line.preparing)
    line.wait_for_go(**block.described)
    block.learn()
    line.check_by(checked([block]))
    period = 1.0 / spec.plan.pulse_hz
    edges, late_s = Edges(period, line.paused), list[float]()
    pulses = 0
    number = int((time.monotonic() - spec.epoch_s) / period) + 2
    while not line.stopping and pulses != spec.plan.laps:
        edge = spec.epoch_s + number * period
        late_s.append(edges.wait_for(edge))
        del late_s[:-KEPT_EDGES]
        end = edge + period / 2
        while time.monotonic() < end and not line.stopping:
            block.burst(CALL_S)
        pulses += 1
        number = max(number + 1, int((time.monotonic() - spec.epoch_s) / period) + 1)
        within = sorted(late_s)[int(0.95 * (len(late_s) - 1))]
        line.worked(float(pulses), block.take_work(), f"95 % of edges within {1e6 * within:.1f} µs")
    return float(pulses)


class Edges:
    """Waits for edges: sleeps most of the way and watches the clock for the rest, as long as sleeps wake late here."""

    def __init__(self, period_s: float, paused: Callable[[float], None] = lambda _: None) -> None:
        self._paused = paused
        self._most_s = MOST_SPIN_OF_PERIOD * period_s
        self._late_s: list[float] = []

    def wait_for(self, edge_s: float) -> float:
        """Gives by how much the edge was missed, in s."""
        wake_s = edge_s - self._spin_s()
        left = wake_s - time.monotonic()
        if left > 0:
            time.sleep(left)
            self._paused(left)
            self._late_s.append(time.monotonic() - wake_s)
            del self._late_s[:-KEPT_WAKES]
        while (now := time.monotonic()) < edge_s:
            pass
        return now - edge_s

    def _spin_s(self) -> float:
        if not self._late_s:
            return self._most_s
        late = sorted(self._late_s)[int(WAKES_COVERED * (len(self._late_s) - 1))]
        return max(LEAST_SPIN_S, min(self._most_s, 1.5 * late))
