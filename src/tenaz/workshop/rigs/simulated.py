"""Simulated rigs in the workshop: their machines, what hands do to their parts, and the answer at an exercise's end."""

from dataclasses import replace
from typing import TYPE_CHECKING

from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Verdict
from tenaz.core.parts.acts import Worked
from tenaz.core.parts.fitting import Fitting
from tenaz.core.ports.events import Logged
from tenaz.core.rigs.rig import BenchKind
from tenaz.orders import NewSimulated, Reveal, SetFaults
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.bench.machines import machine_of

if TYPE_CHECKING:
    from tenaz.simulated.state import State


class SimulatedRigs:
    """Orders that only make sense where the rig is simulated."""

    def __init__(self, at_work: AtWork) -> None:
        self._at = at_work

    def follow(self, done: Worked) -> None:
        """Work was done on the parts of the rig at work: it takes its minutes of simulated time."""
        from tenaz.simulated.acts import follow  # noqa: PLC0415

        state = self._state("work on the parts")
        follow(state, done.fitting)
        self._at.put(done.fitting.into(self._at.rig))
        self._cool(state, done.minutes * 60)
        self._keep(state)
        self._log(state, "parts", f"{done.told} ({done.minutes:g} min)")

    def set_back(self, fitting: Fitting) -> None:
        """The parts stand as before; the time that was spent stays spent."""
        from tenaz.simulated.acts import follow  # noqa: PLC0415

        state = self._state("work on the parts")
        follow(state, fitting)
        self._at.put(fitting.into(self._at.rig))
        self._keep(state)

    def _log(self, state: "State", source: str, text: str) -> None:
        """A line for the log, by the clock on the wall of the workshop where it stands."""
        from tenaz.benches.simulated.clock import WorkshopClock  # noqa: PLC0415

        wall = WorkshopClock(state, self._at.clock.monotonic_s, self._at.clock.boot_id)
        self._at.store.log.write(self._at.rig.name, None, source, text, wall)
        self._at.publish(Logged(source, text))

    def _cool(self, state: "State", seconds: float) -> None:
        """While it is worked on it is off: everything goes back to the room's temperature."""
        from tenaz.simulated.machine import Machine  # noqa: PLC0415

        machine = Machine(self._at.rig, state)
        if machine.seated:
            machine.keep_heat(machine.network.step(machine.heat(), seconds, state.now_s, 0.0, 0.0))
        state.now_s += seconds

    @carries_out(SetFaults)
    def set_faults(self, order: SetFaults) -> str:
        """Make parts faulty, on request, in place of those that were.

        Raises:
            Refused: no such fault, or nothing there that it could be about.
        """
        from tenaz.core.parts.fitting import slots_of  # noqa: PLC0415
        from tenaz.simulated.made.faults import parse_fault  # noqa: PLC0415

        state, rig = self._state("make parts faulty"), self._at.rig
        slots = slots_of(rig)
        modules = {one.slot: one.serial or one.slot for one in slots if one.fitted}
        names = tuple(one.slot for one in slots)
        state.faults = tuple(parse_fault(text, modules, names, max(1, rig.cores_known)) for text in order.faults)
        self._keep(state)
        self._log(state, "parts", "faults were put into the simulated machine, or taken out")
        return "; ".join(fault.show() for fault in state.faults) or "no part is faulty"

    @carries_out(NewSimulated)
    def new(self, order: NewSimulated) -> str:
        """A simulated rig in the book: a scenario's, or one drawn from a kind.

        Raises:
            Refused: a name that is taken, or a file that cannot be.
        """
        from tenaz.simulated.made.new_machines import from_kind, from_scenario  # noqa: PLC0415

        self._at.refuse_while("add a rig")
        store, now = self._at.store, self._at.clock.utc()
        rig, state = (
            from_kind(order.kind, order.seed, now) if order.kind else from_scenario(order.source, order.seed, now)
        )
        rig = replace(rig, name=order.name or rig.name)
        if rig.name in store.rigs.names():
            raise Refused(f"the book has a rig {rig.name!r} already; give the new one another name.")
        rig.check_whole()
        store.rigs.put(rig)
        store.machines.put(rig.name, state)
        self._at.rig, self._at.bench = rig, BenchKind.SIM
        self._log(state, "parts", f"{rig.name} is a simulated rig: {state.population.about}")
        return f"{rig.name} added: {state.population.about}" + (f"; the exercise: {state.goal}" if state.goal else "")

    @carries_out(Reveal)
    def reveal(self, order: Reveal) -> str:
        """Tell what the machine hides, and judge what was found; the book notes that the answer was told."""
        from tenaz.workshop.rigs.revealing import ExerciseAnswer, reveal  # noqa: PLC0415 - nothing else may look there

        state, trials = self._state("tell the answer"), self._at.trials.trials
        held = [trial.setpoint for trial in trials if trial.verdict is Verdict.PASS]
        now = self._at.in_force()
        setpoint = now if now in held else held[-1] if held else self._at.rig.stock
        lines = reveal(self._at.rig, state, ExerciseAnswer(setpoint, trials, order.answer))
        state.told_s = state.now_s
        self._keep(state)
        self._log(state, "parts", "the answer was told: from here on this rig is no exercise any more")
        for line in lines:
            self._log(state, "answer", line)
        return "\n".join(lines)

    def _state(self, what: str) -> "State":
        self._at.refuse_while(what)
        if self._at.bench.real:
            name, bench = self._at.rig.name, self._at.bench
            raise Refused(f"{name} on bench {bench} is real: your own hands {what}; note it in the rig's form.")
        return machine_of(self._at.store, self._at.rig, self._at.clock.utc(), self._at.in_force())

    def _keep(self, state: "State") -> None:
        self._at.store.machines.put(self._at.rig.name, state)
