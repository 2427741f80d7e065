"""Drawn rigs: of which kind, with which faulty parts, and with the complaint that they came to the workshop with."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime

import numpy as np

from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.parts.fitting import channel_of, fitted_modules, name_of, slots_of
from tenaz.core.rigs.rig import Rig
from tenaz.finding.causes import Cause, CauseKind
from tenaz.finding.symptoms import Symptom
from tenaz.simulated.machine import LoadMix, Machine
from tenaz.simulated.made.faults import Fault, FaultKind
from tenaz.simulated.made.populations import Population, read_population
from tenaz.simulated.made.scenarios import drawn_scenarios, rig_of, scenario
from tenaz.simulated.physics.failing import FROM_RECORDS, Failure, goes_down
from tenaz.simulated.state import State, new_state
from tenaz.simulated.truth import Truth

MADE_UTC = datetime(2026, 1, 5, 8, tzinfo=UTC)

PRIOR = {
    CauseKind.NOTHING: 0.10, CauseKind.CELLS: 0.12, CauseKind.ROW: 0.08, CauseKind.LANE: 0.10, CauseKind.SLOT: 0.06,
    CauseKind.CONTACT: 0.10, CauseKind.CHANNEL: 0.02, CauseKind.CONTROLLER: 0.04, CauseKind.CORE: 0.10,
    CauseKind.COOLER: 0.08, CauseKind.SUPPLY: 0.08, CauseKind.BOARD: 0.03, CauseKind.HARD_MEMORY: 0.06,
    CauseKind.HARD_CORES: 0.03,
}  # fmt: skip
"""What is at fault how often, of rigs that come with a complaint: the trade's order of magnitude, not measured."""
TWO_FAULTS = 0.10
STRENGTH_FOLDS = 0.7
STRENGTH_FOLDS_OF = {CauseKind.CORE: 0.3, CauseKind.SUPPLY: 0.12, CauseKind.BOARD: 0.12, CauseKind.COOLER: 0.3}
"""Scatter of a fault's strength, as natural logarithms."""
STRENGTHS = (0.25, 4.0)
TRIES, HARDER = 60, 0.015
IN_USE = ((LoadKind.PROGRAM, 1.0), (LoadKind.SOLO, 0.1))
"""What a rig does at its owner's: programs, and a tenth of the time one core alone at its highest clock."""
LEAST_PER_H, MOST_PER_H = 0.01, 3000.0
"""A fault that shows less than once in some days of use brings no rig to a workshop; one that lets it never come up is
found at once.
"""
HARD_FOLDS = (-0.7, 2.0)
"""A rig that is set too hard fails so often an hour, as a natural logarithm."""

FAULTS = {
    CauseKind.CELLS: FaultKind.REGION,
    CauseKind.ROW: FaultKind.ROW,
    CauseKind.LANE: FaultKind.LANE,
    CauseKind.SLOT: FaultKind.SLOT,
    CauseKind.CONTACT: FaultKind.CONTACT,
    CauseKind.CHANNEL: FaultKind.CHANNEL,
    CauseKind.CONTROLLER: FaultKind.CONTROLLER,
    CauseKind.CORE: FaultKind.CORE,
    CauseKind.COOLER: FaultKind.COOLER,
    CauseKind.SUPPLY: FaultKind.SUPPLY,
    CauseKind.BOARD: FaultKind.REGULATOR,
}
HARD = {
    CauseKind.HARD_MEMORY: ("data_rate_mts", LoadKind.MARCH),
    CauseKind.HARD_CORES: ("core_ratio", LoadKind.SOLVE),
}
"""The knob that was set too hard, and the load that shows it."""
TYPED_MV = 1200
"""Who sets the cores' clock by hand has typed a voltage too."""


@dataclass(frozen=True, slots=True)
class Drawn:
    """A rig with its hidden state, what is truly at fault (none: nothing is), and what the client tells."""

    rig: Rig
    state: State
    causes: tuple[Cause, ...]
    symptoms: tuple[Symptom, ...] = ()


