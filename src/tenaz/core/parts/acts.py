"""What hands do to the parts of a rig, each in its minutes: modules, cores, cooler, supply."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import checked_line
from tenaz.core.machine.machine import MemoryModule
from tenaz.core.parts.fitting import Fitting, name_of
from tenaz.core.words.finding import near_it, phrases
from tenaz.core.words.word import About

BEFORE_PARTS = (
    "before parts are touched: switch off, pull the mains plug, take the battery out where there is one, hold the "
    "power button for five seconds, and touch bare metal"
)
"""Said whenever work on parts is asked for."""
CLEARS = ("clear", "firmware")
"""Acts after which all values stand at stock."""
MOST_NAME = 40
MOST_TYPED = 400


@dataclass(frozen=True, slots=True)
class Act:
    """One act: its word, how it is typed, what it does, what it takes in minutes; ``optional`` is one more word."""

    word: str
    typed: str
    about: str
    minutes: float
    optional: str = ""


ACTS = (
    Act("move", "move A2 B1", "a module to another slot; two change places", 5.0),
    Act("pull", "pull A2", "take a module out, and lay it aside", 4.0),
    Act("fit", "fit 0042 A2", "one that was laid aside, by its serial", 4.0),
    Act("alone", "alone A2", "leave only the module in this slot", 6.0),
    Act("reseat", "reseat A2", "take a module out and seat it anew", 3.0),
    Act("replace", "replace A2", "put in a new module of the same kind", 5.0, "its serial"),
    Act("spare", "spare A2", "put in one of the shelf that is known to be good", 5.0, "its serial"),
    Act("off", "off 3", "switch a core off in the firmware", 2.0),
    Act("on", "on 3", "switch it on again", 2.0),
    Act("clean", "clean", "take the cooler off, clean it, new paste", 12.0),
    Act("fan", "fan on", "a fan on the modules and the board, or off", 2.0),
    Act("supply", "supply", "put another power supply in", 15.0),
    Act("contacts", "contacts A2", "clean a module's contacts and seat it anew", 6.0),
    Act("slot", "slot A2", "clean a slot out and seat its module anew", 6.0),
    Act("processor", "processor", "take the processor out, look at its contacts, seat it anew", 25.0, "its new name"),
    Act("cables", "cables", "pull power and data cables off and plug them in again", 6.0),
    Act("card", "card", "take the graphics card out and seat it anew", 6.0, "its new name"),
    Act("clear", "clear", "clear the firmware's settings: all stands at stock then", 4.0),
    Act("firmware", "firmware F12", "put another firmware on, by its version; that clears its settings too", 15.0),
)


@dataclass(frozen=True, slots=True)
class Worked:
    """The parts afterwards, what was done in words, and the minutes that it took."""

    fitting: Fitting
    told: str
    minutes: float


def work(fitting: Fitting, cores: int, text: str) -> Worked:
    """Carry out acts as they were typed, several divided by ``;``.

    Raises:
        Refused: naming the word, and what there is.
    """
    told, minutes = list[str](), 0.0
    for typed in checked_line(text, MOST_TYPED).split(";"):
        act, words = check_act(typed)
        done, fitting = _DOING[act.word](fitting, cores, words)
        told.append(done)
        minutes += act.minutes
    return Worked(fitting, "; ".join(told), minutes)


def check_act(text: str) -> tuple[Act, list[str]]:
    """The act and its words, as far as they can be told without the rig.

    Raises:
        Refused: naming the word, and what there is.
    """
    words = _in_our_words(text).split()
    act = next((one for one in ACTS if words and one.word == words[0].lower()), None)
    if act is None:
        raise Refused(
            f"{text.strip()[:40]!r} is nothing that is done to parts; type one of: {', '.join(a.typed for a in ACTS)}."
            + near_it(text.strip()[:40], About.ACT)
        )
    wanted = len(act.typed.split())
    if not wanted <= len(words) <= wanted + bool(act.optional):
        raise Refused(f"{act.word}: type it like: {act.typed}{f' ({act.optional})' if act.optional else ''}.")
    return act, words[1:]


def _in_our_words(text: str) -> str:
    """An act called by its word, whatever the trade calls it: ``take out A2`` is ``pull A2``."""
    line = " ".join(text.split())
    if any(line.lower().split(" ")[0] == one.word for one in ACTS):
        return line
    for phrase, name in phrases(About.ACT):
        if line.lower() == phrase or line.lower().startswith(f"{phrase} "):
            return f"{name}{line[len(phrase) :]}"
    return line


def _slot(fitting: Fitting, name: str, full: bool | None = None) -> MemoryModule:
    found = next((one for one in fitting.modules if one.slot.replace(" ", "_").lower() == name.lower()), None)
    if found is None:
        raise Refused(f"there is no slot {name[:20]}; there are {', '.join(one.slot for one in fitting.modules)}.")
    if full is True and not found.fitted:
        raise Refused(
            f"slot {found.slot} is empty; modules sit in {', '.join(m.slot for m in fitting.fitted) or 'none'}."
        )
    if full is False and found.fitted:
        raise Refused(f"slot {found.slot} holds a module already: pull it first.")
    return found


def _with(fitting: Fitting, *slots: MemoryModule) -> Fitting:
    by_name = {one.slot: one for one in slots}
    return replace(fitting, modules=tuple(by_name.get(one.slot, one) for one in fitting.modules))


def _empty(module: MemoryModule) -> MemoryModule:
    return MemoryModule(module.slot, 0, bank=module.bank)


def _sits(module: MemoryModule, slot: MemoryModule) -> MemoryModule:
    return replace(module, slot=slot.slot, bank=slot.bank)


def _move(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    one, other = _slot(fitting, words[0], full=True), _slot(fitting, words[1])
    if one.slot == other.slot:
        raise Refused(f"the module sits in {one.slot} already.")
    back = _sits(other, one) if other.fitted else _empty(one)
    told = f"module {name_of(one)} moved from {one.slot} to {other.slot}"
    seated = (other.slot, one.slot) if other.fitted else (other.slot,)
    after = _with(fitting, _sits(one, other), back).seated_anew(*seated)
    return told + (f", and {name_of(other)} to {one.slot}" if other.fitted else ""), after


def _pull(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    one = _slot(fitting, words[0], full=True)
    after = replace(_with(fitting, _empty(one)), aside=(*fitting.aside, one))
    return f"module {name_of(one)} pulled from {one.slot}", after


def _alone(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    one = _slot(fitting, words[0], full=True)
    others = [other for other in fitting.fitted if other.slot != one.slot]
    after = replace(_with(fitting, *map(_empty, others)), aside=(*fitting.aside, *others))
    return f"module {name_of(one)} alone in {one.slot}", after


def _fit(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    module = next((one for one in fitting.aside if words[0] in (one.serial, one.part)), None)
    if module is None:
        aside = ", ".join(name_of(one) for one in fitting.aside) or "none"
        raise Refused(f"no module {words[0][:20]} was laid aside; there are: {aside}.")
    slot = _slot(fitting, words[1], full=False)
    left = tuple(one for one in fitting.aside if one is not module)
    after = replace(_with(fitting, _sits(module, slot)), aside=left).seated_anew(slot.slot)
    return f"module {name_of(module)} fitted in {slot.slot}", after


def _reseat(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    one = _slot(fitting, words[0], full=True)
    return f"module {name_of(one)} seated anew in {one.slot}", fitting.seated_anew(one.slot)


def _other(fitting: Fitting, words: list[str], prefix: str) -> tuple[MemoryModule, MemoryModule, Fitting]:
    """The module that leaves, the one that comes in its place, the parts afterwards."""
    one = _slot(fitting, words[0], full=True)
    count = fitting.fresh + 1
    serial = words[1] if len(words) > 1 else f"{prefix}{count:03d}"
    if len(serial) > MOST_NAME or serial in {name_of(m) for m in (*fitting.fitted, *fitting.aside)}:
        raise Refused(f"a module {serial[:MOST_NAME]} is here already; give the other one a serial of its own.")
    fresh = replace(one, serial=serial)
    after = replace(_with(fitting, fresh), aside=(*fitting.aside, one), fresh=count).seated_anew(one.slot)
    return one, fresh, after


def _replace(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    one, fresh, after = _other(fitting, words, "N")
    return f"new module {fresh.serial} in {one.slot}; {name_of(one)} laid aside", after


def _spare(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    one, fresh, after = _other(fitting, words, "S")
    after = replace(after, spares=(*after.spares, fresh.serial))
    return f"{fresh.serial} of the shelf, known good, in {one.slot}; {name_of(one)} laid aside", after


def _core(cores: int, text: str) -> int:
    if not text.isdecimal() or not text.isascii() or len(text) > 3 or int(text) >= cores:
        raise Refused(f"there is no core {text[:20]}; there are 0 to {cores - 1}.")
    return int(text)


def _off(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    core = _core(cores, words[0])
    off = tuple(sorted({*fitting.cores_off, core}))
    if len(off) >= cores:
        raise Refused("one core must stay on.")
    return f"core {core} switched off", replace(fitting, cores_off=off)


def _on(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    core = _core(cores, words[0])
    left = tuple(one for one in fitting.cores_off if one != core)
    return f"core {core} switched on", replace(fitting, cores_off=left)


def _clean(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores, words
    return "cooler cleaned, with new paste", replace(fitting, cleanings=fitting.cleanings + 1)


def _contacts(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    one = _slot(fitting, words[0], full=True)
    return f"contacts of module {name_of(one)} cleaned, seated anew in {one.slot}", fitting.seated_anew(one.slot)


def _clean_slot(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    one = _slot(fitting, words[0])
    return f"slot {one.slot} cleaned out", fitting.seated_anew(one.slot)


def _processor(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    told = f"another processor put in: {' '.join(words)}" if words else "processor taken out, looked at, seated anew"
    # Whoever takes it out takes the cooler off, and puts new paste on.
    return told, replace(fitting.done_again("processor"), cleanings=fitting.cleanings + 1)


def _cables(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores, words
    return "cables pulled off and plugged in again", fitting.done_again("cables")


def _card(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    told = f"another graphics card put in: {' '.join(words)}" if words else "graphics card taken out and seated anew"
    return told, fitting.done_again("card")


def _clear(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores, words
    return "firmware settings cleared: all stands at stock", fitting


def _firmware(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    version = words[0][:MOST_NAME]
    return f"firmware {version} put on: all stands at stock", replace(fitting, firmware=version)


def _fan(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores
    if words[0].lower() not in ("on", "off"):
        raise Refused(f"fan {words[0][:20]}: type fan on, or fan off.")
    on = words[0].lower() == "on"
    return f"a fan {'put on' if on else 'taken off'}", replace(fitting, fan=on)


def _supply(fitting: Fitting, cores: int, words: list[str]) -> tuple[str, Fitting]:
    del cores, words
    return "another power supply put in", replace(fitting, supplies=fitting.supplies + 1)


_DOING: dict[str, Callable[[Fitting, int, list[str]], tuple[str, Fitting]]] = {
    "move": _move, "pull": _pull, "fit": _fit, "alone": _alone, "reseat": _reseat, "replace": _replace,
    "spare": _spare, "off": _off, "on": _on, "clean": _clean, "fan": _fan, "supply": _supply,
}  # fmt: skip
