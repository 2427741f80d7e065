"""Setting through a machine's own door: composed with a bench's own way, which does what no door reaches."""

import time
from collections.abc import Callable, Mapping

from tenaz.core.base.amounts import show_duration
from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move
from tenaz.core.knobs.readings import Reading, Source, reading_of
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.bench import ReadingBack, Setting, StationReport
from tenaz.core.ports.door import Door, Unanswered
from tenaz.core.rigs.door_map import values_here, values_there
from tenaz.core.rigs.offers import Raw, Up
from tenaz.core.rigs.rig import Rig

STARTS = 2
"""So often a start is tried with values that do not come up; then they are taken back."""

COMES_UP_WITHIN_S, ANSWERS_WITHIN_S, LOOKED_AT_S = 600.0, 60.0, 1.0
BEHIND_NO_DOOR = "no door reaches {knobs}, and nobody is here to enter it"

Wait = Callable[[], StationReport]
"""The bench's own way to wait for a start."""


class ByDoor:
    """Writes through the door, starts by it, and takes back what does not come up. ``hands`` is the bench's own way to
    set, for what no door reaches; ``attended``: somebody is there for it. ``wait`` is how the bench hears that the
    machine is up (``expects`` tells it that another start comes); without it the door itself tells.
    """

    def __init__(
        self,
        rig: Rig,
        door: Door,
        hands: Setting,
        attended: bool,
        wait: Wait | None = None,
        expects: Callable[[], None] = lambda: None,
        looked_at_s: float = LOOKED_AT_S,
    ) -> None:
        self._rig, self._door, self._hands, self._attended, self._wait = rig, door, hands, attended, wait
        self._mapped = {one.knob: one for one in rig.door_map}
        self._looked_at_s, self._expects = looked_at_s, expects
        self._before: dict[str, Raw] = {}
        self._starts = False
        self._by_hand = False
        self._lost = ""
        """Why only a hand can clear it, once that is so."""

    def set(self, setpoint: Setpoint, before: Setpoint) -> StationReport:
        """Write what differs; what the door does not take is not set, and nothing of it is."""
        self._starts = False
        if self._lost and not self._attended:
            # One clear is what a night may cost, and nobody is here for it.
            return StationReport(Move.STOP, self._lost)
        missing = [change.knob for change in setpoint.changes_from(before) if change.knob not in self._mapped]
        self._by_hand = bool(missing)
        if missing and not self._attended:
            labels = ", ".join(self._rig.knob(name).label for name in missing)
            return StationReport(Move.STOP, BEHIND_NO_DOOR.format(knobs=labels))
        try:
            count = self._write(setpoint)
        except Refused as refused:
            return StationReport(Move.STOP, str(refused))
        if missing:
            return self._hands.set(setpoint, before)
        said = f"{count} value{'s' if count != 1 else ''} set through {self._door.text}"
        return StationReport(Move.ENTERED, said if count else "nothing to set: these values stand")

    def _write(self, setpoint: Setpoint) -> int:
        """Write what does not stand there as it is to, by what the door tells now: what stood before a crash, or waits
        from an earlier day, is not guessed. Gives how many values that were.
        """
        known = [name for name in self._mapped if name in setpoint]
        wanted = values_there(self._mapped.values(), setpoint, known)
        offers = {offer.name: offer for offer in self._door.offers()}
        stands, waits = self._door.read(), self._door.pending()
        values = {name: value for name, value in wanted.items() if waits.get(name, stands.get(name)) != value}
        for name, value in values.items():
            # A dry run: what it says that it does not take is not even tried.
            if name not in offers or not offers[name].takes(value):
                raise Refused(f"{self._door.text} takes no {value} for {name}.")
        self._before = {name: stands[name] for name in {**values, **waits} if name in stands}
        if values:
            try:
                self._door.write(values)
            except Refused:
                self._withdraw(values, stands)
                raise
        self._starts = any(not offers[name].at_once for name in values) or bool(waits)
        return len(values)

    def _withdraw(self, values: Mapping[str, Raw], stands: Mapping[str, Raw]) -> None:
        """What was not taken for sure must not wait for the next start all the same.

        Raises:
            Refused: nobody knows what waits there.
        """
        waits = self._door.pending()
        left = {
            name: stands[name] for name in values if name in waits and name in stands and waits[name] != stands[name]
        }
        if left:
            self._door.write(left)

    def boot(self) -> StationReport:
        """Start it by the door, where what was set asks for that."""
        if not self._starts or self._by_hand or not self._door.restarts:
            return self._hands.boot()
        began, last = time.monotonic(), ""
        try:
            for _ in range(STARTS):
                self._restart()
                report = self._up()
                if report.move is not Move.STAYED_DOWN:
                    return report
                last = report.detail
            return self._taken_back(last, began)
        except Refused as refused:
            # A door that fails says nothing of the values: such a trial does not count.
            return StationReport(Move.STOP, str(refused))

    def _restart(self) -> None:
        """Start it anew. Where no answer came it may have been heard all the same: how it stands tells."""
        self._expects()
        try:
            self._door.restart()
        except Unanswered:
            time.sleep(self._looked_at_s)

    def _stands(self) -> Up:
        """As the door tells; one that is itself being started is asked for a while.

        Raises:
            Unanswered: it does not answer for too long.
        """
        deadline = time.monotonic() + ANSWERS_WITHIN_S
        while True:
            try:
                return self._door.up()
            except Unanswered:
                if time.monotonic() > deadline:
                    raise
                time.sleep(self._looked_at_s)

    def _up(self) -> StationReport:
        """Wait for a start, as the door tells, and then as the bench hears it."""
        deadline = time.monotonic() + COMES_UP_WITHIN_S
        stands = Up.STARTING
        while time.monotonic() < deadline:
            stands = self._stands()
            if stands in (Up.RUNNING, Up.FAILED, Up.UNKNOWN):
                break
            time.sleep(self._looked_at_s)
        if stands is Up.FAILED:
            return StationReport(Move.STAYED_DOWN, f"{self._door.text}: {stands.value}")
        if self._wait is not None:
            return self._wait()
        if stands is Up.RUNNING:
            return StationReport(Move.CAME_UP, "it is up, by its door")
        return StationReport(Move.STAYED_DOWN, f"{self._door.text}: {stands.value}")

    def _taken_back(self, why: str, began: float) -> StationReport:
        """What did not come up is undone by the door, or it is said that only a hand can."""
        took = f"{STARTS} starts, {show_duration(time.monotonic() - began)}"
        try:
            self._door.write(self._before)
            self._restart()
            if self._up().move is not Move.STAYED_DOWN:
                return StationReport(
                    Move.FELL_BACK, f"it did not come up in {took}; its door set back what stood before"
                )
        except Refused as refused:
            why = str(refused)
        clear = f": {self._rig.clearing}" if self._rig.clearing else ""
        self._lost = f"it did not come up in {took}; only a hand can clear it{clear} ({why})"
        return StationReport(Move.STAYED_DOWN, self._lost)


class ReadByDoor:
    """What the running system tells, and what the door tells of the rest; where both do, the system's word counts."""

    def __init__(self, rig: Rig, door: Door, reading: ReadingBack) -> None:
        self._rig, self._door, self._reading = rig, door, reading

    def read_back(self, setpoint: Setpoint) -> tuple[Reading, ...]:
        """Of every knob."""
        told = values_here(self._rig.door_map, self._door.read())
        knobs = {knob.name: knob for knob in self._rig.knobs}
        return tuple(
            reading_of(knobs[one.knob], setpoint[one.knob], told[one.knob], Source.READ)
            if one.read is None and one.knob in told
            else one
            for one in self._reading.read_back(setpoint)
        )
