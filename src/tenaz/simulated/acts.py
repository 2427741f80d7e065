"""What hands do to the parts of a simulated rig, each in its minutes: modules, cores, cooler, supply."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from tenaz.core.errors import Refused
from tenaz.core.machine import Machine, MemoryModule
from tenaz.core.rigs import Rig
from tenaz.simulated.machine import fitted_modules
from tenaz.simulated.state import State


@dataclass(frozen=True, slots=True)
class Act:
    """One act: its word, how it is typed, what it does, what it takes in minutes."""

    word: str
    typed: str
    about: str
    minutes: float


ACTS = (
    Act("move", "move A2 B1", "a module to another slot; two change places", 5.0),
    Act("pull", "pull A2", "take a module out, and lay it aside", 4.0),
    Act("fit", "fit 0042 A2", "one that was laid aside, by its serial", 4.0),
    Act("alone", "alone A2", "leave only the module in this slot", 6.0),
    Act("reseat", "reseat A2", "take a module out and seat it anew", 3.0),
    Act("replace", "replace A2", "put in a new module of the same kind", 5.0),
    Act("off", "off 3", "switch a core off in the firmware", 2.0),
    Act("on", "on 3", "switch it on again", 2.0),
    Act("clean", "clean", "take the cooler off, clean it, new paste", 12.0),
    Act("supply", "supply", "put another power supply in", 15.0),
)


@dataclass(frozen=True, slots=True)
class Done:
    """The rig afterwards, what was done in words, and the minutes that it took."""

    rig: Rig
    told: str
    minutes: float


def work_on(rig: Rig, state: State, text: str) -> Done:
    """Carry out an act as it was typed; the state is changed.

    Raises:
        Refused: naming the word, and what there is.
    """
    act, words = check_act(rig, text)
    told, changed = _DOING[act.word](rig, state, words)
    state.unseen = ()
    return Done(changed, told, act.minutes)


def check_act(rig: Rig, text: str) -> tuple[Act, list[str]]:
    """The act and its words, as far as they can be told without the machine.

    Raises:
        Refused: naming the word, and what there is.
    """
    words = text.split()
    act = next((one for one in ACTS if words and one.word == words[0].lower()), None)
    if act is None:
        raise Refused(
            f"{text.strip()[:40]!r} is nothing that is done to parts; type one of: {', '.join(a.typed for a in ACTS)}."
        )
    wanted = len(act.typed.split())
    if len(words) != wanted:
        raise Refused(f"{act.word}: type it like: {act.typed}.")
    if act.word not in ("off", "on", "fit") and len(words) > 1:
        _slot(rig, words[1])
    return act, words[1:]


def slots_of(rig: Rig) -> tuple[MemoryModule, ...]:
    """All slots with what sits in them; where nobody said, two modules."""
    return rig.machine.modules if rig.machine and rig.machine.modules else fitted_modules(rig)


def _slot(rig: Rig, name: str, full: bool | None = None) -> MemoryModule:
    found = next((one for one in slots_of(rig) if one.slot.lower() == name.lower()), None)
    if found is None:
        raise Refused(f"there is no slot {name[:20]}; {rig.name} has {', '.join(one.slot for one in slots_of(rig))}.")
    if full is True and not found.fitted:
        raise Refused(
            f"slot {found.slot} is empty; modules sit in {', '.join(m.slot for m in fitted_modules(rig)) or 'none'}."
        )
    if full is False and found.fitted:
        raise Refused(f"slot {found.slot} holds a module already: pull it first.")
    return found


def _with(rig: Rig, *slots: MemoryModule) -> Rig:
    by_name = {one.slot: one for one in slots}
    modules = tuple(by_name.get(one.slot, one) for one in slots_of(rig))
    whole = sum(one.size_bytes or 0 for one in modules)
    return replace(rig, machine=replace(rig.machine or Machine(), modules=modules), memory_bytes=whole)


def _empty(module: MemoryModule) -> MemoryModule:
    return MemoryModule(module.slot, 0, bank=module.bank)


def _sits(module: MemoryModule, slot: MemoryModule) -> MemoryModule:
    return replace(module, slot=slot.slot, bank=slot.bank)


def _move(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    del state
    one, other = _slot(rig, words[0], full=True), _slot(rig, words[1])
    if one.slot == other.slot:
        raise Refused(f"the module sits in {one.slot} already.")
    back = _sits(other, one) if other.fitted else _empty(one)
    told = f"module {one.serial or one.part} moved from {one.slot} to {other.slot}"
    return told + (f", and {other.serial or other.part} to {one.slot}" if other.fitted else ""), _with(
        rig, _sits(one, other), back
    )


def _pull(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    one = _slot(rig, words[0], full=True)
    state.aside = (*state.aside, one)
    return f"module {one.serial or one.part} pulled from {one.slot}", _with(rig, _empty(one))


def _alone(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    one = _slot(rig, words[0], full=True)
    others = [other for other in fitted_modules(rig) if other.slot != one.slot]
    state.aside = (*state.aside, *others)
    return f"module {one.serial or one.part} alone in {one.slot}", _with(rig, *map(_empty, others))


def _fit(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    module = next((one for one in state.aside if words[0] in (one.serial, one.part)), None)
    if module is None:
        aside = ", ".join(one.serial or one.part for one in state.aside) or "none"
        raise Refused(f"no module {words[0][:20]} was laid aside; there are: {aside}.")
    slot = _slot(rig, words[1], full=False)
    state.aside = tuple(one for one in state.aside if one is not module)
    _seat_anew(state, slot.slot)
    return f"module {module.serial or module.part} fitted in {slot.slot}", _with(rig, _sits(module, slot))


def _reseat(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    one = _slot(rig, words[0], full=True)
    _seat_anew(state, one.slot)
    return f"module {one.serial or one.part} seated anew in {one.slot}", rig


def _seat_anew(state: State, slot: str) -> None:
    state.care.reseated[slot] = state.care.reseated.get(slot, 0) + 1


def _replace(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    one = _slot(rig, words[0], full=True)
    state.care.fresh_modules += 1
    fresh = replace(one, serial=f"N{state.care.fresh_modules:03d}")
    state.aside = (*state.aside, one)
    _seat_anew(state, one.slot)
    return f"new module {fresh.serial} in {one.slot}; {one.serial or one.part} laid aside", _with(rig, fresh)


def _core(rig: Rig, text: str) -> int:
    cores = rig.cores or 1
    if not text.isdecimal() or int(text) >= cores:
        raise Refused(f"there is no core {text[:20]}; {rig.name} has 0 to {cores - 1}.")
    return int(text)


def _off(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    core = _core(rig, words[0])
    if len({*state.care.cores_off, core}) >= (rig.cores or 1):
        raise Refused("one core must stay on.")
    state.care.cores_off = tuple(sorted({*state.care.cores_off, core}))
    return f"core {core} switched off", rig


def _on(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    core = _core(rig, words[0])
    state.care.cores_off = tuple(one for one in state.care.cores_off if one != core)
    return f"core {core} switched on", rig


def _clean(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    del words
    state.care.cleaned = True
    return "cooler cleaned, with new paste", rig


def _supply(rig: Rig, state: State, words: list[str]) -> tuple[str, Rig]:
    del words
    state.care.other_supply = True
    return "another power supply put in", rig


_DOING: dict[str, Callable[[Rig, State, list[str]], tuple[str, Rig]]] = {
    "move": _move, "pull": _pull, "fit": _fit, "alone": _alone, "reseat": _reseat, "replace": _replace, "off": _off,
    "on": _on, "clean": _clean, "supply": _supply,
}  # fmt: skip
