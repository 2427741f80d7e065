"""Learns of each kind of fault from many simulated rigs that have it: rates, ends, prints, heat, complaints."""

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from copy import deepcopy
from dataclasses import dataclass, field, replace

import numpy as np

from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.parts.acts import work
from tenaz.core.parts.fitting import channel_of, fitted_modules, fitting_of
from tenaz.core.rigs.rig import Rig
from tenaz.core.sensors.telemetry import Record
from tenaz.core.trials.facts import sensor_facts
from tenaz.finding.causes import CauseKind
from tenaz.finding.easing import CORES, MEMORY, eased
from tenaz.finding.learnt import RELIEFS, SEVERITIES, TIMES_MIN, WEIGHED, KindTable, Learnt
from tenaz.finding.sensing import sensed_of
from tenaz.finding.sightings import Sensed, heat_key, print_key, sag_key
from tenaz.finding.symptoms import Symptom
from tenaz.simulated.machine import LoadMix, Machine
from tenaz.simulated.physics.course import Course, course_of
from tenaz.simulated.physics.failing import Failure, goes_down
from tenaz.simulated.sensing import Sensing
from tenaz.simulated.state import State
from tenaz.simulated.wrong_values import FoundWrong, WrongValues
from tenaz.study.faulty.drawing import PRIOR, TWO_FAULTS, Drawn, draw
from tenaz.study.hands import hands

SPECIMENS = 48
LEARNT_FROM = 3_000_000
"""The first seed: none of the table's."""
WHOLE_S = 160 * 60.0
FAILURES_EACH = 4
SENSED_S = 600.0
SOFT = 0.5
MOST_RELIEF = 15.0
LOWEST, HIGHEST = -9.0, 6.0
"""Logarithms of rates beyond which it makes no difference."""


@dataclass(slots=True)
class _Kept:
    """What is counted for one kind."""

    rates: list[list[float]] = field(default_factory=list)
    effective: dict[str, list[np.ndarray]] = field(default_factory=lambda: {"memory": [], "cores": []})
    reliefs: dict[str, list[float]] = field(default_factory=lambda: {name: [] for name in RELIEFS})
    ends: dict[str, Counter[Outcome]] = field(default_factory=lambda: {"memory": Counter(), "cores": Counter()})
    prints: Counter[str] = field(default_factory=Counter)
    heat: Counter[str] = field(default_factory=Counter)
    sag: Counter[str] = field(default_factory=Counter)
    symptoms: Counter[str] = field(default_factory=Counter)


def learn(
    told: Callable[[str], None],
    specimens: int = SPECIMENS,
    first: int = LEARNT_FROM,
    kinds: Sequence[CauseKind] = tuple(PRIOR),
) -> Learnt:
    """The whole table, or some kinds of it, each from so many rigs."""
    tables = {}
    with hands() as many:
        wanted = [(place, kind, specimens, first) for place, kind in enumerate(PRIOR) if kind in kinds]
        for kind, table in zip([one[1] for one in wanted], many.map(_learn_kind, wanted), strict=True):
            tables[kind] = table
            told(f"{kind}: {specimens} rigs")
    about = f"learnt from {specimens} simulated rigs of each kind, from seed {first}"
    return Learnt(about=about, two_faults=TWO_FAULTS, kinds=tables)


def _learn_kind(wanted: tuple[int, CauseKind, int, int]) -> KindTable:
    place, kind, specimens, first = wanted
    kept = _Kept()
    for number in range(specimens):
        _look(draw(first + place * 10_000 + number, (kind,)), kind, kept)
    return _table(kind, kept, specimens)


def _strain(kind: LoadKind) -> LoadMix:
    return LoadMix((kind,), (0.9 if kind.strains is Strains.MEMORY else None,))


def _look(one: Drawn, kind: CauseKind, kept: _Kept) -> None:
    luck = np.random.default_rng([one.state.seed, 43])
    row = []
    for load in WEIGHED:
        course = _course(one, one.rig.stock, load)
        row.append(min(HIGHEST, max(LOWEST, _rate_at_end(course))))
        if load in (LoadKind.MARCH, LoadKind.TRANSFORM):
            strain = "memory" if load is LoadKind.MARCH else "cores"
            if course.expected[-1] > 1e-3:
                at = np.array([course.expected_by(minutes * 60) for minutes in TIMES_MIN])
                kept.effective[strain].append(at / np.exp(_rate_at_end(course)) * 60.0)
        if load is not LoadKind.PROGRAM and course.expected[-1] > 1e-2:
            _fail(one, load, course, kept, luck)
    kept.rates.append(row)
    _relieve(one, kind, kept)
    sensed = [_sensed(one, load, luck) for load in (LoadKind.MARCH, LoadKind.TRANSFORM)]
    kept.heat[heat_key(sensed[1])] += 1
    kept.sag[sag_key(sensed)] += 1
    kept.symptoms.update(one.symptoms)


def _course(one: Drawn, at: Setpoint, load: LoadKind) -> Course:
    machine = Machine(one.rig, one.state)
    return course_of(machine, machine.values(at), _strain(load), WHOLE_S)


def _rate_at_end(course: Course) -> float:
    return float(np.log(np.exp(np.minimum(course.log_hazards[:, -1], 60.0)).sum()))


