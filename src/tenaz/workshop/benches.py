"""The bench that a rig is reached on, put together: the one place that knows them all by name."""

from tenaz.core.ports import Bench, Clock
from tenaz.core.rigs import BenchKind
from tenaz.workshop.at_work import AtWork
from tenaz.workshop.relay import Relay


def bench_for(at: AtWork, clock: Clock, relay: Relay, attended: bool, pace: float | None) -> Bench:
    """The bench at work. A simulated rig asks nobody, unless somebody is there on purpose (``attended``)."""
    rig, store = at.rig, at.store
    match at.bench:
        case BenchKind.SIM:
            from tenaz.benches.simulated.bench import simulated_bench  # noqa: PLC0415 - each where it is used

            technician = relay if attended else None
            return simulated_bench(rig, store.trials.count(rig.name), pace, technician, at.in_force())
        case BenchKind.HERE:
            from tenaz.benches.here import here_bench  # noqa: PLC0415

            return here_bench(rig, relay, clock, store.goldens.of(rig.name))
        case BenchKind.HAND:
            from tenaz.benches.by_hand import hand_bench  # noqa: PLC0415

            return hand_bench(rig, relay, clock)
