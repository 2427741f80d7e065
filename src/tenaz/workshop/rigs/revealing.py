"""The answer at the end of an exercise: what the machine hides, and how what was found compares with it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import (
    CONTROLLER_VOLTAGE,
    CORE_OFFSET,
    CORE_RATIO,
    CORE_VOLTAGE,
    DATA_RATE,
    MEMORY_VDD,
    T_CL,
    T_RCD,
)
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Trial
from tenaz.simulated.machine import LoadMix, Machine
from tenaz.simulated.state import State
from tenaz.simulated.truth import Truth

SAFE_PER_H = 1e-3
"""A failure in a thousand hours of the hardest load: what an exercise calls safe."""
SEARCHED = (
    DATA_RATE, T_CL, T_RCD, MEMORY_VDD, CONTROLLER_VOLTAGE, CORE_RATIO, CORE_VOLTAGE,
    CORE_OFFSET,
)  # fmt: skip
"""Knobs whose edges are told, beside those that were moved."""
STRAINS = tuple(
    LoadMix((kind,), (0.5 if kind.strains is Strains.MEMORY else None,))
    for kind in LoadKind
    if kind.strains is not Strains.ANYTHING
)


@dataclass(frozen=True, slots=True)
class ExerciseAnswer:
    """What was found: the newest setpoint that held, the trials, and the words of an answer (empty: none)."""

    setpoint: Setpoint
    trials: Sequence[Trial]
    answer: str = ""


def reveal(rig: Rig, state: State, shown: ExerciseAnswer) -> tuple[str, ...]:
    """In lines: the parts, the edges, and the judgement."""
    machine = Machine(rig, state)
    truth = Truth(machine)
    lines = [f"{rig.name} is number {state.seed} of {state.population.name}, {state.population.about}"]
    lines += [f"fault: {one}" for one in truth.faults()] or ["no part of it is faulty"]
    lines += truth.firmware()
    lines += _edges(truth, rig, shown)
    lines += _judged(truth, machine, rig, state, shown)
    if shown.answer.strip():
        lines.append(_answered(rig, state, shown.answer))
    return tuple(lines)


def _edges(truth: Truth, rig: Rig, shown: ExerciseAnswer) -> list[str]:
    moved = [change.knob for change in shown.setpoint.changes_from(rig.stock)]
    names = dict.fromkeys((*SEARCHED, *moved))
    lines = []
    for knob in rig.knobs:
        if knob.name in names and isinstance(shown.setpoint[knob.name], int):
            told = [f"{_edge(truth, shown.setpoint, knob, rate)} at {words}" for rate, words in _TOLERATED]
            lines.append(f"{knob.label}: the edge lies at {', '.join(told)}")
    return lines


_TOLERATED = ((1.0, "1 failure an hour"), (SAFE_PER_H, "1 in 1,000 hours"))


def _edge(truth: Truth, setpoint: Setpoint, knob: Knob, rate: float) -> str:
    edges = [truth.window(setpoint, knob, rate, strain).high for strain in STRAINS]
    reached = [edge for edge in edges if edge is not None]
    if reached and min(reached) <= knob.strain(setpoint.number(knob.name)):
        return "an easier value than this"
    return f"{knob.between(min(reached)):.4g} {knob.unit}" if reached else "no value of its grid"


def _judged(truth: Truth, machine: Machine, rig: Rig, state: State, shown: ExerciseAnswer) -> list[str]:
    passed = sum(trial.verdict is Verdict.PASS for trial in shown.trials)
    hours = f"hours spent: {state.now_s / 3600:.1f}, of them {state.load_h:.1f} under load; {len(shown.trials)} trials"
    worst = max(STRAINS, key=lambda strain: truth.log_rate(shown.setpoint, strain))
    rate = float(np.exp(truth.log_rate(shown.setpoint, worst)))
    safe = rate <= SAFE_PER_H and truth.starts(shown.setpoint)
    verdict = ("safe" if safe else "NOT safe") + ("" if passed else ", and nothing was shown at it")
    words = f"{_per_thousand(rate)} failures in 1,000 hours of {worst.kinds[0]}, the hardest load; it comes up "
    words += f"{truth.boot_chance(shown.setpoint):.0%} of times"
    return [hours, f"what is set now is {verdict}: {words}", *_speed(truth, machine, rig, shown.setpoint)]


def _per_thousand(rate_per_h: float) -> str:
    count = rate_per_h * 1000
    return f"{count:.2g}" if 0.01 < count < 1000 else "fewer than 0.01" if count < 1 else f"{count:.0f}"


def _speed(truth: Truth, machine: Machine, rig: Rig, setpoint: Setpoint) -> list[str]:
    """Against stock, and against the fastest data rate that would be safe with the other values as they are."""
    march = LoadMix((LoadKind.MARCH,), (0.5,))

    def bandwidth(at: Setpoint) -> float:
        return float(machine.speed(machine.values(at), march, np.array([60.0])).bandwidth_gb_s[0])

    now, stock = bandwidth(setpoint), bandwidth(rig.stock)
    rate = next((knob for knob in rig.knobs if knob.name == DATA_RATE), None)
    line = f"memory bandwidth: {now:.1f} GB/s, {now / stock - 1:+.1%} against stock"
    if rate is None:
        return [line]
    edge = truth.edge(setpoint, rate, SAFE_PER_H)
    safe = [value for value in rate.grid.values() if rate.strain(value) <= edge]
    best = max((bandwidth(setpoint.replacing(rate.name, value)) for value in safe), default=now)
    left = max(0.0, best / now - 1)
    return [f"{line}; {left:.1%} of speed left along the data rate"]


def _answered(rig: Rig, state: State, answer: str) -> str:
    """Whether the answer names the part that is at fault."""
    words = {word.strip(".,;:").lower() for word in answer.split()}
    for fault in state.faults:
        names = {fault.where.lower()} if fault.where else set(fault.kind.value.split("-"))
        if fault.kind.where == "module":
            slots = (*(rig.machine.modules if rig.machine else ()), *state.aside)
            names |= {one.slot.lower() for one in slots if one.serial == fault.where}
        if words & names:
            return f"your answer, {answer.strip()!r}, is right"
    if not state.faults:
        right = bool(words & {"nothing", "none", "no"})
        return f"your answer, {answer.strip()!r}, is {'right' if right else 'wrong: no part of it is faulty'}"
    return f"your answer, {answer.strip()!r}, is wrong"
