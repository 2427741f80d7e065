"""Load pictures from what a running load said, or what the book kept of a past one."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from tenaz.core.loads.plan import Mismatch, WorkerProgress, show_duration
from tenaz.core.rigs.rig import Purpose
from tenaz.core.sensors.guard import Said
from tenaz.core.sensors.last_seconds import LastSeconds
from tenaz.core.sensors.names import names_of, of_graphics
from tenaz.core.sensors.series import Series
from tenaz.core.sensors.telemetry import Sensor, SensorKind, ceilings_for
from tenaz.core.trials.trial import Trial
from tenaz.journal.store import Store
from tenaz.pictures.drawing.marks import ALARM_MARKS, Role, mark_of
from tenaz.pictures.load.model import Curve, Event, LoadPicture

LEAST_WINDOW_S = 10.0

TOLD_WITHIN_S = 1.0
"""A failure about which something was said this close to it is not told a second time."""

FIRST = (SensorKind.TEMPERATURE, SensorKind.CLOCK, SensorKind.POWER, SensorKind.VOLTAGE, SensorKind.FAN)
"""The order in which kinds of sensors are shown; all others come behind."""


@dataclass(slots=True)
class KnownOfLoad:
    """What is known of one trial's load: curves and last readings by sensor, workers, what happened and when."""

    series: dict[Sensor, Series] = field(default_factory=dict)
    last: dict[Sensor, float] = field(default_factory=dict)
    lanes: tuple[WorkerProgress, ...] = ()
    said: list[Said] = field(default_factory=list)
    wrong: tuple[Mismatch, ...] = ()
    last_seconds: LastSeconds | None = None


def load_picture(
    known: KnownOfLoad,
    trial: Trial | None,
    purpose: Purpose,
    window: tuple[float, float],
    cursor_s: float | None = None,
    chosen: str = "",
    slots: Sequence[str] = (),
) -> LoadPicture:
    """The picture; ``chosen`` is a part of the names of the sensors that are shown, ``slots`` where modules sit."""
    names = names_of(tuple(known.series), slots)
    ceilings = {ceiling.sensor_id: ceiling for ceiling in ceilings_for(tuple(known.series), purpose)}
    shown = [sensor for sensor in known.series if chosen.lower() in f"{names[sensor.id]} {sensor.label}".lower()]
    of_card = trial is not None and trial.plan.kind.declared.on_cards

    def place(sensor: Sensor) -> tuple[bool, int]:
        """What the load strains first."""
        kind = FIRST.index(sensor.kind) if sensor.kind in FIRST else len(FIRST)
        return of_card and not of_graphics(sensor.id), kind

    order = sorted(shown, key=place)
    title, unit = "no load has run yet: t starts a trial", ""
    if trial is not None:
        title, unit = f"trial {trial.number}: {trial.plan.show()}", trial.plan.kind.rate_unit
        if trial.outcome is not None:
            mark = mark_of(trial.outcome)
            title += f"  {mark.sign} {mark.word}"
            title += f" after {show_duration(trial.elapsed_s)}" if trial.elapsed_s else ", no load was run"
    return LoadPicture(
        title=title,
        rate_unit=unit,
        lanes=known.lanes,
        curves=tuple(Curve(s, known.series[s], ceilings.get(s.id), known.last.get(s), names[s.id]) for s in order),
        events=_events(known.said, trial),
        start_s=window[0],
        end_s=window[1],
        cursor_s=cursor_s,
        chosen=chosen if known.series else "",
        manner=trial.plan.manner() if trial is not None else "",
        last=known.last_seconds,
    )


def kept_load(store: Store, trial_id: int) -> KnownOfLoad:
    """What the book kept of a trial's load."""
    from tenaz.pictures.load.curves import kept_series  # noqa: PLC0415 - the first picture does not wait for numpy

    series = kept_series(store.load.traces_of(trial_id))
    return KnownOfLoad(
        series=dict(series),
        last={sensor: one.last for sensor, one in series.items() if one.last is not None},
        lanes=store.load.lanes_of(trial_id),
        said=list(store.log.said_of(trial_id)),
        wrong=store.load.mismatches_of(trial_id),
        last_seconds=store.load.last_seconds_of(trial_id),
    )


def whole_window(elapsed_s: float) -> tuple[float, float]:
    """All of the load, as (start, end) in seconds."""
    return 0.0, max(LEAST_WINDOW_S, elapsed_s)


def _events(said: Sequence[Said], trial: Trial | None) -> tuple[Event, ...]:
    """What happened, and the failure itself where nothing else tells of it at that moment."""
    events = [Event(one.at_s, ALARM_MARKS[one.alarm], one.text) for one in said]
    failed_s = trial.failed_after_s if trial else None
    if (
        trial is not None
        and failed_s
        and not any(abs(event.at_s - failed_s) < TOLD_WITHIN_S and event.mark.role is Role.FAILED for event in events)
    ):
        mark = mark_of(trial.outcome)
        events.append(Event(failed_s, mark, f"this trial {mark.word}"))
    return tuple(sorted(events, key=lambda event: event.at_s))
