"""The last seconds of a machine in terminal cells: a line a core, a line a sensor, and the silence behind them."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from statistics import median

from tenaz.core.loads.plan import show_clock
from tenaz.core.sensors.last_seconds import CoreMoment, LastSeconds, core_that_tells
from tenaz.core.sensors.telemetry import SensorKind
from tenaz.pictures.drawing.cells import Cells, clipped
from tenaz.pictures.drawing.marks import Role

LABEL, FIGURES = 22, 44
LEVELS = "▁▂▃▄▅▆▇█"
MOST_CORES, MOST_SENSORS = 16, 6
SHOWN_S = 12.0
SILENT = "✗"
"""Where nothing came any more."""

FIRST = (SensorKind.VOLTAGE, SensorKind.TEMPERATURE, SensorKind.POWER)
USUAL_AT = 1.15
"""A core's usual rate stands so far below the top of its line: what is usual moves nothing there."""
STILL_S = 0.5
"""A core that told nothing for so long at the end is marked."""


@dataclass(frozen=True, slots=True)
class _Line:
    label: str
    values: tuple[float | None, ...]
    figures: str
    role: Role
    scale: tuple[float, float]


def draw_last_seconds(cells: Cells, last: LastSeconds, top: int, rows: int, rate_unit: str = "") -> int:
    """Draw as many lines as there is room for; gives the row beneath."""
    if not last.moments or rows < 3:
        return top
    named = core_that_tells(last)
    heard_s = min(SHOWN_S, last.end_s - last.moments[0].at_s)
    cells.put(
        0, top, clipped(f"the last {heard_s:.0f} s that were heard, up to {show_clock(last.end_s)}", 60), Role.LIT
    )
    told = named or "no core stands out from the others"
    cells.put(0, top + 1, clipped(told, cells.width), Role.FAILED if named else Role.FAINT)
    row, width = top + 2, max(8, cells.width - LABEL - FIGURES - 2)
    for line in [*_cores(last, named, rate_unit), *_sensors(last)][: rows - 3]:
        cells.put(0, row, clipped(line.label, LABEL - 1), line.role)
        _spark(cells, last, line, row, width)
        cells.put(LABEL + width + 2, row, clipped(line.figures, FIGURES), line.role)
        row += 1
    cells.put(LABEL, row, f"−{heard_s:.0f} s", Role.FAINT)
    cells.put_right(LABEL + width + 1, row, f"silence {SILENT}", Role.FAILED)
    return row + 2


def _cores(last: LastSeconds, named: str, rate_unit: str) -> Iterator[_Line]:
    """Rate over time; the clock, the rate and the errors that were told last."""
    for one in last.moments[-1].cores[:MOST_CORES]:
        values = tuple(_of_core(moment.cores, one.core) for moment in last.moments)
        clock = f"{one.clock_mhz:5.0f} MHz  " if one.clock_mhz else ""
        wrong = f"{one.errors} ERROR{'S' if one.errors != 1 else ''}" if one.errors else ""
        still = f"silent {one.since_s:.1f} s" if one.since_s >= STILL_S else ""
        figures = f"{one.rate:6.1f} {rate_unit}  {clock}{' · '.join(filter(None, (wrong, still))) or 'ok'}"
        marked = f"core {one.core} " in f"{named} ".replace("'s", " ") or bool(wrong)
        usual = median([value for value in values if value is not None] or [1.0])
        role = Role.FAILED if marked else Role.FAINT
        yield _Line(f"core {one.core}", values, figures, role, (0.0, USUAL_AT * usual))


def _of_core(cores: Sequence[CoreMoment], core: int) -> float | None:
    """Its rate, where it told anything new; a core that stood still has none."""
    found = next((one for one in cores if one.core == core), None)
    return None if found is None or found.since_s >= STILL_S else found.rate


def _sensors(last: LastSeconds) -> Iterator[_Line]:
    """Rails first, then heat, then power: what the supply and the cooler did."""
    places = [place for kind in FIRST for place, sensor in enumerate(last.sensors) if sensor.kind is kind]
    for place in places[:MOST_SENSORS]:
        sensor = last.sensors[place]
        values = tuple(moment.values[place] if place < len(moment.values) else None for moment in last.moments)
        read = [one for one in values if one is not None]
        if read:
            fine = 3 if sensor.kind is SensorKind.VOLTAGE else 0
            unit = sensor.kind.unit
            figures = f"{read[-1]:.{fine}f} {unit}  ({min(read):.{fine}f} to {max(read):.{fine}f})"
            yield _Line(sensor.label, values, figures, Role.MEASURED, (min(read), max(read)))


def _spark(cells: Cells, last: LastSeconds, line: _Line, row: int, width: int) -> None:
    """A column for each piece of time, as high as what was told in it; what was told never is a gap."""
    low, high = line.scale
    first_s = last.end_s - SHOWN_S if last.end_s - last.moments[0].at_s > SHOWN_S else last.moments[0].at_s
    span_s = max(1e-9, last.end_s - first_s)
    columns: dict[int, float] = {}
    for moment, value in zip(last.moments, line.values, strict=True):
        place = int((moment.at_s - first_s) / span_s * (width - 1))
        if value is not None and place >= 0:
            columns[place] = value
    held: float | None = None
    gaps = 0
    for place in range(width):
        value = columns.get(place)
        gaps = 0 if value is not None else gaps + 1
        held = value if value is not None else held if gaps <= 1 + width // max(1, len(last.moments)) else None
        if held is not None:
            share = min(1.0, (held - low) / (high - low)) if high > low else 0.5
            cells.put(LABEL + place, row, LEVELS[round(share * (len(LEVELS) - 1))], line.role)
    cells.put(LABEL + width, row, SILENT, Role.FAILED)
