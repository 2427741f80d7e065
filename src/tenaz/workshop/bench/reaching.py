"""The bench that a rig is reached on, put together: the one place that knows them all by name."""

import getpass
import socket
from hashlib import sha256

from tenaz.core.base.errors import Refused
from tenaz.core.base.pace import Pace
from tenaz.core.ports.bench import Bench, Clock
from tenaz.core.rigs.rig import BenchKind
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.relay import Relay


def bench_for(at: AtWork, relay: Relay | None, attended: bool, pace: Pace) -> tuple[Bench, Clock]:
    """The bench at work, and the clock on the wall of its workshop: a simulated rig stands in simulated time. It asks
    nobody, unless somebody is there on purpose (``attended``); without a ``relay`` nobody is asked anything.

    Raises:
        Refused: a rig that stands beside, with nobody there.
    """
    rig, store, clock = at.rig, at.store, at.clock
    match at.bench:
        case BenchKind.SIM:
            from tenaz.benches.simulated.bench import simulated_bench  # noqa: PLC0415 - each where it is used
            from tenaz.benches.simulated.clock import WorkshopClock  # noqa: PLC0415
            from tenaz.workshop.bench.machines import machine_of  # noqa: PLC0415

            state = machine_of(store, rig, clock.utc(), at.in_force())
            bench = simulated_bench(
                rig, state, pace, relay if attended else None, lambda kept: store.machines.put(rig.name, kept)
            )
            if rig.door:
                from tenaz.workshop.bench.through_doors import stood_in  # noqa: PLC0415

                # One service and one hold at a time.
                at.reach_by()
                bench = stood_in(bench, rig)
                at.reach_by(bench.leave)
            return bench, WorkshopClock(state, clock.monotonic_s, clock.boot_id)
        case BenchKind.HERE:
            from tenaz.benches.here import here_bench  # noqa: PLC0415

            return here_bench(rig, relay, clock, store.goldens.of(rig.name)), clock
        case BenchKind.HAND:
            from tenaz.benches.by_hand import hand_bench  # noqa: PLC0415

            if relay is None:
                raise Refused("A rig that stands beside is worked on by hand: nobody is there to do that.")
            return hand_bench(rig, relay, clock), clock
        case BenchKind.WIRE:
            from tenaz.benches.wire.bench import wire_bench  # noqa: PLC0415

            at.reach_by()
            bench = wire_bench(rig, relay, clock, who_works(store.place), store.goldens.of(rig.name))
            if rig.door and rig.door_map:
                from tenaz.workshop.bench.through_doors import across  # noqa: PLC0415

                bench = across(bench, rig)
            at.reach_by(bench.leave)
            return bench, clock


def who_works(place: str) -> str:
    """By what a rig knows a workshop again: who works at which machine, on which book."""
    book = sha256(place.encode("utf-8", "surrogateescape")).hexdigest()[:8]
    return f"{getpass.getuser()} at {socket.gethostname()} (book {book})"
