"""The bench ``wire``, put together of its parts."""

import threading

from tenaz.benches.wire.following import LoadsThere
from tenaz.benches.wire.reached import Reached, WireClock
from tenaz.benches.wire.stations import AcrossTheWire
from tenaz.core.base.errors import Refused
from tenaz.core.loads.goldens import Goldens
from tenaz.core.ports.bench import Bench, Clock, Technician
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.scores.measure import Measured, MeasurePlan, MeasureWatch
from tenaz.wire import forms
from tenaz.wire.power import Power, power_of
from tenaz.wire.protocol import LIVE
from tenaz.wire.ways import Way, way_of

TAKES_LONGER, AND_S = 2.0, 600.0
"""Of what it was to take a measure may take: memory is filled first."""


class MeasuresThere:
    """The part of the bench that measures."""

    def __init__(self, reached: Reached) -> None:
        self._reached = reached

    def measure(self, plan: MeasurePlan, watch: MeasureWatch) -> Measured:
        """Measure there."""
        over = threading.Event()
        hearing = threading.Thread(target=self._hear, args=(watch, over), name="wire-measure", daemon=True)
        self._reached.up()
        hearing.start()
        try:
            measured: Measured = self._reached.ask("measure", plan, plan.most_s * TAKES_LONGER + AND_S)
            return measured
        finally:
            over.set()
            hearing.join()

    def _hear(self, watch: MeasureWatch, over: threading.Event) -> None:
        while not over.is_set():
            frame = self._reached.line.take(0.2)
            if frame is not None and frame.get("live") == "measuring":
                watch(forms.read(LIVE["measuring"], frame["data"], "progress"))

    def stop(self) -> None:
        """End it; nobody waits here for the answer."""
        threading.Thread(target=self._reached.tell_stop, name="wire-stop", daemon=True).start()


def wire_bench(
    rig: Rig,
    technician: Technician | None,
    clock: Clock,
    near: str,
    goldens: Goldens | None = None,
    way: Way | None = None,
    power: Power | None = None,
) -> Bench:
    """A rig across a wire. ``near`` names who works on it from here; without a technician it is taken as it runs.

    Raises:
        Refused: the rig's form says no way to it.
    """
    if way is None:
        if not rig.wire:
            raise Refused(f"{rig.name} has no wire: say in its form how it is reached, like ssh bench-3.")
        way = way_of(rig.wire)
    under_load = WireClock(clock)
    reached = Reached(rig, way, near, goldens or {}, under_load, power or power_of(rig.power))
    stations = AcrossTheWire(reached, technician)
    loads, measures = LoadsThere(reached), MeasuresThere(reached)
    return Bench(BenchKind.WIRE, stations, stations, loads, under_load, technician, measures, reached.leave)
