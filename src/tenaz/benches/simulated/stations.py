"""Set, boot and confirm on a simulated rig: what its firmware does with values, and how it comes up."""

import zlib
from collections.abc import Callable

import numpy as np

from tenaz.benches.simulated.clock import Time
from tenaz.core.base.loop import Move
from tenaz.core.knobs.readings import Reading, Source, reading_of, show_seen
from tenaz.core.knobs.setpoint import Auto, Setpoint, Value
from tenaz.core.machine.machine import show_gib
from tenaz.core.parts.fitting import fitted_modules
from tenaz.core.ports.bench import StationReport
from tenaz.core.rigs.rig import Rig
from tenaz.simulated.firmware import as_setpoint
from tenaz.simulated.machine import Machine
from tenaz.simulated.made.faults import FaultKind
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.luck import luck_of
from tenaz.simulated.state import State

UNSEEN_PART = 0.12
"""Starts at which a bad slot or a loose contact hides its module."""
TRAINED_CHANCE = 0.98
"""A start that keeps what was trained nearly always comes up."""
NOT_TRAINED = ("processor", "graphics")
"""Domains whose values ask for no new training."""


class SimulatedFirmware:
    """Setting and reading back: the parts of the bench before the load."""

    def __init__(self, rig: Rig, state: State, time: Time, keep: Callable[[State], None]) -> None:
        self._rig, self._state, self._time, self._keep = rig, state, time, keep

    def set(self, setpoint: Setpoint, before: Setpoint) -> StationReport:
        """Enter the values into the simulated firmware, which makes of them what it can, without a word."""
        self._time.go()
        changes = setpoint.changes_from(before)
        if changes and not self._time.spend(k("enter_s")):
            return StationReport(Move.STOP)
        taken = Machine(self._rig, self._state).firmware.taken(setpoint, self._rig.stock)
        self._state.entered = _kept(taken)
        self._keep(self._state)
        return StationReport(Move.ENTERED, f"{len(changes)} value{'s' if len(changes) != 1 else ''} changed")

    def take(self, setpoint: Setpoint) -> None:
        """What came through a door: entered at once, by nobody's hand."""
        self._time.go()
        self._state.entered = _kept(Machine(self._rig, self._state).firmware.taken(setpoint, self._rig.stock))
        self._keep(self._state)

    def stands(self) -> Setpoint:
        """What it runs at."""
        return as_setpoint(self._state.in_force, self._rig.stock)

    def boot(self) -> StationReport:
        """Train the memory where anything of it changed; near the wall that is a lottery."""
        state = self._state
        state.turns += 1
        state.boots += 1
        luck, machine = luck_of(state, "boot"), Machine(self._rig, self._state)
        entered = as_setpoint(state.entered, self._rig.stock)
        values, heat = machine.values(entered), machine.heat()
        folds = float(machine.start_folds(values, 40.0, heat.modules_c)[0])
        chance = float(machine.boot_chance(values, 40.0, heat.modules_c)[0])
        trained = state.trained_for == self._training(entered)
        if trained and chance > 1 - TRAINED_CHANCE:
            chance = max(chance, TRAINED_CHANCE)
        comes_up = luck.random() < chance
        begun_s = state.now_s
        seconds = k("failed_boot_s") if not comes_up else k("warm_boot_s") if trained else k("boot_s")
        passed = self._time.spend(seconds)
        self._cool(machine, state.now_s - begun_s)
        if not passed:
            self._keep(state)
            return StationReport(Move.STOP)
        report = self._up(entered, folds, trained, luck) if comes_up else self._down()
        self._keep(state)
        return report

    def _training(self, entered: Setpoint) -> str:
        """What a training belongs to."""
        memory = {knob.name for knob in self._rig.knobs if knob.domain not in NOT_TRAINED}
        modules = [f"{module.slot}={module.serial}" for module in fitted_modules(self._rig)]
        values = [f"{name}={value}" for name, value in sorted(entered.numbers().items()) if name in memory]
        return f"{zlib.crc32(' '.join([*values, *modules]).encode()):08x}"

    def _up(self, entered: Setpoint, folds: float, trained: bool, luck: np.random.Generator) -> StationReport:
        state = self._state
        state.failed_in_a_row, state.up_since_s = 0, state.now_s
        state.in_force, state.trained_for = _kept(entered), self._training(entered)
        state.unseen = self._hidden(luck)
        if trained:
            return StationReport(Move.CAME_UP, "came up, with the training that was kept")
        state.trained_folds = float(luck.standard_normal()) * k("training_folds")
        if folds > -k("retrain_folds"):
            return StationReport(Move.CAME_UP_RETRAINED, "came up on a second training pass")
        return StationReport(Move.CAME_UP, "came up")

    def _hidden(self, luck: np.random.Generator) -> tuple[str, ...]:
        """Slots whose module the firmware does not see this time."""
        faults = (*self._state.faults_of(FaultKind.SLOT), *self._state.faults_of(FaultKind.CONTACT))
        reseated = self._state.care.reseated
        hidden = [
            fault.where
            for fault in faults
            if luck.random() < UNSEEN_PART * fault.strength
            and not (fault.kind is FaultKind.CONTACT and reseated.get(fault.where))
        ]
        fitted = [module.slot for module in fitted_modules(self._rig)]
        return tuple(slot for slot in hidden if slot in fitted and len(fitted) > 1)

    def _down(self) -> StationReport:
        """It did not train: settings are cleared, and with the third time in a row the firmware does that itself."""
        state = self._state
        state.failed_in_a_row += 1
        state.in_force = state.entered = _kept(self._rig.stock)
        state.trained_for, state.unseen = "", ()
        if state.failed_in_a_row < k("tries"):
            return StationReport(Move.STAYED_DOWN, "memory would not train; settings cleared")
        state.failed_in_a_row, state.set_back_s, state.up_since_s = 0, state.now_s, state.now_s
        return StationReport(Move.FELL_BACK, "memory would not train; the firmware came up with base values")

    def _cool(self, machine: Machine, seconds: float) -> None:
        """At rest, and partly off."""
        machine.keep_heat(machine.network.step(machine.heat(), seconds, self._state.now_s, 12.0, 1.1))

    def read_back(self, setpoint: Setpoint) -> tuple[Reading, ...]:
        """Read every knob back, and the memory that is seen; what is automatic reads as what was chosen."""
        machine = Machine(self._rig, self._state)
        in_force = as_setpoint(self._state.in_force, self._rig.stock)
        chosen = machine.values(in_force)
        knobs = tuple(
            reading_of(knob, setpoint[knob.name], _read(in_force[knob.name], float(chosen[knob.name][0])))
            for knob in self._rig.knobs
        )
        if not self._state.unseen:
            return knobs
        fitted = sum(module.size_bytes or 0 for module in fitted_modules(self._rig))
        told = show_seen(show_gib(machine.memory_bytes), self._state.unseen)
        seen = Reading("memory", show_gib(fitted), told, source=Source.READ)
        return (seen, *knobs)


def _read(value: Value, chosen: float) -> Value:
    if isinstance(value, Auto) and not np.isnan(chosen):
        return round(chosen)
    return value


def _kept(setpoint: Setpoint) -> dict[str, Value]:
    return dict(setpoint.items_by_name)
