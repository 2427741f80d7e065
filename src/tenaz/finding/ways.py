"""The ways in which a rig's parts can stand next: each piece of work that can be done now, and clocks cut."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.parts.acts import work
from tenaz.core.parts.fitting import Fitting, name_of
from tenaz.finding.belief import Belief
from tenaz.finding.causes import Part, Suspect
from tenaz.finding.easing import DOMAINS

CORES_LOOKED_AT = 3
SET_MIN = 0.5
"""Typing one value."""
CONDEMNED = 0.9
"""A module of which one is so sure is not put back to look."""


@dataclass(frozen=True, slots=True)
class Way:
    """A way in which the parts can stand next."""

    work: str
    fitting: Fitting
    eased: tuple[str, ...]
    minutes: float


def ways(belief: Belief, now: Fitting, eased: tuple[str, ...], cuts: Sequence[str] = DOMAINS) -> Iterator[Way]:
    """Everything that can be done next, one piece of work each; ``cuts`` are the domains whose clock can be cut."""
    yield Way("", now, eased, 0.0)
    for text in _works(belief, now):
        try:
            done = work(now, belief.known.cores, text)
        except Refused:
            continue
        yield Way(text, done.fitting, (), done.minutes + (SET_MIN if eased else 0.0))
    for domain in cuts:
        changed = tuple(one for one in DOMAINS if (one in eased) != (one == domain))
        yield Way("", now, changed, SET_MIN)


def _works(belief: Belief, now: Fitting) -> Iterator[str]:
    fitted, aside = now.fitted, [one for one in now.aside if not _condemned(belief, name_of(one))]
    empty = [one.slot for one in now.modules if not one.fitted]
    first = belief.known.fittings[0]
    for one in fitted:
        slot = _word(one.slot)
        yield f"reseat {slot}"
        if len(first.fitted) == 1 and not now.spares:
            # Alone, a module is told from its slot by another one only.
            yield f"spare {slot}"
        if len(fitted) > 1:
            yield f"alone {slot}"
            yield f"pull {slot}"
        for other in fitted:
            if other.slot > one.slot:
                yield f"move {slot} {_word(other.slot)}"
        for other_slot in empty:
            yield f"move {slot} {_word(other_slot)}"
        for spare in (m for m in aside if m.serial):
            yield f"pull {slot}; fit {spare.serial} {slot}"
    back = [(one, home) for one in aside if (home := _home(first, name_of(one))) in empty and one.serial]
    for one, home in back:
        yield f"fit {one.serial} {_word(home)}"
    if len(back) > 1:
        yield "; ".join(f"fit {one.serial} {_word(home)}" for one, home in back)
    yield from _other_works(belief, now)


def _other_works(belief: Belief, now: Fitting) -> Iterator[str]:
    if not now.cleanings:
        yield "clean"
    if not now.supplies:
        yield "supply"
    yield f"fan {'off' if now.fan else 'on'}"
    cores = [s for s, _ in belief.suspects if s.part is Part.CORE and int(s.place) not in now.cores_off]
    if belief.known.cores - len(now.cores_off) > 1:
        for suspect in cores[:CORES_LOOKED_AT]:
            yield f"off {suspect.place}"
    for core in now.cores_off:
        yield f"on {core}"


def _condemned(belief: Belief, serial: str) -> bool:
    return belief.sure_of(Suspect(Part.MODULE, serial)) > CONDEMNED


def _home(first: Fitting, name: str) -> str:
    return next((one.slot for one in first.fitted if name_of(one) == name), "")


def _word(slot: str) -> str:
    return slot.replace(" ", "_")
