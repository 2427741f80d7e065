"""The rail: the loop with the current station lit, and the figures that are read from a metre away."""

from dataclasses import dataclass
from typing import TYPE_CHECKING

from tenaz.core.base.amounts import show_clock, show_duration
from tenaz.core.base.loop import RAIL, Station
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role

if TYPE_CHECKING:
    from tenaz.core.loads.plan import LoadProgress
    from tenaz.core.scores.measure import MeasureProgress

NAME_WIDTH = 24
SIMULATED_BENCH = "sim"
SIMULATED = "SIMULATED"
ROOM_TO_SAY_IT = 140
"""From that width on the word also stands beside the rig's name."""
FIGURES_WIDTH = 34
LABEL_WIDTH = 13
"""Cells of the lit station's field; the links between stations take what is left."""


@dataclass(frozen=True, slots=True)
class RailPicture:
    """What the rail shows. ``station`` None: nothing is under way. ``station_s``: time at that station."""

    rig: str
    bench: str
    station: Station | None
    trial: int | None
    station_s: float
    progress: "LoadProgress | None"
    waiting: bool = False
    idle: str = ""
    measuring: "MeasureProgress | None" = None
    going_on: bool = False
    """Something runs, and its next trial has not begun."""


def draw_rail(picture: RailPicture, width: int) -> Cells:
    """Three lines: where it stands and the clock; the bar; rate, errors and time left.

    The lit station is drawn between brackets, so that it can be told apart without colour.
    """
    cells = Cells(width, 3)
    name = f"{picture.rig} on {picture.bench}"
    told = "simulated · " if picture.bench == SIMULATED_BENCH else ""
    cells.put(1, 0, name, Role.TEXT)
    if told and width >= ROOM_TO_SAY_IT:
        cells.put(2 + len(name), 0, SIMULATED, Role.MEASURED)
        name += f" {SIMULATED}"
    _stations(cells, picture, max(len(name) + 2, min(NAME_WIDTH, width // 6)), width)
    cells.put_right(width - 1, 0, _figures(picture), Role.TEXT if picture.station else Role.FAINT)
    cells.put(0, 1, "─" * width, Role.FRAME)
    if picture.progress is not None:
        _bar(cells, picture.progress, width)
        cells.put(1, 2, told + _load_line(picture.progress), Role.MEASURED)
        cells.put_right(width - 1, 2, _time_left(picture.progress), Role.TEXT)
    elif picture.measuring is not None:
        cells.put(0, 1, "━" * round(picture.measuring.part * width), Role.MEASURED)
        cells.put(1, 2, f"{told}measuring · {picture.measuring.doing}", Role.MEASURED)
        left = f"{show_duration(round(picture.measuring.left_s))} left at most"
        cells.put_right(width - 1, 2, left, Role.TEXT)
    elif picture.waiting:
        cells.put(1, 2, "waiting for you: answer below", Role.LIT)
    else:
        cells.put(1, 2, told + picture.idle, Role.FAINT)
    return cells


def _stations(cells: Cells, picture: RailPicture, left: int, width: int) -> None:
    """The loop over the middle of the line; what is behind the lit station is joined to it."""
    room = width - left - max(len(_figures(picture)) + 2, min(FIGURES_WIDTH, width // 4))
    label_width = min(LABEL_WIDTH, room // len(RAIL))
    link = max(0, (room - len(RAIL) * label_width) // (len(RAIL) - 1))
    column, passed = left, picture.station is not None
    for number, station in enumerate(RAIL):
        lit = station is picture.station
        passed = passed and not lit
        label = station.center(max(0, label_width - 2))
        role = Role.LIT if lit else Role.HELD if passed else Role.FAINT
        cells.put(column, 0, f"[{label.upper()}]" if lit else f" {label} ", role)
        column += label_width
        if number < len(RAIL) - 1:
            cells.put(column, 0, "─" * link, Role.HELD if passed else Role.FRAME)
            column += link


def _figures(picture: RailPicture) -> str:
    if picture.measuring is not None and picture.station is None:
        return "measuring"
    if picture.station is None:
        return "going on …" if picture.going_on else "nothing runs"
    parts = [f"trial {picture.trial}"] if picture.trial else []
    progress = picture.progress
    parts.append(show_clock(progress.elapsed_s if progress else picture.station_s))
    if progress is not None and progress.temperature_c is not None:
        parts.append(f"{progress.temperature_c:.0f} °C")
    return " · ".join(parts)


def _bar(cells: Cells, progress: "LoadProgress", width: int) -> None:
    if progress.fraction is not None:
        cells.put(0, 1, "━" * round(progress.fraction * width), Role.MEASURED)


def _load_line(progress: "LoadProgress") -> str:
    parts = [progress.plan.show()]
    if progress.rate:
        parts.append(f"{progress.rate:.1f} {progress.plan.kind.rate_unit}")
    if progress.laps:
        parts.append(f"lap {progress.laps:.2f}" if progress.laps < 100 else f"lap {progress.laps:.0f}")
    errors = f"{progress.errors} ERROR{'S' if progress.errors != 1 else ''}" if progress.errors else "no errors"
    doing = {lane.doing for lane in progress.lanes}
    if not progress.elapsed_s and len(doing) == 1:
        parts.append(doing.pop())
    if progress.lanes or progress.errors:
        parts.append(errors)
    return " · ".join(parts)


def _time_left(progress: "LoadProgress") -> str:
    return "" if progress.left_s is None else f"{show_duration(progress.left_s)} left"
