"""The ladder for modules: each alone in one slot, then slots with one that is good, then full capacity again.

What was shown decides the next rung; nothing else is remembered, so the machine may be switched off between any two.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.parts.fitting import Fitting, name_of
from tenaz.core.parts.works import PartState

_Sits = tuple[tuple[str, str], ...]
"""Modules by serial, each with its slot."""


class RungState(StrEnum):
    """What a rung has shown."""

    NOTHING = "not tried"
    HELD = "held"
    FAILED = "failed"


_At = dict[_Sits, tuple[RungState, float]]
"""What was shown with just these modules in just these slots, and for how many seconds."""


@dataclass(frozen=True, slots=True)
class Seen:
    """A trial as the ladder sees it: how the parts stood, and whether it held or failed (neither: it says nothing)."""

    fitting: Fitting
    failed: bool
    seconds: float


@dataclass(frozen=True, slots=True)
class Rung:
    """Modules by serial in slots, what to do to come there, and what was shown with just these."""

    sits: _Sits
    words: str
    shown: RungState = RungState.NOTHING
    seconds: float = 0.0


@dataclass(frozen=True, slots=True)
class PartVerdict:
    """What follows for a part: ``kind`` module or slot."""

    kind: str
    place: str
    state: PartState
    why: str

    @property
    def label(self) -> str:
        """As it is typed for a label."""
        return f"{self.kind} {self.place} {self.state}: {self.why}"


@dataclass(frozen=True, slots=True)
class Isolation:
    """All rungs so far, the one that is next (None: it is at its end), and what follows for parts."""

    rungs: tuple[Rung, ...]
    next: Rung | None
    verdicts: tuple[PartVerdict, ...]


def ladder(fittings: Sequence[Fitting], seen: Sequence[Seen]) -> Isolation:
    """Climb it: ``fittings`` is how the parts stood from the first on, ``seen`` all trials at stock.

    It begins where modules were first told one by one.
    """
    fittings = [one for one in fittings if one.told] or fittings
    first, at = fittings[0], _shown(seen)
    whole = _rung(_as_it_sits(first), "all modules, as they were", at)
    home = _first_slot(first)
    serials = _serials(fittings)
    alone = [_alone(serial, home, at) for serial in serials]
    elsewhere = _in_another_slot(alone, [one.slot for one in first.modules if one.slot != home], at)
    good = [rung.sits[0][0] for rung in alone if rung.shown is RungState.HELD]
    slots: list[Rung] = []
    if len(good) == len(serials) and whole.shown is RungState.FAILED:
        slots = [_alone(good[0], one.slot, at) for one in first.fitted if one.slot != home]
    verdicts = (
        *(PartVerdict("module", serial, PartState.GOOD, f"held alone in {home}") for serial in good),
        *(verdict for rung in elsewhere for verdict in _of_a_module(rung, home)),
        *(_of_a_slot(rung, home) for rung in slots if rung.shown is RungState.FAILED),
    )
    rungs = (whole, *alone, *elsewhere, *slots, *_all_but_the_bad(first, verdicts, at))
    return Isolation(rungs, next((rung for rung in rungs if rung.shown is RungState.NOTHING), None), verdicts)


def _in_another_slot(alone: Sequence[Rung], others: Sequence[str], at: _At) -> list[Rung]:
    """Each module that failed alone, in the last of the other slots."""
    failed = [rung for rung in alone if rung.shown is RungState.FAILED]
    return [_alone(rung.sits[0][0], others[-1], at) for rung in failed if others]


def _of_a_module(elsewhere: Rung, home: str) -> tuple[PartVerdict, ...]:
    """What another slot has shown of a module that failed alone in ``home``."""
    ((serial, slot),) = elsewhere.sits
    if elsewhere.shown is RungState.FAILED:
        return (PartVerdict("module", serial, PartState.BAD, f"failed alone in {home} and in {slot}"),)
    if elsewhere.shown is RungState.HELD:
        return (
            PartVerdict("module", serial, PartState.GOOD, f"held alone in {slot}"),
            PartVerdict("slot", home, PartState.SUSPECT, f"{serial} failed there, and held elsewhere"),
        )
    return ()


def _of_a_slot(rung: Rung, home: str) -> PartVerdict:
    ((serial, slot),) = rung.sits
    return PartVerdict("slot", slot, PartState.BAD, f"{serial} failed there, and held in {home}")


def _all_but_the_bad(first: Fitting, verdicts: Sequence[PartVerdict], at: _At) -> tuple[Rung, ...]:
    """Full capacity again, as far as there is one."""
    bad = {one.place for one in verdicts if one.kind == "module" and one.state is PartState.BAD}
    left = tuple(pair for pair in _as_it_sits(first) if pair[0] not in bad)
    return (_rung(left, f"all but {', '.join(sorted(bad))}", at),) if bad and left else ()


def _serials(fittings: Sequence[Fitting]) -> list[str]:
    """All modules that ever were there, spares aside, in the order they were seen."""
    found: dict[str, None] = {}
    for fitting in fittings:
        there = (name_of(one) for one in (*fitting.fitted, *fitting.aside))
        found.update(dict.fromkeys(name for name in there if name not in fitting.spares))
    return list(found)


def _first_slot(fitting: Fitting) -> str:
    """Where a module alone belongs: the second slot of the first channel on most boards; else where one sits."""
    named = [one.slot for one in fitting.modules if one.slot.upper().replace("_", "").replace(" ", "").endswith("A2")]
    return (named or [one.slot for one in fitting.fitted] or [one.slot for one in fitting.modules])[0]


def _as_it_sits(fitting: Fitting) -> _Sits:
    return tuple((name_of(one), one.slot) for one in fitting.fitted)


def _shown(seen: Sequence[Seen]) -> _At:
    """By what sat where: failed where any trial did, and the seconds that held."""
    found: _At = {}
    for one in seen:
        key = tuple(sorted(_as_it_sits(one.fitting)))
        before, seconds = found.get(key, (RungState.NOTHING, 0.0))
        now = RungState.FAILED if one.failed or before is RungState.FAILED else RungState.HELD
        found[key] = now, seconds + (0.0 if one.failed else one.seconds)
    return found


def _alone(serial: str, slot: str, at: _At) -> Rung:
    return _rung(((serial, slot),), f"only {serial}, in {slot}", at)


def _rung(sits: _Sits, words: str, at: _At) -> Rung:
    shown, seconds = at.get(tuple(sorted(sits)), (RungState.NOTHING, 0.0))
    return Rung(sits, words, shown, seconds)
