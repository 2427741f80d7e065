"""Telemetry in compact form: a stretch of samples as differences of whole numbers, compressed.

A day of 64 sensors each second is 5.5 million readings. Readings move little from one to the next, so their differences
in the finest step worth keeping are small numbers, and those compress well.
"""

import array
import math
import sys
import zlib
from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.sensors.telemetry import Sample, Sensor, SensorKind

CHUNK_SAMPLES = 60
"""Samples in a chunk: at one a second a crash loses less than a minute of curves."""

STEP = {
    SensorKind.TEMPERATURE: 0.1,
    SensorKind.FAN: 10.0,
    SensorKind.VOLTAGE: 0.001,
    SensorKind.POWER: 0.1,
    SensorKind.CURRENT: 0.01,
    SensorKind.CLOCK: 1.0,
    SensorKind.THROTTLES: 1.0,
    SensorKind.HARDWARE_ERRORS: 1.0,
}
"""What one whole number stands for, in the sensor's unit: finer than any sensor on a board really is."""

NOTHING = -(2**31)
"""Stands for a reading that gave nothing."""

MOST = 2**31 - 1
TIME_STEP_S = 0.001


@dataclass(frozen=True, slots=True)
class TraceChunk:
    """A stretch of samples, packed: the sensors, how many samples, and the bytes."""

    sensors: tuple[Sensor, ...]
    samples: int
    packed: bytes


def pack(sensors: Sequence[Sensor], samples: Sequence[Sample]) -> TraceChunk:
    """Pack samples, sensor by sensor, times first; readings are rounded to the step of their kind."""
    columns = [_whole([sample.at_s for sample in samples], TIME_STEP_S)]
    for place, sensor in enumerate(sensors):
        columns.append(_whole([sample.values[place] for sample in samples], STEP[sensor.kind]))
    differences = array.array("i")
    for column in columns:
        before = 0
        for number in column:
            # Differences wrap around in 32 bits, as their sums do when they are unpacked.
            differences.append((number - before + 2**31) % 2**32 - 2**31)
            before = number
    if sys.byteorder == "big":
        differences.byteswap()
    return TraceChunk(tuple(sensors), len(samples), zlib.compress(differences.tobytes(), 6))


def check(chunk: TraceChunk) -> None:
    """Refuse bytes that do not hold as many numbers as the chunk says.

    Raises:
        ValueError: saying what they hold.
    """
    try:
        count = len(zlib.decompress(chunk.packed)) // 4
    except (zlib.error, TypeError) as error:
        raise ValueError(f"a chunk of {chunk.samples} samples cannot be unpacked: {error}") from error
    if count != chunk.samples * (len(chunk.sensors) + 1):
        raise ValueError(f"a chunk of {chunk.samples} samples holds {count} numbers")


def unpack(chunk: TraceChunk) -> list[Sample]:
    """The samples again.

    Raises:
        ValueError: bytes that no packing made.
    """
    differences = array.array("i")
    try:
        differences.frombytes(zlib.decompress(chunk.packed))
    except (zlib.error, ValueError) as error:
        raise ValueError(f"a chunk of {chunk.samples} samples cannot be unpacked: {error}") from error
    if sys.byteorder == "big":
        differences.byteswap()
    if len(differences) != chunk.samples * (len(chunk.sensors) + 1):
        raise ValueError(f"a chunk of {chunk.samples} samples holds {len(differences)} numbers")
    columns = []
    for start in range(0, len(differences), chunk.samples or 1):
        number, column = 0, []
        for difference in differences[start : start + chunk.samples]:
            number = (number + difference + 2**31) % 2**32 - 2**31
            column.append(number)
        columns.append(column)
    times, readings = columns[0] if columns else [], columns[1:]
    steps = [STEP[sensor.kind] for sensor in chunk.sensors]
    return [
        Sample(
            times[k] * TIME_STEP_S,
            tuple(
                None if column[k] == NOTHING else column[k] * step for column, step in zip(readings, steps, strict=True)
            ),
        )
        for k in range(chunk.samples)
    ]


def _whole(values: Sequence[float | None], step: float) -> list[int]:
    return [
        NOTHING if value is None or not math.isfinite(value) else max(-MOST, min(MOST, round(value / step)))
        for value in values
    ]
