"""The Load canvas: which trial it shows, which stretch of time, and where its cursor stands."""

from tenaz.charts.load import Curve, Event, LoadPicture
from tenaz.charts.marks import mark_of
from tenaz.core.loading import LaneProgress, LoadProgress
from tenaz.core.rigs import Purpose
from tenaz.core.series import LiveSeries, Series
from tenaz.core.telemetry import Sample, Sensor, SensorKind, ceilings_for
from tenaz.core.trials import Trial

LEAST_WINDOW_S = 10.0
CURSOR_STEPS = 60
"""The cursor crosses the window in so many steps."""

FIRST = (SensorKind.TEMPERATURE, SensorKind.CLOCK, SensorKind.POWER, SensorKind.VOLTAGE, SensorKind.FAN)
"""The order in which kinds of sensors are shown; all others come behind."""


class LoadView:
    """Takes what a running load says, or what the book kept of a past one."""

    def __init__(self, purpose: Purpose) -> None:
        self.purpose = purpose
        self.filter = ""
        self.begin(None)

    def begin(self, trial_id: int | None) -> None:
        """Show another trial, from nothing."""
        self.trial_id = trial_id
        self._series: dict[Sensor, Series] = {}
        self._last: dict[Sensor, float] = {}
        self._lanes: tuple[LaneProgress, ...] = ()
        self._length_s = 0.0
        self._window: tuple[float, float] | None = None
        self._cursor_s: float | None = None

    def take_progress(self, trial_id: int, progress: LoadProgress) -> None:
        """What the workers do now."""
        if trial_id != self.trial_id:
            self.begin(trial_id)
        self._lanes = progress.lanes
        self._length_s = max(self._length_s, progress.elapsed_s)

    def take_sample(self, trial_id: int, sensors: tuple[Sensor, ...], sample: Sample) -> None:
        """What the sensors read now."""
        if trial_id != self.trial_id:
            self.begin(trial_id)
        self._length_s = max(self._length_s, sample.at_s)
        for sensor, value in zip(sensors, sample.values, strict=True):
            series = self._series.setdefault(sensor, LiveSeries())
            if isinstance(series, LiveSeries):
                series.add(sample.at_s, value)
            if value is not None:
                self._last[sensor] = value

    def take_kept(self, trial: Trial, series: dict[Sensor, Series], last: dict[Sensor, float | None]) -> None:
        """What the book kept of a past trial."""
        self.begin(trial.id)
        self._series = dict(series)
        self._last = {sensor: value for sensor, value in last.items() if value is not None}
        self._length_s = trial.elapsed_s

    def move(self, step: int) -> None:
        """Move the cursor; at the window's end the window moves along."""
        start, end = self._shown()
        length = end - start
        at = (end if self._cursor_s is None else self._cursor_s) + step * length / CURSOR_STEPS
        self._cursor_s = max(0.0, min(self._length_s, at))
        if not start <= self._cursor_s <= end:
            shift = self._cursor_s - (start if self._cursor_s < start else end)
            self._window = (start + shift, end + shift)

    def zoom(self, factor: float) -> None:
        """Show less (below 1) or more time around the cursor."""
        start, end = self._shown()
        length = max(LEAST_WINDOW_S, (end - start) * factor)
        if length >= self._length_s:
            self._window = None
            return
        middle = self._cursor_s if self._cursor_s is not None else end
        start = max(0.0, min(self._length_s - length, middle - length / 2))
        self._window = (start, start + length)

    def picture(self, trial: Trial | None) -> LoadPicture:
        """The picture of what is known."""
        start, end = self._shown()
        ceilings = {ceiling.sensor_id: ceiling for ceiling in ceilings_for(tuple(self._series), self.purpose)}
        shown = [sensor for sensor in self._series if self.filter.lower() in sensor.label.lower()]
        order = sorted(shown, key=lambda s: FIRST.index(s.kind) if s.kind in FIRST else len(FIRST))
        events = []
        title = "no load has run yet: t starts a trial"
        unit = ""
        if trial is not None:
            title, unit = f"trial {trial.number}: {trial.plan.show()}", trial.plan.kind.rate_unit
            if trial.failed_after_s:
                mark = mark_of(trial.outcome)
                events.append(Event(trial.failed_after_s, mark.sign, mark.word))
        return LoadPicture(
            title=title,
            rate_unit=unit,
            lanes=self._lanes,
            curves=tuple(
                Curve(sensor, self._series[sensor], ceilings.get(sensor.id), self._last.get(sensor)) for sensor in order
            ),
            events=tuple(events),
            start_s=start,
            end_s=end,
            cursor_s=self._cursor_s,
        )

    def _shown(self) -> tuple[float, float]:
        return self._window or (0.0, max(LEAST_WINDOW_S, self._length_s))
