"""What a night costs Tenaz itself: each proposal, taking it up from the book, and a whole one on a simulated bench."""

import statistics
import tempfile
import time
from pathlib import Path

from tenaz import orders as o
from tenaz.core.searches.search import Proposal, TrialFacts
from tenaz.demo.ridge import ridge
from tenaz.orders.nights import order_for_night
from tenaz.search.night.journey import Journey
from tenaz.search.night.knobs import ground_for, starts_for
from tenaz.search.strategies.night import Parameters, night_ground
from tenaz.study.night.rigs import NightRig
from tenaz.workshop.shop.shop import Workshop


def report() -> None:
    """Print all three, against what they may take."""
    rig = NightRig("ridge", 1)
    night = night_ground(ground_for(rig.rig, rig.rig.stock, ""), Parameters(starts=starts_for(rig.rig)))
    journey, taken, seen = Journey(night), list[float](), list[TrialFacts]()
    while isinstance(stands := journey.stands, Proposal):
        seen.append(rig.try_at(stands.setpoint, stands.plan))
        begun = time.perf_counter()
        journey.take(seen[-1])
        taken.append(1000 * (time.perf_counter() - begun))
    middle, worst = statistics.median(taken), max(taken)
    print(f"nights: a proposal: {middle:.1f} ms, {worst:.0f} ms at most (50 allowed)")
    begun, again = time.perf_counter(), Journey(night)
    for one in seen:
        again.take(one)
    print(f"nights: taken up after {len(seen)} trials: {time.perf_counter() - begun:.1f} s")
    with tempfile.TemporaryDirectory() as folder:
        workshop = Workshop()
        workshop.open(Path(folder) / "book.db")
        workshop.store.rigs.put(ridge())
        workshop.do(o.ChooseRig("ridge"))
        begun = time.perf_counter()
        workshop.do(order_for_night(workshop.rig, workshop.rig.stock))
        workshop.running.wait()
        took, count = time.perf_counter() - begun, len(workshop.trials())
        workshop.close()
    print(f"nights: a whole rig on sim, {count} trials: {took:.1f} s (20 allowed)")