def draw(seed: int, kinds: tuple[CauseKind, ...] | None = None) -> Drawn:
    """The rig of a seed; with given kinds of fault, or with those that come as often as they do."""
    luck = np.random.default_rng([seed, 41])
    if kinds is None:
        kinds = _kinds(luck)
    names = drawn_scenarios()
    one = scenario(names[int(luck.integers(len(names)))])
    rig = rig_of(one, seed)
    population = read_population(one.population)
    causes, faults = list[Cause](), list[Fault]()
    for wanted in kinds:
        kind = wanted
        if kind is CauseKind.NOTHING:
            continue
        if kind in HARD:
            rig = replace(rig, stock=_hardened(rig, new_state(population, seed, MADE_UTC), kind, luck))
            causes.append(Cause(kind))
            continue
        if kind is CauseKind.CHANNEL and len({channel_of(one) for one in slots_of(rig)}) == len(slots_of(rig)):
            kind = CauseKind.SLOT
        place = _place(rig, kind, luck)
        faults.append(_strong_enough(rig, seed, population, kind, place, luck))
        causes.append(Cause(kind, place))
    state = new_state(population, seed, MADE_UTC, tuple(faults))
    return Drawn(rig, state, tuple(causes), complaint(rig, state, luck))


def _strong_enough(
    rig: Rig, seed: int, population: Population, kind: CauseKind, place: str, luck: np.random.Generator
) -> Fault:
    """A fault that would bring a rig to a workshop."""
    fault = Fault(FAULTS[kind], place)
    for attempt in range(TRIES):
        # A rig on which the usual strength never shows needs more of it.
        folds = STRENGTH_FOLDS_OF.get(kind, STRENGTH_FOLDS) * float(luck.standard_normal()) + HARDER * attempt
        fault = Fault(FAULTS[kind], place, float(np.clip(np.exp(folds), *STRENGTHS)))
        machine = Machine(rig, new_state(population, seed, MADE_UTC, (fault,)))
        values = machine.values(rig.stock)
        if kind is CauseKind.COOLER:
            if _held_back(machine):
                break
            continue
        rates = [float(machine.log_rates(values, LoadMix((load,)))[0]) + np.log(part) for load, part in IN_USE]
        if np.log(LEAST_PER_H) < max(rates) < np.log(MOST_PER_H):
            break
    return fault


def _held_back(machine: Machine) -> bool:
    """Whether it is hot, or slower for its heat."""
    values = machine.values(machine.rig.stock)
    hot = machine.warmed(values, LoadMix((LoadKind.TRANSFORM,)))[0]
    return bool(hot.max() > HOT_C)


def _kinds(luck: np.random.Generator) -> tuple[CauseKind, ...]:
    names, chances = list(PRIOR), np.array(list(PRIOR.values()))
    first = names[int(luck.choice(len(names), p=chances / chances.sum()))]
    if first is CauseKind.NOTHING or luck.random() >= TWO_FAULTS / (1 - PRIOR[CauseKind.NOTHING]):
        return (first,)
    while True:
        second = names[int(luck.choice(len(names), p=chances / chances.sum()))]
        if second not in (first, CauseKind.NOTHING):
            return (first, second)


def _place(rig: Rig, kind: CauseKind, luck: np.random.Generator) -> str:
    modules = fitted_modules(rig)
    module = modules[int(luck.integers(len(modules)))]
    where = FAULTS[kind].where
    if where == "core":
        return str(int(luck.integers(max(1, rig.cores_known))))
    return {"module": name_of(module), "slot": module.slot, "channel": channel_of(module)}.get(where, "")


