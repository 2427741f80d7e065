"""What there was to see of a trial when it ended, kept with it: nobody remembers to take the picture."""

from tenaz.charts.cells_svg import cells_to_svg
from tenaz.charts.snapshot_cells import LOG_ROWS, draw_snapshot
from tenaz.core.in_force import counting_on
from tenaz.core.ports import Clock
from tenaz.core.rigs import Rig
from tenaz.core.trials import Trial
from tenaz.journal.store import Store
from tenaz.workshop.load_pictures import kept_load, load_picture, whole_window
from tenaz.workshop.log import shown_log
from tenaz.workshop.pictures import picture_of_climb


def keep_snapshot(store: Store, rig: Rig, trial: Trial, clock: Clock) -> None:
    """Draw a closed trial from what the book has of it, and keep that as text and as SVG, screen or not."""
    plan = next((plan for plan in store.climbs(rig.name) if plan.id == trial.climb_id), None)
    trials = counting_on(trial.bench, store.trials(rig.name)) if plan else ()
    load = load_picture(kept_load(store, trial.id), trial, rig.purpose, whole_window(trial.elapsed_s))
    log = shown_log(store.log_lines(rig.name, LOG_ROWS, trial.id))
    cells = draw_snapshot(rig, trial, load, picture_of_climb(rig, plan, trials) if plan else None, log)
    svg = cells_to_svg(cells, f"{rig.name}, trial {trial.number}: {trial.outcome}")
    store.put_snapshot(trial.id, cells.text(), svg, clock)
