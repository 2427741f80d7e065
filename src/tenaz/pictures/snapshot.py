"""What there was to see of a trial when it ended, kept with it: nobody remembers to take the picture."""

from tenaz.charts.cells_svg import cells_to_svg
from tenaz.charts.climb import ClimbPicture
from tenaz.charts.snapshot_cells import LOG_ROWS, draw_snapshot
from tenaz.core.ports import Clock
from tenaz.core.rigs import Rig
from tenaz.core.trials import Trial
from tenaz.journal.store import Store
from tenaz.pictures.loads import kept_load, load_picture, whole_window
from tenaz.pictures.log import shown_log


def keep_snapshot(store: Store, rig: Rig, trial: Trial, clock: Clock, climb: ClimbPicture | None = None) -> None:
    """Draw a closed trial from what the book has of it, and keep that as text and as SVG, screen or not; ``climb`` is
    the search that it belongs to, as it stands now.
    """
    load = load_picture(kept_load(store, trial.id), trial, rig.purpose, whole_window(trial.elapsed_s))
    log = shown_log(store.log.lines(rig.name, LOG_ROWS, trial.id))
    cells = draw_snapshot(rig, trial, load, climb, log)
    svg = cells_to_svg(cells, f"{rig.name}, trial {trial.number}: {trial.outcome}")
    store.load.put_snapshot(trial.id, cells.text(), svg, clock)
