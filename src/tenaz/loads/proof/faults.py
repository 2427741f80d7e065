"""Static memory faults as fault primitives, and an array of cells that has one.

After van de Goor, Testing Semiconductor Memories (1991), and Hamdioui, van de Goor, Rodgers, March SS (2002). A cell
holds 0 or 1. ``v`` is the victim, ``a`` the aggressor; ``<↑;0>`` and the like are written out in words.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from itertools import permutations, product


class Model(StrEnum):
    """Classes of faults."""

    STUCK_AT = "stuck-at"
    TRANSITION = "transition"
    DECODER = "decoder"
    INVERSION = "coupling, inversion"
    IDEMPOTENT = "coupling, idempotent"
    STATE = "coupling, state"
    READ_DESTRUCTIVE = "read destructive"
    DECEPTIVE = "read destructive, deceptive"
    WRITE_DISTURB = "write disturb"
    INCORRECT_READ = "incorrect read"
    COUPLED = "coupled: any of these by a neighbour"
    RETENTION = "retention"


class Effect(StrEnum):
    """What goes wrong at the victim, or, for the last four, at addresses."""

    STUCK = "stuck"
    NO_TRANSITION = "no transition"
    WRITE_FLIPS = "write flips"
    READ_FLIPS = "read flips and shows it"
    READ_FLIPS_UNSEEN = "read flips, unseen"
    READS_WRONG = "reads wrong"
    FORCED = "forced by a state"
    DISTURBED = "disturbed by an operation"
    INVERTED = "inverted by a transition"
    LEAKS = "leaks"
    NO_CELL = "address without a cell"
    OTHER_CELL = "address of another cell"
    TWO_CELLS = "address of two cells"


AT_VICTIM = {
    Model.TRANSITION: Effect.NO_TRANSITION,
    Model.WRITE_DISTURB: Effect.WRITE_FLIPS,
    Model.READ_DESTRUCTIVE: Effect.READ_FLIPS,
    Model.DECEPTIVE: Effect.READ_FLIPS_UNSEEN,
    Model.INCORRECT_READ: Effect.READS_WRONG,
}

TRANSITIONS = ("w01", "w10")
OPERATIONS = ("r0", "r1", "w00", "w01", "w10", "w11")
"""What can be done to a cell: read in a state, write from one state to another."""


@dataclass(frozen=True, slots=True)
class Fault:
    """One fault primitive at given cells. ``value`` is the victim's sensitive state; ``when`` the aggressor's state or
    operation.
    """

    model: Model
    effect: Effect
    victim: int
    value: int
    aggressor: int | None = None
    when: str = ""


def all_faults(cells: int) -> Iterator[Fault]:
    """Every fault primitive at every cell, and at every ordered pair of cells."""
    values = (0, 1)
    for v, value in product(range(cells), values):
        yield Fault(Model.STUCK_AT, Effect.STUCK, v, value)
        for model, effect in AT_VICTIM.items():
            yield Fault(model, effect, v, value)
        yield Fault(Model.RETENTION, Effect.LEAKS, v, value)
        yield Fault(Model.DECODER, Effect.NO_CELL, v, value)
    for a, v in permutations(range(cells), 2):
        yield Fault(Model.DECODER, Effect.OTHER_CELL, v, 0, a)
        for value in values:
            yield Fault(Model.DECODER, Effect.TWO_CELLS, v, value, a)
        for operation in TRANSITIONS:
            yield Fault(Model.INVERSION, Effect.INVERTED, v, 0, a, operation)
        for value, operation in product(values, OPERATIONS):
            model = Model.IDEMPOTENT if operation in TRANSITIONS else Model.COUPLED
            yield Fault(model, Effect.DISTURBED, v, value, a, operation)
        for value, state in product(values, values):
            yield Fault(Model.STATE, Effect.FORCED, v, value, a, str(state))
            for effect in AT_VICTIM.values():
                yield Fault(Model.COUPLED, effect, v, value, a, str(state))


class FaultyArray:
    """Cells with one fault. What is done to them goes wrong as the fault says."""

    def __init__(self, cells: int, fault: Fault | None, initially: int) -> None:
        self._cells = [initially] * cells
        self._fault = fault
        if fault is not None and fault.effect is Effect.STUCK:
            self._cells[fault.victim] = fault.value
        self._settle()

    def read(self, address: int) -> int:
        """Read a cell by its address."""
        reached = self._reached(address)
        fault = self._fault
        if not reached:
            assert fault is not None
            return fault.value
        values = [self._read_cell(cell) for cell in reached]
        if len(values) == 1:
            return values[0]
        assert fault is not None
        # Two cells drive one line: the stronger level wins, which of them differs from design to design.
        return max(values) if fault.value else min(values)

    def write(self, address: int, value: int) -> None:
        """Write a cell by its address."""
        for cell in self._reached(address):
            self._write_cell(cell, value)

    def pause(self) -> None:
        """Leave the array alone for longer than a leaking cell holds."""
        fault = self._fault
        if fault is not None and fault.effect is Effect.LEAKS and self._cells[fault.victim] == fault.value:
            self._cells[fault.victim] ^= 1

    def _reached(self, address: int) -> tuple[int, ...]:
        fault = self._fault
        if fault is None or fault.model is not Model.DECODER or address != fault.victim:
            return (address,)
        if fault.effect is Effect.NO_CELL:
            return ()
        assert fault.aggressor is not None
        return (fault.aggressor,) if fault.effect is Effect.OTHER_CELL else (address, fault.aggressor)

    def _armed(self, cell: int) -> bool:
        """Whether the fault's victim is this cell, in its sensitive state, with the aggressor in its own."""
        fault = self._fault
        if fault is None or cell != fault.victim or self._cells[cell] != fault.value:
            return False
        return (
            fault.aggressor is None
            or fault.model is not Model.COUPLED
            or self._cells[fault.aggressor] == int(fault.when)
        )

    def _read_cell(self, cell: int) -> int:
        fault, state = self._fault, self._cells[cell]
        seen = state
        if fault is not None and fault.effect in READ_EFFECTS and self._armed(cell):
            if fault.effect is not Effect.READ_FLIPS_UNSEEN:
                seen = 1 - state
            if fault.effect is not Effect.READS_WRONG:
                self._cells[cell] = 1 - state
        self._done(cell, f"r{state}")
        return seen

    def _write_cell(self, cell: int, value: int) -> None:
        fault, state = self._fault, self._cells[cell]
        new = value
        if fault is not None and fault.effect in WRITE_EFFECTS and self._armed(cell):
            if fault.effect is Effect.NO_TRANSITION and value != state:
                new = state
            elif fault.effect is Effect.WRITE_FLIPS and value == state:
                new = 1 - state
        if fault is not None and fault.effect is Effect.STUCK and cell == fault.victim:
            new = fault.value
        self._cells[cell] = new
        self._done(cell, f"w{state}{value}")

    def _done(self, cell: int, operation: str) -> None:
        """What an operation on a cell does to others."""
        fault = self._fault
        if fault is not None and cell == fault.aggressor and operation == fault.when:
            v = fault.victim
            if fault.effect is Effect.INVERTED or (fault.effect is Effect.DISTURBED and self._cells[v] == fault.value):
                self._cells[v] ^= 1
        self._settle()

    def _settle(self) -> None:
        """A state that forces another does so at once."""
        fault = self._fault
        if fault is None or fault.effect is not Effect.FORCED or fault.aggressor is None:
            return
        if self._cells[fault.aggressor] == int(fault.when) and self._cells[fault.victim] == fault.value:
            self._cells[fault.victim] ^= 1


READ_EFFECTS = (Effect.READ_FLIPS, Effect.READ_FLIPS_UNSEEN, Effect.READS_WRONG)
WRITE_EFFECTS = (Effect.NO_TRANSITION, Effect.WRITE_FLIPS)
