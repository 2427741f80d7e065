"""Learns what each weakness leaves, burst by burst, from simulated machines; and counts whether that is calibrated."""

from collections import Counter
from collections.abc import Iterator

import numpy as np

from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import Mismatch
from tenaz.finding.prints.suspicion import PrintCause, PrintTable, word_of
from tenaz.simulated.machine import Machine
from tenaz.simulated.made.faults import Fault, FaultKind
from tenaz.simulated.made.populations import read_population
from tenaz.simulated.made.scenarios import drawn_scenarios, rig_of, scenario
from tenaz.simulated.physics.feeling import FEELING, GROUPS, LOADS, Weak
from tenaz.simulated.physics.memory import Column
from tenaz.simulated.state import new_state
from tenaz.simulated.wrong_values import FoundWrong, WrongValues
from tenaz.study.faulty.drawing import MADE_UTC

WEAK = {
    PrintCause.CELL: (Weak.REGION, Weak.ROW_BROKEN),
    PrintCause.LEAK: (Weak.RETENTION, Weak.CELLS),
    PrintCause.NEIGHBOUR: (Weak.DISTURB,),
    PrintCause.LANE: (Weak.LANE,),
    PrintCause.CONTACT: (Weak.SLOT, Weak.CONTACT),
    PrintCause.TIMING: (
        Weak.SIGNAL, Weak.COMMAND, Weak.ACCESS, Weak.ROW, Weak.WRITE, Weak.ACTIVATE, Weak.TURN, Weak.COLUMN,
        Weak.RANKS, Weak.REFRESH,
    ),
    PrintCause.CONTROLLER: (Weak.CONTROLLER, Weak.FABRIC, Weak.IO),
    PrintCause.CORE: (Weak.CORE,),
    PrintCause.SUPPLY: (Weak.CORE,),
}  # fmt: skip
"""What of the simulated machine each cause stands for; wrong results of one core and of all look alike, one by one."""

AT_STOCK = {
    PrintCause.CELL: 0.28, PrintCause.LEAK: 0.02, PrintCause.NEIGHBOUR: 0.02, PrintCause.LANE: 0.14,
    PrintCause.CONTACT: 0.22, PrintCause.TIMING: 0.08, PrintCause.CONTROLLER: 0.06, PrintCause.CORE: 0.14,
    PrintCause.SUPPLY: 0.04,
}  # fmt: skip
MOVED = {
    PrintCause.CELL: 0.03, PrintCause.LEAK: 0.12, PrintCause.NEIGHBOUR: 0.03, PrintCause.LANE: 0.02,
    PrintCause.CONTACT: 0.02, PrintCause.TIMING: 0.48, PrintCause.CONTROLLER: 0.10, PrintCause.CORE: 0.08,
    PrintCause.SUPPLY: 0.12,
}  # fmt: skip
"""How often each is behind wrong values at stock, and beyond: the trade's order of magnitude, not measured."""

SPECIMENS, BURSTS, FIRST = 100, 40, 3_500_000
FAULTY = {
    Weak.REGION: FaultKind.REGION, Weak.ROW_BROKEN: FaultKind.ROW, Weak.LANE: FaultKind.LANE,
    Weak.SLOT: FaultKind.SLOT, Weak.CONTACT: FaultKind.CONTACT,
}  # fmt: skip
CHECKED_BY = tuple(load for load in LOADS if load is not LoadKind.PROGRAM and not load.declared.on_cards)


def learn_prints(specimens: int = SPECIMENS, first: int = FIRST) -> PrintTable:
    """Counts of each cause's words."""
    counts = {cause: Counter[str]() for cause in PrintCause}
    for number in range(specimens):
        for cause, burst in bursts(first + number, BURSTS):
            counts[cause][word_of(burst)] += 1
    about = f"learnt from {specimens} simulated rigs, {BURSTS} bursts of each cause, from seed {first}"
    return PrintTable(
        about=about,
        counts={cause: dict(sorted(found.items())) for cause, found in counts.items()},
        at_stock=AT_STOCK,
        moved=MOVED,
    )


def bursts(seed: int, count: int) -> Iterator[tuple[PrintCause, tuple[Mismatch, ...]]]:
    """So many bursts of each cause on the machine of a seed, under loads that feel it."""
    luck = np.random.default_rng([seed, 47])
    names = drawn_scenarios()
    one = scenario(names[int(luck.integers(len(names)))])
    rig = rig_of(one, seed)
    slots = [slot for slot in one.slots if slot.gib]
    where = slots[int(luck.integers(len(slots)))]
    places = {"module": where.serial, "slot": where.slot}
    faults = tuple(Fault(kind, places[kind.where]) for kind in FAULTY.values())
    machine = Machine(rig, new_state(read_population(one.population), seed, MADE_UTC, faults))
    wrong = WrongValues(machine, luck)
    for cause, weaknesses in WEAK.items():
        there = [weak for weak in weaknesses if any(column.weak is weak for column in machine.columns)]
        for _ in range(count):
            weak = there[int(luck.integers(len(there)))]
            columns = [column for column in machine.columns if column.weak is weak]
            yield cause, _burst(machine, wrong, columns[int(luck.integers(len(columns)))], weak, luck)


def _burst(
    machine: Machine, wrong: WrongValues, column: Column, weak: Weak, luck: np.random.Generator
) -> tuple[Mismatch, ...]:
    felt = np.exp(FEELING[[LOADS.index(load) for load in CHECKED_BY], GROUPS.index(weak)])
    load = CHECKED_BY[int(luck.choice(len(CHECKED_BY), p=felt / felt.sum()))]
    return tuple(wrong.burst(column, FoundWrong(load, 60.0, 1, machine.processor.cores, 50.0, 0.9)))
