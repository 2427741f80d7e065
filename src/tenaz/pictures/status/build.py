"""What there was to see of a trial when it ended, kept with it: nobody remembers to take the picture."""

from tenaz.core.ports.bench import Clock
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Trial
from tenaz.journal.store import Store
from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.drawing.cells_svg import cells_to_svg
from tenaz.pictures.load.build import kept_load, load_picture, whole_window
from tenaz.pictures.status.log_lines import shown_log
from tenaz.pictures.status.snapshot import LOG_ROWS, draw_snapshot


def keep_snapshot(store: Store, rig: Rig, trial: Trial, clock: Clock, climb: ClimbPicture | None = None) -> None:
    """Draw a closed trial from what the book has of it, and keep that as text and as SVG, screen or not; ``climb`` is
    the search that it belongs to, as it stands now.
    """
    window = whole_window(trial.elapsed_s)
    load = load_picture(kept_load(store, trial.id), trial, rig.purpose, window, slots=rig.slots)
    log = shown_log(store.log.timed_lines(rig.name, LOG_ROWS, trial.id))
    cells = draw_snapshot(rig, trial, load, climb, log)
    svg = cells_to_svg(cells, f"{rig.name}, trial {trial.number}: {trial.outcome}")
    store.load.put_snapshot(trial.id, cells.text(), svg, clock)
