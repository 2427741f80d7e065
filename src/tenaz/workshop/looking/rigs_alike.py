"""What parts usually come to, by the rigs of the workshop that have them."""

from collections.abc import Iterator, Sequence

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Knob
from tenaz.core.rigs.rig import Rig, stock_strain
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.querying import made_of
from tenaz.journal.store import Store
from tenaz.margins.experience import LEAST_RIGS, PastLine, carried_unit
from tenaz.margins.usual import Usual, usual_of
from tenaz.pictures.alike.model import AlikePicture, KnobAlike, PartAlike
from tenaz.workshop.runs.learning import MOST_RIGS, last_trials, past_lines

PARTS = ("board", "memory", "processor")
LEAST_HELD_S = 600.0
"""A load that held for less says nothing of where one can stand."""


def alike_of(store: Store, rig: Rig, real: bool, words: str = "") -> AlikePicture:
    """Of the parts of a rig, or of rigs in whose parts some words stand; on one side: real, or simulated."""
    asked = [(f"with {words}", words.lower())] if words else list(_parts_of(rig))
    parts = []
    for told, word in asked:
        past = list(_others(store, rig, real, word))
        if past or words:
            parts.append(_part(rig, told, past, last_trials(store, rig, real)))
    return AlikePicture(rig.name, tuple(parts), not real, LEAST_RIGS, rig.purpose.tolerance.show())


def _parts_of(rig: Rig) -> Iterator[tuple[str, str]]:
    told, machine = dict(rig.parts), rig.machine
    modules = [one.part for one in machine.modules if one.part] if machine else []
    known = {
        "board": told.get("board") or (machine.board if machine else ""),
        "memory": told.get("memory") or next(iter(modules), ""),
        "processor": rig.processor,
    }
    for name in PARTS:
        if known[name]:
            yield f"{name} {known[name]}", known[name].lower()


def _others(store: Store, rig: Rig, real: bool, word: str) -> Iterator[tuple[Rig, TrialIndex]]:
    alike = [
        one for one in store.rigs.all() if one.name != rig.name and one.family is rig.family and made_of(one, word)
    ]
    for one in alike[-MOST_RIGS:]:
        index = last_trials(store, one, real)
        if index.trials:
            yield one, index


def _part(rig: Rig, told: str, past: Sequence[tuple[Rig, TrialIndex]], mine: TrialIndex) -> PartAlike:
    knobs, too_few = list[KnobAlike](), list[str]()
    for knob in rig.knobs:
        lines = list(past_lines(rig, past, knob))
        usual = _usual(rig, knob, lines)
        if usual is not None:
            others = [held for _, index in past if (held := _held(knob, index)) is not None]
            knobs.append(_knob(rig, knob, usual, _held(knob, mine), others))
        elif lines:
            too_few.append(knob.label)
    return PartAlike(told, tuple(one.name for one, _ in past), tuple(knobs), tuple(too_few))


def _usual(rig: Rig, knob: Knob, lines: Sequence[PastLine]) -> Usual | None:
    came = stock_strain(rig, knob)
    if came is None or not lines:
        return None
    kinds = [line.kind for line in lines]
    kind = max(kinds, key=kinds.count)
    unit = carried_unit(knob, rig.stock, rig.stock, rig.family)
    return usual_of(lines, knob, came, unit, rig.family, kind, rig.purpose.tolerance)


def _knob(rig: Rig, knob: Knob, usual: Usual, held: int | None, others: Sequence[int]) -> KnobAlike:
    easiest, hardest = knob.ends

    def place(strain: float) -> float:
        return (strain - easiest) / max(1, hardest - easiest)

    came = stock_strain(rig, knob)
    return KnobAlike(
        knob.label, usual.rigs, usual.confidence, knob.show_stretch(usual.low, usual.high),
        knob.show(knob.at_strain(_within(knob, usual.median))),
        knob.show(knob.at_strain(held)) if held is not None else "",
        (place(usual.low), place(usual.median), place(usual.high)),
        None if came is None else place(came), None if held is None else place(held),
        tuple((knob.show(knob.at_strain(one)), place(one)) for one in sorted(others)),
    )  # fmt: skip


def _within(knob: Knob, strain: float) -> int:
    easiest, hardest = knob.ends
    return max(easiest, min(hardest, round(strain)))


def _held(knob: Knob, mine: TrialIndex) -> int | None:
    """The hardest value at which a load held for long enough on the rig itself."""
    held = [
        knob.strain(value)
        for one in mine.trials
        if one.verdict is Verdict.PASS and one.elapsed_s >= LEAST_HELD_S
        and isinstance(value := one.setpoint[knob.name], int) and value in knob.grid
    ]  # fmt: skip
    return max(held, default=None)
