"""A trial at its end on one sheet: what was set, how the load went, where the climb stood, what was said."""

from collections.abc import Sequence

from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Trial
from tenaz.pictures.climb.cells import draw_climb
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role, mark_of
from tenaz.pictures.load.cells import draw_load
from tenaz.pictures.load.model import LoadPicture
from tenaz.pictures.status.log import draw_log

WIDTH = 126
LOAD_ROWS, CLIMB_ROWS, LOG_ROWS = 30, 26, 24
SHEET_LABEL = 22


def draw_snapshot(
    rig: Rig, trial: Trial, load: LoadPicture, climb: ClimbPicture | None, log: Sequence[tuple[str, str, str]]
) -> Cells:
    """Draw it; ``log`` holds the trial's own lines as (time, source, text)."""
    log = log[-LOG_ROWS:]
    load_rows = 1 if load.empty else LOAD_ROWS
    knobs = [k for k in rig.knobs if k.name == DATA_RATE or trial.setpoint[k.name] != rig.stock[k.name]]
    rows = 6 + len(knobs) + load_rows + (CLIMB_ROWS + 1 if climb else 0) + len(log)
    cells = Cells(WIDTH, rows)
    mark = mark_of(trial.outcome)
    heading = f"{rig.name}, bench {trial.bench}{'' if trial.bench.real else ' (simulated)'}, trial {trial.number}: "
    cells.put(0, 0, heading, Role.TEXT)
    cells.put(len(heading), 0, f"{mark.sign} {mark.word}", mark.role)
    begun = f"begun {trial.begun_utc:%Y-%m-%d %H:%M:%S} UTC"
    cells.put_right(WIDTH, 0, begun, Role.FAINT)
    row = 2
    for knob in knobs:
        value, stock = trial.setpoint[knob.name], rig.stock[knob.name]
        cells.put(0, row, knob.label, Role.FAINT)
        cells.put(SHEET_LABEL, row, knob.show(value), Role.LIT if value != stock else Role.TEXT)
        if value != stock:
            cells.put(2 * SHEET_LABEL, row, f"stock {knob.show(stock)}", Role.FAINT)
        row += 1
    cells.put(0, row, f"{len(rig.knobs) - len(knobs)} other values at stock", Role.FAINT)
    row += 1
    cells.paste(0, row + 1, draw_load(load, WIDTH, load_rows))
    row += load_rows + 1
    if climb is not None:
        cells.paste(0, row + 1, draw_climb(climb, WIDTH, CLIMB_ROWS))
        row += CLIMB_ROWS + 1
    cells.paste(0, row + 1, draw_log(log, WIDTH, len(log)))
    return cells
