"""The Load page: which trial it shows, which stretch of time, and where its cursor stands."""

from collections.abc import Sequence

from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadProgress, Mismatch
from tenaz.core.rigs.rig import Purpose
from tenaz.core.sensors.guard import Said
from tenaz.core.sensors.series import LiveSeries, Span, merged
from tenaz.core.sensors.telemetry import Sample, Sensor, SensorKind
from tenaz.core.trials.trial import Trial
from tenaz.finding.prints.suspicion import Circumstances
from tenaz.pictures.load.build import LEAST_WINDOW_S, KnownOfLoad, load_picture, whole_window
from tenaz.pictures.load.model import CURSOR_STEPS, LoadPicture
from tenaz.pictures.prints.model import PrintsPicture, prints_picture


class LoadView:
    """Takes what a running load says, or what the book kept of a past one."""

    def __init__(self, purpose: Purpose, stock: Setpoint | None = None, slots: Sequence[str] = ()) -> None:
        self.stock, self.slots = stock, slots
        self.purpose = purpose
        self.filter = ""
        self.begin(None)

    def begin(self, trial_id: int | None) -> None:
        """Show another trial, from nothing."""
        self.trial_id = trial_id
        self.asked: int | None = None
        """The trial whose load is on its way."""
        self._known = KnownOfLoad()
        self._length_s = 0.0
        self._window: tuple[float, float] | None = None
        self._cursor_s: float | None = None

    @property
    def elapsed_s(self) -> float:
        """How long the load that is shown has run."""
        return self._length_s

    def take_progress(self, trial_id: int, progress: LoadProgress) -> None:
        """What the workers do now."""
        if trial_id != self.trial_id:
            self.begin(trial_id)
        self._known.lanes = progress.lanes
        self._length_s = max(self._length_s, progress.elapsed_s)

    def take_sample(self, trial_id: int, sensors: tuple[Sensor, ...], sample: Sample) -> None:
        """What the sensors read now."""
        if trial_id != self.trial_id:
            self.begin(trial_id)
        self._length_s = max(self._length_s, sample.at_s)
        for sensor, value in zip(sensors, sample.values, strict=True):
            series = self._known.series.setdefault(sensor, LiveSeries())
            if isinstance(series, LiveSeries):
                series.add(sample.at_s, value)
            if value is not None:
                self._known.last[sensor] = value

    def take_said(self, trial_id: int, said: Said) -> None:
        """Something happened."""
        if trial_id != self.trial_id:
            self.begin(trial_id)
        self._known.said.append(said)

    def take_kept(self, trial: Trial, known: KnownOfLoad) -> None:
        """What the book kept of a past trial."""
        self.begin(trial.id)
        self._known = known
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
        return load_picture(self._known, trial, self.purpose, self._shown(), self._cursor_s, self.filter, self.slots)

    def take_wrong(self, trial_id: int, mismatch: Mismatch) -> None:
        """A wrong value was found."""
        if trial_id != self.trial_id:
            self.begin(trial_id)
        self._known.wrong += (mismatch,)

    def prints(self, trial: Trial | None) -> PrintsPicture:
        """The print of what was wrong."""
        if trial is None:
            return PrintsPicture("no load has run yet: t starts a trial", None)
        length_s = max(1.0, trial.elapsed_s, self._length_s)
        cores = len({lane.core for lane in self._known.lanes})
        moved = self.stock is not None and trial.setpoint != self.stock
        run = Circumstances(length_s, self._hottest(length_s), cores, moved)
        return prints_picture(f"trial {trial.number}: {trial.plan.show()}", self._known.wrong, run)

    def _hottest(self, length_s: float) -> Span | None:
        """The span of the hottest sensor that makes sense: what is found wrong is told with its temperature."""
        low, high = SensorKind.TEMPERATURE.plausible
        spans = [
            merged(series.buckets(0.0, length_s, 1))
            for sensor, series in self._known.series.items()
            if sensor.kind is SensorKind.TEMPERATURE
        ]
        return max(
            (one for one in spans if one and low <= one[0] <= one[1] <= high), key=lambda one: one[1], default=None
        )

    def _shown(self) -> tuple[float, float]:
        return self._window or whole_window(self._length_s)