def _hardened(rig: Rig, state: State, kind: CauseKind, luck: np.random.Generator) -> Setpoint:
    """Stock with a knob set so hard that it fails at times."""
    name, load = HARD[kind]
    knob = rig.knob(name)
    if kind is CauseKind.HARD_CORES:
        rig = replace(rig, stock=rig.stock.replacing("core_voltage_mv", TYPED_MV))
    value = rig.stock[name]
    base = rig.machine.base_mhz if rig.machine else None
    begin = knob.strain(value if isinstance(value, int) else (base or 3000) // 100)
    strains = list(range(begin, knob.ends[1] + 1, max(1, (knob.ends[1] - begin) // 600)))
    share = 0.9 if load is LoadKind.MARCH else None
    at_first = rig.stock.replacing(name, knob.at_strain(begin))
    rates, chances = Truth(Machine(rig, state)).along(at_first, knob, strains, LoadMix((load,), (share,)))
    wanted = float(luck.uniform(*HARD_FOLDS))
    at = next((place for place, rate in enumerate(rates) if rate >= wanted), len(strains) - 1)
    while at > 0 and chances[at] < 0.5:
        at -= 1
    return rig.stock.replacing(name, knob.at_strain(strains[at]))


# -- the complaint ----------------------------------------

USE_H = 20.0
MOST_NOTICED = 4


def complaint(rig: Rig, state: State, luck: np.random.Generator) -> tuple[Symptom, ...]:
    """What its owner noticed in some days of use: how it failed in a program, how hot it got, what was not seen."""
    machine = Machine(rig, state)
    values = machine.values(rig.stock)
    strain = LoadMix((LoadKind.PROGRAM,))
    die_c, modules_c = machine.warmed(values, strain)
    log = machine.log_hazards(values, strain, die_c, modules_c)[:, 0]
    cold = machine.log_hazards(values, strain, die_c * 0 + 42.0, modules_c * 0 + 30.0)[:, 0]
    rates = np.exp(log)
    count = min(MOST_NOTICED, int(luck.poisson(min(50.0, USE_H * rates.sum()))))
    found = _noticed(machine, log, rates, max(1, count), luck) if rates.sum() > FAILS_PER_H else _elsewhere(luck)
    if rates.sum() > 3 * np.exp(cold).sum() and luck.random() < 0.7:
        found.add(Symptom.WHEN_HOT)
    if luck.random() < (0.8 if _held_back(machine) else 0.04):
        found.add(Symptom.HOT)
    hides = state.faults_of(FaultKind.SLOT) or state.faults_of(FaultKind.CONTACT)
    if luck.random() < (0.45 if hides else 0.01):
        found.add(Symptom.LESS_MEMORY)
    if luck.random() < 0.02:
        found.add(Symptom.NO_START)
    if luck.random() < 0.02:
        found.add(Symptom.ARTEFACTS)
    return tuple(one for one in Symptom if one in found)


FAILS_PER_H = 1e-3
"""Below that nobody notices a rig by its failures: what its owner tells of has another reason."""
HOT_C = 88.0


def _noticed(
    machine: Machine, log: np.ndarray, rates: np.ndarray, count: int, luck: np.random.Generator
) -> set[Symptom]:
    found: set[Symptom] = set()
    for _ in range(count):
        place = int(luck.choice(len(rates), p=rates / rates.sum()))
        column = machine.columns[place]
        ended = goes_down(Failure(0.0, column, float(log[place])), luck)
        noticed = {Outcome.FROZE: Symptom.FREEZE, Outcome.RESTARTED: Symptom.CRASH, None: Symptom.ERRORS}
        found.add(noticed[ended])
        if column.weak in FROM_RECORDS and luck.random() < 0.2:
            found.add(Symptom.STUTTER)
    if count == 1 and luck.random() < 0.15:
        found.add(Symptom.ONE_PROGRAM)
    return found


def _elsewhere(luck: np.random.Generator) -> set[Symptom]:
    """What is told of a rig whose parts are sound: a program, a driver, a mains plug."""
    told = (Symptom.CRASH, Symptom.FREEZE, Symptom.ERRORS)
    found = {told[int(luck.choice(3, p=(0.45, 0.3, 0.25)))]}
    if luck.random() < 0.5:
        found.add(Symptom.ONE_PROGRAM)
    if luck.random() < 0.05:
        found.add(Symptom.STUTTER)
    return found
