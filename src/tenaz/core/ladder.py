"""The ladder for modules: each alone in one slot, then slots with one that is good, then full capacity again.

What was shown decides the next rung; nothing else is remembered, so the machine may be switched off between any two.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.fitting import Fitting, name_of
from tenaz.core.machine import MemoryModule
from tenaz.core.works import PartState


class Shown(StrEnum):
    """What a rung has shown."""

    NOTHING = "not tried"
    HELD = "held"
    FAILED = "failed"


@dataclass(frozen=True, slots=True)
class Seen:
    """A trial as the ladder sees it: how the parts stood, and whether it held or failed (neither: it says nothing)."""

    fitting: Fitting
    failed: bool
    seconds: float


@dataclass(frozen=True, slots=True)
class Rung:
    """Modules by serial in slots, what to do to come there, and what was shown with just these."""

    sits: tuple[tuple[str, str], ...]
    words: str
    shown: Shown = Shown.NOTHING
    seconds: float = 0.0


@dataclass(frozen=True, slots=True)
class Verdict:
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
class Ladder:
    """All rungs so far, the one that is next (None: it is at its end), and what follows for parts."""

    rungs: tuple[Rung, ...]
    next: Rung | None
    verdicts: tuple[Verdict, ...]


def ladder(fittings: Sequence[Fitting], seen: Sequence[Seen]) -> Ladder:
    """Climb it: ``fittings`` is how the parts stood from the first on, ``seen`` all trials at stock."""
    modules = _modules(fittings)
    first = fittings[0]
    slots = [one.slot for one in first.modules]
    home = _first_slot(first)
    at = _shown(seen)
    rungs = [_rung(tuple((name_of(one), one.slot) for one in first.fitted), "all modules, as they were", at)]
    verdicts: list[Verdict] = []
    for module in modules:
        rungs.append(_alone(name_of(module), home, at))
    tried = [rung for rung in rungs[1:] if rung.shown is not Shown.NOTHING]
    good = [rung.sits[0][0] for rung in tried if rung.shown is Shown.HELD]
    verdicts += [Verdict("module", name, PartState.GOOD, f"held alone in {home}") for name in good]
    others = [slot for slot in slots if slot != home]
    for rung in tried:
        if rung.shown is not Shown.FAILED or not others:
            continue
        serial, elsewhere = rung.sits[0][0], _alone(rung.sits[0][0], others[-1], at)
        rungs.append(elsewhere)
        if elsewhere.shown is Shown.FAILED:
            why = f"failed alone in {home} and in {others[-1]}"
            verdicts.append(Verdict("module", serial, PartState.BAD, why))
        elif elsewhere.shown is Shown.HELD:
            verdicts.append(Verdict("module", serial, PartState.GOOD, f"held alone in {others[-1]}"))
            verdicts.append(Verdict("slot", home, PartState.SUSPECT, f"{serial} failed there, and held elsewhere"))
    if len(good) == len(modules) and rungs[0].shown is Shown.FAILED:
        used = [one.slot for one in first.fitted if one.slot != home]
        for slot in used:
            rung = _alone(good[0], slot, at)
            rungs.append(rung)
            if rung.shown is Shown.FAILED:
                why = f"{good[0]} failed there, and held in {home}"
                verdicts.append(Verdict("slot", slot, PartState.BAD, why))
    bad = {one.place for one in verdicts if one.kind == "module" and one.state is PartState.BAD}
    if bad:
        left = tuple((name_of(one), one.slot) for one in first.fitted if name_of(one) not in bad)
        if left:
            rungs.append(_rung(left, f"all but {', '.join(sorted(bad))}", at))
    upcoming = next((rung for rung in rungs if rung.shown is Shown.NOTHING), None)
    return Ladder(tuple(rungs), upcoming, tuple(verdicts))


def standing_on(one: Ladder, now: Fitting) -> Rung | None:
    """The rung that the machine stands on as it is fitted now."""
    sits = _sits(now)
    return next((rung for rung in one.rungs if tuple(sorted(rung.sits)) == sits), None)


def _modules(fittings: Sequence[Fitting]) -> list[MemoryModule]:
    """All modules that ever were there, spares aside, in the order they were seen."""
    found: dict[str, MemoryModule] = {}
    for fitting in fittings:
        for one in (*fitting.fitted, *fitting.aside):
            if name_of(one) not in fitting.spares:
                found.setdefault(name_of(one), one)
    return list(found.values())


def _first_slot(fitting: Fitting) -> str:
    """Where a module alone belongs: the second slot of the first channel on most boards; else where one sits."""
    named = [one.slot for one in fitting.modules if one.slot.upper().replace("_", "").replace(" ", "").endswith("A2")]
    return (named or [one.slot for one in fitting.fitted] or [one.slot for one in fitting.modules])[0]


def _sits(fitting: Fitting) -> tuple[tuple[str, str], ...]:
    return tuple(sorted((name_of(one), one.slot) for one in fitting.fitted))


def _shown(seen: Sequence[Seen]) -> dict[tuple[tuple[str, str], ...], tuple[Shown, float]]:
    """By what sat where: failed where any trial did, and the seconds that held."""
    found: dict[tuple[tuple[str, str], ...], tuple[Shown, float]] = {}
    for one in seen:
        key = _sits(one.fitting)
        before, seconds = found.get(key, (Shown.NOTHING, 0.0))
        now = Shown.FAILED if one.failed or before is Shown.FAILED else Shown.HELD
        found[key] = now, seconds + (0.0 if one.failed else one.seconds)
    return found


def _alone(serial: str, slot: str, at: dict[tuple[tuple[str, str], ...], tuple[Shown, float]]) -> Rung:
    return _rung(((serial, slot),), f"only {serial}, in {slot}", at)


def _rung(
    sits: tuple[tuple[str, str], ...], words: str, at: dict[tuple[tuple[str, str], ...], tuple[Shown, float]]
) -> Rung:
    shown, seconds = at.get(tuple(sorted(sits)), (Shown.NOTHING, 0.0))
    return Rung(sits, words, shown, seconds)