def _fail(one: Drawn, load: LoadKind, course: Course, kept: _Kept, luck: np.random.Generator) -> None:
    """Some failures of a load, drawn from its course as a long run would have them."""
    machine = Machine(one.rig, one.state)
    wrong = WrongValues(machine, luck)
    strain = "memory" if load.strains is Strains.MEMORY else "cores"
    for _ in range(FAILURES_EACH):
        tick = int(luck.integers(len(course.ends_s) // 2, len(course.ends_s)))
        rates = np.exp(course.log_hazards[:, tick] - course.log_hazards[:, tick].max())
        column = machine.columns[int(luck.choice(len(rates), p=rates / rates.sum()))]
        log_rate = float(course.log_hazards[machine.columns.index(column), tick])
        ended = goes_down(Failure(0.0, column, log_rate), luck)
        kept.ends[strain][ended or Outcome.ERRED] += 1
        if ended is None and strain == "memory":
            found = FoundWrong(load, 60.0, 1, machine.processor.cores, 50.0, 0.9)
            kept.prints[print_key(wrong.burst(column, found))] += 1


def _relieve(one: Drawn, kind: CauseKind, kept: _Kept) -> None:
    """How much slower it fails after each of what may help."""
    load = LoadKind.MARCH if kind not in _OF_CORES else LoadKind.PULSE
    before = _rate_at_end(_course(one, one.rig.stock, load))

    def folds(state: State, rig: Rig, at: Setpoint | None) -> float:
        if at is None or kind is CauseKind.NOTHING:
            return 0.0
        helped = _rate_at_end(_course(replace(one, rig=rig, state=state), at, load))
        return float(np.clip(before - helped, -MOST_RELIEF, MOST_RELIEF))

    rig, stock = one.rig, one.rig.stock
    fan, seated = deepcopy(one.state), deepcopy(one.state)
    fan.care.fan = True
    seated.care.reseated = {module.slot: 1 for module in fitted_modules(rig)}
    kept.reliefs["fan"].append(folds(fan, rig, stock))
    kept.reliefs["reseat"].append(folds(seated, rig, stock))
    slots = [module.slot for module in fitted_modules(rig)]
    kept_in = next((cause.slot_in(fitting_of(rig)) for cause in one.causes), "") or slots[0]
    on = next((cause.place for cause in one.causes if cause.kind is CauseKind.CHANNEL), "")
    kept_in = next((m.slot for m in fitted_modules(rig) if channel_of(m) == on), kept_in)
    alone = work(fitting_of(rig), 1, f"alone {kept_in}").fitting.into(rig)
    kept.reliefs["alone"].append(folds(one.state, alone, stock))
    for domain in (MEMORY, CORES):
        kept.reliefs[domain].append(folds(one.state, rig, eased(rig, stock, domain)))


_OF_CORES = (CauseKind.CORE, CauseKind.COOLER, CauseKind.SUPPLY, CauseKind.BOARD, CauseKind.HARD_CORES)


def _sensed(one: Drawn, load: LoadKind, luck: np.random.Generator) -> Sensed:
    machine = Machine(one.rig, one.state)
    course = course_of(machine, machine.values(one.rig.stock), _strain(load), SENSED_S)
    sensing = Sensing(machine, (), luck)
    records, throttled = [Record(sensor) for sensor in sensing.sensors], 0
    for tick, end in enumerate(course.ends_s.tolist()):
        throttled += bool(course.throttled[tick])
        for record, value in zip(records, sensing.sample(course, tick, end, throttled, 0).values, strict=True):
            record.see(value)
    return sensed_of(sensor_facts(records, ()))


def _table(kind: CauseKind, kept: _Kept, specimens: int) -> KindTable:
    rows = np.array(kept.rates)
    # Along the direction in which they differ most, in groups of equal size.
    whole = np.array([kept.reliefs[name] for name in RELIEFS]).T
    both = np.concatenate([rows, whole], axis=1)
    middle = both - both.mean(axis=0)
    along = middle @ np.linalg.svd(middle, full_matrices=False)[2][0]
    groups = np.array_split(np.argsort(along), SEVERITIES)
    means = np.array([rows[group].mean(axis=0) for group in groups])
    log_rates = {load: tuple(round(float(x), 2) for x in means[:, place]) for place, load in enumerate(WEIGHED)}
    reliefs = {
        name: tuple(round(float(whole[group, place].mean()), 2) for group in groups)
        for place, name in enumerate(RELIEFS)
    }
    chances = tuple(round(len(group) / len(rows), 4) for group in groups)
    effective = {
        strain: tuple(
            round(float(x), 2) for x in (np.median(np.minimum(found, 400.0), axis=0) if found else np.array(TIMES_MIN))
        )
        for strain, found in kept.effective.items()
    }
    order_of_ends = (Outcome.ERRED, Outcome.FROZE, Outcome.RESTARTED)
    return KindTable(
        prior=PRIOR[kind],
        log_rates=log_rates,
        chances=chances,
        effective=effective,
        reliefs=reliefs,
        ends={
            strain: _three(round((found[end] + SOFT) / (found.total() + 3 * SOFT), 4) for end in order_of_ends)
            for strain, found in kept.ends.items()
        },
        unseen=0.12 if kind in (CauseKind.SLOT, CauseKind.CONTACT) else 0.0,
        prints=dict(sorted(kept.prints.items())),
        heat=dict(sorted(kept.heat.items())),
        sag=dict(sorted(kept.sag.items())),
        symptoms={Symptom(name): round(count / specimens, 3) for name, count in sorted(kept.symptoms.items())},
    )


def _three(numbers: Iterable[float]) -> tuple[float, float, float]:
    first, second, third = numbers
    return first, second, third
