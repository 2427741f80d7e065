"""What dialling costs: carrying and checking a full sheet, and drawing what the knob in hand changes."""

import statistics
import time
from typing import TYPE_CHECKING

from tenaz.core.knobs.timings.minima import check_timings
from tenaz.core.knobs.timings.rescaling import carry
from tenaz.core.rigs.rescaled import rescaled_setpoint
from tenaz.core.trials.index import TrialIndex
from tenaz.demo.ridge import ridge
from tenaz.pictures.cycle.cells import draw_cycle
from tenaz.pictures.cycle.model import cycle_picture
from tenaz.pictures.sheet.cells import draw_sheet
from tenaz.pictures.sheet.model import sheet_picture
from tenaz.pictures.sheet.track import tracks_of
from tenaz.pictures.sheet.tracks import draw_tracks

if TYPE_CHECKING:
    from collections.abc import Callable

ROUNDS = 300
CANVAS, TRACKS = (83, 28), (41, 28)


def report() -> None:
    """Print medians in ms, and each as a share of one frame at 60 a second."""
    rig = ridge()
    values, family, stock = rig.stock.numbers(), rig.family, rig.stock
    tight = stock.replacing("t_ras_nck", 70)
    works: dict[str, Callable[[], object]] = {
        "carry and check a full sheet": lambda: check_timings(carry(values, family, 4800, 6400), family),
        "carry onto the rig's own grids": lambda: rescaled_setpoint(rig, stock, 6400),
        "Cycle page": lambda: draw_cycle(cycle_picture(rig, tight, "t_ras_nck", stock, "stock"), *CANVAS),
        "Sheet page": lambda: draw_sheet(sheet_picture(rig, tight, stock), *CANVAS, "t_ras_nck"),
        "all tracks": lambda: draw_tracks(tracks_of(rig.knobs, tight, stock, stock, TrialIndex()), 5, *TRACKS),
    }
    print(f"dialling ({ROUNDS} rounds each, {len(values)} values)")
    for name, work in works.items():
        took_ms = []
        for _ in range(ROUNDS):
            begun = time.perf_counter()
            work()
            took_ms.append(1000 * (time.perf_counter() - begun))
        median = statistics.median(took_ms)
        print(f"  {name:<31} {median:6.2f} ms   {median / (1000 / 60):6.1%} of a frame")
