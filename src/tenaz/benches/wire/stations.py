"""The stations before a load, across a wire: set by hand, started and waited for, read back from there."""

import time

from tenaz.benches import questions
from tenaz.benches.wire.far_door import FarKernelDoor
from tenaz.benches.wire.reached import Reached
from tenaz.core.base.amounts import show_duration
from tenaz.core.base.errors import Interrupted
from tenaz.core.base.loop import Move
from tenaz.core.knobs.readings import Reading
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.asking import asked
from tenaz.core.ports.bench import StationReport, Technician
from tenaz.core.rigs.compared import compared
from tenaz.wire.protocol import Opened

COMES_UP_WITHIN_S = 420.0
"""A rig that was started and does not answer for so long stayed down: training of much memory takes minutes."""

RESTARTS_WITHIN_S = 60.0
"""So long a rig that still runs on the boot before is waited for to be restarted."""

READ_WITHIN_S = 60.0


class AcrossTheWire:
    """Sets by hand, waits for the start, reads back."""

    def __init__(self, reached: Reached, technician: Technician | None) -> None:
        self._reached, self._technician = reached, technician
        self._boot_before = ""
        self._changed = False

    def set(self, setpoint: Setpoint, before: Setpoint) -> StationReport:
        """Show the sheet, and wait until it is entered."""
        self._reached.stopping.clear()
        self._boot_before = self._reached.clock.boot
        self._changed = bool(setpoint.changes_from(before))
        if not self._changed:
            return StationReport(Move.ENTERED, "nothing to enter: these values stand")
        if self._technician is None:
            return StationReport(Move.STOP, "values would have to be entered, and nobody is here to do it")
        then = "then start it; it is heard here"
        return asked(self._technician, questions.entering(self._reached.rig, setpoint, before, then))

    def expect_restart(self) -> None:
        """The start that is waited for is another than this."""
        self._reached.stopping.clear()
        self._boot_before, self._changed = self._reached.clock.boot, True

    def kernel_door(self) -> FarKernelDoor:
        """What its kernel lets be written there."""
        return FarKernelDoor(self._reached)

    def boot(self) -> StationReport:
        """Wait until it is heard; one that stays silent for long is asked about."""
        began = time.monotonic()
        try:
            opened = self._reached.wait(COMES_UP_WITHIN_S, self._is_up)
        except Interrupted:
            return StationReport(Move.STOP, "stopped by hand")
        took = show_duration(time.monotonic() - began)
        if opened is not None:
            known = self._changed and self._boot_before
            same = "; it was not restarted since" if known and opened.boot_id == self._boot_before else ""
            return StationReport(Move.CAME_UP, f"it answers after {took}{same}")
        if self._technician is not None:
            return asked(self._technician, questions.booting(self._reached.rig))
        return StationReport(Move.STAYED_DOWN, f"it did not answer within {took}: {self._reached.why_not}")

    def _is_up(self, opened: Opened, waited_s: float) -> bool:
        """Whether this is the start that was waited for; values that were entered need a new one."""
        restarted = not self._boot_before or opened.boot_id != self._boot_before
        return restarted or not self._changed or waited_s > RESTARTS_WITHIN_S

    def read_back(self, setpoint: Setpoint) -> tuple[Reading, ...]:
        """Its parts, and every knob: what can be read there is read."""
        return compared(
            self._reached.rig, setpoint, self._reached.ask_patiently("machine", COMES_UP_WITHIN_S, READ_WITHIN_S)
        )
