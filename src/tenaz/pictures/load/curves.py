"""Curves of a past trial out of its packed telemetry, fast enough to scroll through a day of it."""

import zlib
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tenaz.core.sensors.series import Span
from tenaz.core.sensors.telemetry import Sensor
from tenaz.core.sensors.trace import NOTHING, STEP, TIME_STEP_S, TraceChunk


class KeptSeries:
    """One sensor's readings at their times, both arrays of one length; NaN is nothing read."""

    def __init__(self, times_s: NDArray[np.float64], values: NDArray[np.float64]) -> None:
        self._times_s = times_s
        self._values = values

    @property
    def last(self) -> float | None:
        """The newest reading."""
        known = self._values[~np.isnan(self._values)]
        return float(known[-1]) if known.size else None

    def buckets(self, start_s: float, end_s: float, count: int) -> list[Span | None]:
        """See :class:`tenaz.core.sensors.series.Series`."""
        edges = np.searchsorted(self._times_s, np.linspace(start_s, end_s, count + 1))
        spans: list[Span | None] = []
        for first, last in pairwise(edges.tolist()):
            part = self._values[first:last]
            part = part[~np.isnan(part)]
            spans.append((float(part.min()), float(part.max())) if part.size else None)
        return spans


def kept_series(chunks: Sequence[TraceChunk]) -> dict[Sensor, KeptSeries]:
    """The series of each sensor over all stretches, in the order of the sensors.

    A stretch that cannot be unpacked is a gap, not the loss of the others.
    """
    times: dict[Sensor, list[NDArray[np.float64]]] = {}
    values: dict[Sensor, list[NDArray[np.float64]]] = {}
    for chunk in chunks:
        try:
            flat = np.frombuffer(zlib.decompress(chunk.packed), dtype="<i4")
            columns = np.cumsum(flat.reshape(len(chunk.sensors) + 1, chunk.samples), axis=1, dtype=np.int32)
        except (zlib.error, ValueError):
            continue
        at_s = columns[0] * TIME_STEP_S
        for sensor, column in zip(chunk.sensors, columns[1:], strict=True):
            times.setdefault(sensor, []).append(at_s)
            values.setdefault(sensor, []).append(np.where(column == NOTHING, np.nan, column * STEP[sensor.kind]))
    return {sensor: KeptSeries(np.concatenate(times[sensor]), np.concatenate(values[sensor])) for sensor in times}
