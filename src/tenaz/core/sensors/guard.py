"""Watches samples against ceilings: what is warned of, when the run must stop, and why. Samples in, words out."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.sensors.alarms import Alarm
from tenaz.core.sensors.telemetry import Ceiling, Health, Record, Sample, Sensor, SensorKind

__all__ = ["Alarm", "Guard", "Said"]

SAMPLES_OVER_CEILING = 2
"""One sample over the stop ceiling may be a glitch of the sensor; the second in a row stops."""


@dataclass(frozen=True, slots=True)
class Said:
    """One thing that is said, at a time of the load in seconds."""

    at_s: float
    alarm: Alarm
    text: str

    def show(self) -> str:
        """One line; what is a note or a wrong value says so by itself."""
        return self.text if self.alarm in (Alarm.NOTE, Alarm.WRONG_VALUE) else f"{self.alarm}: {self.text}"


class Guard:
    """Sees every sample of one run, in order.

    A sensor that dies, sticks or reads nonsense is said to do so, and stops nothing, unless it has a ceiling: then
    nobody watches the temperature any more, and the run must stop.
    """

    def __init__(self, sensors: Sequence[Sensor], ceilings: Sequence[Ceiling], period_s: float | None = None) -> None:
        bad = next((one for one in ceilings if not one.warning <= one.stop < float("inf")), None)
        if bad is not None:
            raise Refused(
                f"The ceilings of {bad.sensor_id}, {bad.warning} and {bad.stop}, guard nothing: give two temperatures, "
                f"warning and stop, in the rig's purpose."
            )
        self.records = tuple(Record(sensor) for sensor in sensors)
        self._ceilings = {ceiling.sensor_id: ceiling for ceiling in ceilings}
        self._over = [0] * len(self.records)
        self._warned: set[int] = set()
        self._health = [Health.FINE] * len(self.records)
        self._first: list[float | None] = [None] * len(self.records)
        self._period_s = period_s

    @property
    def guards(self) -> bool:
        """Whether anything must stop for what it sees."""
        return bool(self._ceilings) or any(record.sensor.kind is SensorKind.HARDWARE_ERRORS for record in self.records)

    def see(self, sample: Sample) -> list[Said]:
        """Take a sample; gives what is new about it."""
        said = []
        for place, (record, value) in enumerate(zip(self.records, sample.values, strict=True)):
            health = record.see(value)
            said += self._about_health(place, record, health, sample.at_s)
            if record.sensor.kind.counts:
                said += self._about_counter(place, record, sample.at_s)
            elif record.bad == 0:
                said += self._about_ceiling(place, record, sample)
        return said

    def overdue(self, since_s: float, at_s: float) -> list[Said]:
        """What is to be made of it that no sample came for so long: one over a stop ceiling is not waited for longer
        than two samples take, however slowly it answers.
        """
        if self._period_s is None or since_s < SAMPLES_OVER_CEILING * self._period_s:
            return []
        hot = [place for place, over in enumerate(self._over) if 0 < over < SAMPLES_OVER_CEILING]
        for place in hot:
            self._over[place] = SAMPLES_OVER_CEILING
        return [self._too_hot(self.records[place], at_s) for place in hot]

    def _about_health(self, place: int, record: Record, health: Health, at_s: float) -> list[Said]:
        before, self._health[place] = self._health[place], health
        if health is before:
            return []
        name = record.sensor.label
        if health is Health.FINE:
            return [Said(at_s, Alarm.SENSOR, f"{name} reads again")]
        if record.sensor.id in self._ceilings and health is not Health.STUCK:
            return [Said(at_s, Alarm.BLIND, f"{name} {health}: nothing guards the temperature any more")]
        if record.sensor.kind is SensorKind.HARDWARE_ERRORS and record.count:
            return [Said(at_s, Alarm.BLIND, f"{name} {health}: nobody hears of hardware errors any more")]
        return [Said(at_s, Alarm.SENSOR, f"{name} {health}")]

    def _about_counter(self, place: int, record: Record, at_s: float) -> list[Said]:
        """A counter that rose says that something happened; where it stood before the run says nothing."""
        if record.last is None:
            return []
        known = self._first[place]
        self._first[place] = record.last
        if known is None or record.last <= known:
            return []
        rise = int(record.last - known)
        if record.sensor.kind is SensorKind.HARDWARE_ERRORS:
            text = f"{record.sensor.label}: {rise} hardware error record{'s' if rise != 1 else ''}"
            return [Said(at_s, Alarm.HARDWARE_ERROR, text)]
        return [Said(at_s, Alarm.THROTTLED, f"{record.sensor.label}: throttled {rise} time{'s' if rise != 1 else ''}")]

    def _too_hot(self, record: Record, at_s: float) -> Said:
        unit, ceiling = record.sensor.kind.unit, self._ceilings[record.sensor.id]
        text = f"{record.sensor.label} {record.last:.0f} {unit}, stop at {ceiling.stop:.0f} {unit}"
        return Said(at_s, Alarm.TOO_HOT, text)

    def _about_ceiling(self, place: int, record: Record, sample: Sample) -> list[Said]:
        ceiling, at_s = self._ceilings.get(record.sensor.id), sample.at_s
        if ceiling is None or record.last is None:
            return []
        unit, name, value = record.sensor.kind.unit, record.sensor.label, record.last
        if ceiling.instead and record.count == 1 and value >= ceiling.warning:
            del self._ceilings[record.sensor.id]
            return [Said(at_s, Alarm.SENSOR, f"{name} reads {value:.0f} {unit} before anything ran: it guards nothing")]
        before = self._over[place]
        # An answer that took as long as further samples would have counts for them too.
        samples = 1 + int(sample.took_s / self._period_s) if self._period_s else 1
        self._over[place] = before + samples if value >= ceiling.stop else 0
        if before < SAMPLES_OVER_CEILING <= self._over[place]:
            self._warned.add(place)
            return [self._too_hot(record, at_s)]
        if value >= ceiling.warning and place not in self._warned:
            self._warned.add(place)
            return [Said(at_s, Alarm.WARNING, f"{name} {value:.0f} {unit}, warning from {ceiling.warning:.0f} {unit}")]
        if value < ceiling.warning:
            self._warned.discard(place)
        return []
