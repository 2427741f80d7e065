"""A rig as lines to fill in by hand: what is asked, how it is shown, and how it is read back."""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from tenaz.core.base.amounts import show_duration
from tenaz.core.base.errors import Refused
from tenaz.core.base.tolerance import Tolerance
from tenaz.core.base.typed import parse_hours
from tenaz.core.knobs.names import DATA_RATE, MEMORY_VDD
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.plan import LoadKind, Strains
from tenaz.core.machine.machine import Machine, show_gib
from tenaz.core.machine.slots import ALIKE_EXAMPLE, EXAMPLE, parse_slots, show_slots
from tenaz.core.rigs.rig import CLIENT, GUARANTEED, OWN, BenchKind, Purpose, Rig
from tenaz.core.rigs.trade_line import BETWEEN_VALUES, LEAST_PRIMARY, PRIMARY, is_trade_line, with_trade_line
from tenaz.core.rigs.trade_line import EXAMPLE as TRADE_EXAMPLE
from tenaz.core.words.finding import names_for, near_in_words
from tenaz.core.words.word import About
from tenaz.intake.new_rigs import OTHER_PARTS, rig_from
from tenaz.intake.rig_knobs import with_cores

TOLERATED = r"([\d.]+)\s*(?:failures?)?\s*in\s*([\d.]+)\s*h?(?:\s*[,;]?\s+([\d.]+)\s*%?)?"
MOST_HOURS = 1000.0
"""Of a kind of load in a proof."""
PURPOSES = {purpose.name: purpose for purpose in (OWN, CLIENT, GUARANTEED)}


class WrongEntry(Refused):
    """One line cannot be taken; ``key`` names it."""

    def __init__(self, key: str, text: str) -> None:
        super().__init__(text)
        self.key = key


@dataclass(frozen=True, slots=True)
class Entry:
    """One line: its key, what stands before it, what it looks like when filled in, how it is read from and into a rig.

    ``write`` raises Refused for text that it cannot take. Entries of another group than the one before begin a block.
    ``choices`` are what it usually is: one goes through them with the arrow keys, and may still type another.
    """

    key: str
    label: str
    hint: str
    group: str
    read: Callable[[Rig], str]
    write: Callable[[Rig, str], Rig]
    choices: tuple[str, ...] = ()


def _plain(key: str, label: str, hint: str, group: str) -> Entry:
    """An entry for a text that is kept as typed."""
    return Entry(
        key,
        label,
        hint,
        group,
        lambda rig: str(getattr(rig, key)),
        lambda rig, text: replace(rig, **{key: text}),  # type: ignore[arg-type] # only for texts
    )


def _number(text: str, what: str, least: float, most: float) -> float:
    found = re.fullmatch(r"(\d+(?:\.\d+)?)\s*[a-z°]*", text.strip(), re.IGNORECASE)
    if not found or not least <= float(found[1]) <= most:
        raise Refused(f"{text!r} is no {what}; give a number from {least:g} to {most:g}.")
    return float(found[1])


def _pair(text: str, what: str) -> tuple[float, float]:
    parts = text.replace("°C", "").replace("/", " ").replace(",", " ").split()
    if len(parts) != 2:
        raise Refused(f"{text!r}: give {what} as two temperatures, warning / stop, like 85 / 95.")
    warning, stop = (_number(part, "temperature", 20, 130) for part in parts)
    if warning >= stop:
        raise Refused(f"{text!r}: the warning must lie below the stop.")
    return warning, stop


def _purpose(rig: Rig, text: str) -> Rig:
    """A purpose by name: a known one brings its ceilings, guard band and hours along."""
    if not text:
        raise Refused(f"a rig is for something; known are: {', '.join(PURPOSES)}.")
    if text == rig.purpose.name:
        return rig
    return replace(rig, purpose=PURPOSES.get(text, replace(rig.purpose, name=text)))


def _show_hours(rig: Rig) -> str:
    return ", ".join(f"{kind} {show_duration(3600 * hours)}" for kind, hours in rig.purpose.hours_asked if hours)


def _write_hours(rig: Rig, text: str) -> Rig:
    """Like ``march 4h, solo 1h``; what is not named is not asked for."""
    asked: list[tuple[LoadKind, float]] = []
    for piece in filter(str.strip, text.split(",")):
        name, _, length = piece.strip().rpartition(" ")
        called = names_for(About.LOAD, name)
        if not called or LoadKind(called[0]) is LoadKind.PROGRAM:
            near = near_in_words(name, (About.LOAD,))
            raise Refused(
                f"{piece.strip()[:40]!r}: name a load and its time, like solo 1h. {near.capitalize()}".strip()
            )
        hours = parse_hours(length)
        if hours > MOST_HOURS:
            raise Refused(f"{piece.strip()!r} is more than {MOST_HOURS:g} h; give less.")
        asked.append((LoadKind(called[0]), hours))
    return _with_purpose(rig, hours_asked=tuple(dict(asked).items()))


def _with_purpose(rig: Rig, **changed: object) -> Rig:
    purpose: Purpose = replace(rig.purpose, **changed)  # type: ignore[arg-type]
    return replace(rig, purpose=purpose)


def _show_tolerated(one: Tolerance) -> str:
    return f"{one.failures:g} in {one.hours:g}, {100 * one.confidence:g} %"


def _tolerated(now: Tolerance, text: str) -> Tolerance:
    parts = re.fullmatch(TOLERATED, text.strip(), re.IGNORECASE)
    if not parts:
        raise Refused(f"{text!r}: give failures in hours of use, and how sure, like 1 in 1000, 95 %.")
    failures, hours = _number(parts[1], "number of failures", 0.001, 1e6), _number(parts[2], "number of hours", 1, 1e7)
    sure = now.confidence if parts[3] is None else _number(parts[3], "confidence in percent", 50, 99.9) / 100
    return Tolerance(failures, hours, sure)


def _write_least_share(rig: Rig, share: float) -> Rig:
    """The same for every kind of load that goes over memory."""
    asked = dict(rig.purpose.reach_asked)
    for kind in LoadKind:
        if kind.strains is Strains.MEMORY:
            asked[kind] = replace(rig.purpose.least_reach(kind), share=share)
    return _with_purpose(rig, reach_asked=tuple(asked.items()))


def _with_machine(rig: Rig, **changed: object) -> Rig:
    machine: Machine = replace(rig.machine or Machine(), **changed)  # type: ignore[arg-type]
    return replace(rig, machine=None if machine == Machine() else machine)


def _write_memory(rig: Rig, text: str) -> Rig:
    size = round(_number(text, "size in GiB", 0.25, 1 << 16) * 2**30) if text else None
    if rig.memory_bytes is not None and text == show_gib(rig.memory_bytes):
        return rig
    return replace(_with_machine(rig, memory_bytes=size), memory_bytes=size)


def _write_slots(rig: Rig, text: str) -> Rig:
    modules = parse_slots(text, rig.machine.modules if rig.machine else ())
    kinds = {Family.of(module.kind) for module in modules if module.kind} - {Family.UNKNOWN}
    if len(kinds) == 1:
        # What stands on the modules' labels is what it has.
        rig = _write_kind(rig, kinds.pop().value)
    return _with_machine(rig, modules=modules)


def _part(key: str, label: str, hint: str, group: str = "parts") -> Entry:
    """An entry for a part that is only named."""

    def write(rig: Rig, text: str) -> Rig:
        others = tuple((what, told) for what, told in rig.parts if what != key)
        return replace(rig, parts=(*others, (key, text)) if text else others)

    return Entry(f"part_{key}", label, hint, group, lambda rig: dict(rig.parts).get(key, ""), write)


def _show_stock(rig: Rig) -> str:
    """Memory's part of stock as the trade writes it, as far as it is known."""
    known = rig.stock.numbers()
    primary = [known.get(name) for name in PRIMARY]
    told = [one for one in primary if one is not None]
    whole = "-".join(map(str, told)) if len(told) >= LEAST_PRIMARY and None not in primary[: len(told)] else ""
    rate, volts = known.get(DATA_RATE), known.get(MEMORY_VDD)
    return " ".join(filter(None, (str(rate or ""), whole, f"{volts / 1000:g}V" if volts else "")))


def _write_stock(rig: Rig, text: str) -> Rig:
    """What it came with; never what stands now. Other knobs behind a comma: ``4800 40-40-40-77 1.1V, tREFI 9360``."""
    if not text:
        return rig
    stock = rig.stock
    for piece in re.split(BETWEEN_VALUES, text):
        if is_trade_line(piece) or piece.strip().isdigit():
            stock = with_trade_line(piece, rig, stock)
            continue
        name, _, value = piece.strip().rpartition(" ")
        knob = rig.knob(name or piece.strip())
        knob.check_past(knob.parse(value))
        stock = stock.replacing(knob.name, knob.parse(value))
    rig.check_past(stock)
    return rig.came_with(stock)


def _write_kind(rig: Rig, text: str) -> Rig:
    """Another kind of memory: its knobs in place of those that were there, as long as nothing was said of them."""
    family = Family.of(text)
    if family is rig.family:
        return rig
    if family is Family.UNKNOWN and text.lower() != Family.UNKNOWN:
        raise Refused(f"{text[:20]!r} is no kind of memory that is known here; it is one of {', '.join(Family)}.")
    fresh = rig_from(Machine(), rig.name, rig.benches, memory=family)
    others = [knob for knob in rig.knobs if knob.domain in OTHER_PARTS]
    knobs = tuple(knob for knob in fresh.knobs if knob.domain not in OTHER_PARTS) + tuple(others)
    stock = {knob.name: (rig if knob in others else fresh).stock[knob.name] for knob in knobs}
    return replace(rig, knobs=knobs, stock=Setpoint.of(stock), memory=family.value, platform=fresh.platform)


def _write_spec(rig: Rig, text: str) -> Rig:
    rate = round(_number(text, "data rate in MT/s", 200, 20000)) if text else None
    return _with_machine(rig, memory_spec_mts=rate)


def _text(key: str, label: str, hint: str, group: str) -> Entry:
    """An entry for a text of what was read of the machine."""
    return Entry(
        key,
        label,
        hint,
        group,
        lambda rig: str(getattr(rig.machine, key)) if rig.machine else "",
        lambda rig, text: _with_machine(rig, **{key: text}),
    )


ENTRIES = (
    _plain("processor", "processor", "as its label says", "parts"),
    Entry(
        "cores",
        "cores",
        "not threads; each gets knobs of its own",
        "parts",
        lambda rig: str(rig.cores or ""),
        lambda rig, text: with_cores(rig, round(_number(text, "number of cores", 1, 4096)) if text else None),
    ),
    _text("board", "board", "as its label says", "parts"),
    _text(
        "firmware", "firmware", "its version, as the setup shows it; another one ends what was shown before", "parts"
    ),
    Entry(
        "kind",
        "memory",
        "its kind: as the label of a module says",
        "parts",
        lambda rig: rig.family.value,
        _write_kind,
        tuple(Family),
    ),
    Entry(
        "slots",
        "slots",
        f"{EXAMPLE}; or all alike: {ALIKE_EXAMPLE}",
        "parts",
        lambda rig: show_slots(rig.machine.modules) if rig.machine else "",
        _write_slots,
    ),
    Entry(
        "memory",
        "memory seen, GiB",
        "what the firmware counts",
        "parts",
        lambda rig: show_gib(rig.memory_bytes) if rig.memory_bytes else "",
        _write_memory,
    ),
    _part("graphics", "graphics", "the card, as its label says"),
    _part("cooling", "cooler", "what sits on the processor, and what moves air over the modules"),
    _part("supply", "supply", "maker's power and age, as its label says"),
    Entry(
        "stock",
        "came with",
        f"memory as it came, not as it stands now, like {TRADE_EXAMPLE}; other knobs behind a comma: tREFI 9360",
        "stock",
        _show_stock,
        _write_stock,
    ),
    _part(
        "profile", "profile", f"what the modules' label promises, like {TRADE_EXAMPLE}; @ dials such a line", "stock"
    ),
    Entry(
        "spec",
        "processor's rate",
        "the highest data rate that the processor's own data sheet answers for, MT/s",
        "stock",
        lambda rig: str((rig.machine.memory_spec_mts if rig.machine else None) or ""),
        _write_spec,
    ),
    _plain("clearing", "how to clear it", "like: jumper by the battery, 10 s, plug pulled", "this board"),
    _plain(
        "start_codes",
        "start-up codes",
        "what its lights, beeps or figures mean: 55 no memory, 3 long graphics",
        "this board",
    ),
    Entry(
        "also_set",
        "also to set",
        "settings that are no knobs and are gone after a clear, divided by ; : boot order stick first; fan curve quiet",
        "this board",
        lambda rig: "; ".join(rig.also_set),
        lambda rig, text: replace(rig, also_set=tuple(part.strip() for part in text.split(";") if part.strip())),
    ),
    _plain("owner", "owner", "who it belongs to", "who and why"),
    _plain("complaint", "complaint", "what brought it here, in the owner's words", "who and why"),
    _plain("by_eye", "by eye", "dirt, a bent contact, a loose plug, a missing screw", "who and why"),
    Entry(
        "guarantee_months",
        "guarantee, months",
        "how long you answer for it",
        "who and why",
        lambda rig: str(rig.guarantee_months or ""),
        lambda rig, text: replace(
            rig, guarantee_months=round(_number(text, "number of months", 0, 600)) if text else None
        ),
    ),
    Entry(
        "purpose",
        "it is for",
        "or in your own words",
        "purpose",
        lambda rig: rig.purpose.name,
        _purpose,
        tuple(PURPOSES),
    ),
    Entry(
        "tolerated",
        "tolerates",
        "failures in hours of use, and how sure an advised value is to be, like 1 in 1000, 95 %",
        "purpose",
        lambda rig: _show_tolerated(rig.purpose.tolerance),
        lambda rig, text: _with_purpose(rig, tolerance=_tolerated(rig.purpose.tolerance, text)),
    ),
    Entry(
        "hours",
        "proof",
        "the hours asked of each load before it is shown, like march 4h, retain 1h, transform 2h, solo 1h, pulse 30m",
        "purpose",
        _show_hours,
        _write_hours,
    ),
    Entry(
        "least_share",
        "least of memory, %",
        "a memory load that went over less pays no hours off",
        "purpose",
        lambda rig: f"{100 * (rig.purpose.least_reach(LoadKind.MARCH).share or 0):g}",
        lambda rig, text: _write_least_share(rig, _number(text.rstrip("% "), "share in percent", 1, 100) / 100),
    ),
    Entry(
        "guard_band",
        "least guard, steps",
        "kept free below a failure, whatever is believed; usually 0",
        "purpose",
        lambda rig: str(rig.purpose.guard_band_steps),
        lambda rig, text: _with_purpose(rig, guard_band_steps=round(_number(text, "number of steps", 0, 50))),
    ),
    Entry(
        "processor_ceiling",
        "processor, °C",
        "warning / stop",
        "watching",
        lambda rig: "{:g} / {:g}".format(*rig.purpose.processor_ceiling_c),
        lambda rig, text: _with_purpose(rig, processor_ceiling_c=_pair(text, "the processor's ceiling")),
    ),
    Entry(
        "module_ceiling",
        "modules, °C",
        "warning / stop",
        "watching",
        lambda rig: "{:g} / {:g}".format(*rig.purpose.module_ceiling_c),
        lambda rig, text: _with_purpose(rig, module_ceiling_c=_pair(text, "the modules' ceiling")),
    ),
    Entry(
        "sensors_watched",
        "sensors watched",
        "parts of their names, divided by commas; empty: all",
        "watching",
        lambda rig: ", ".join(rig.sensors_watched),
        lambda rig, text: replace(rig, sensors_watched=tuple(part.strip() for part in text.split(",") if part.strip())),
    ),
    Entry(
        "room_c",
        "room, °C",
        "around the rig; kept with every trial",
        "watching",
        lambda rig: "" if rig.room_c is None else f"{rig.room_c:g}",
        lambda rig, text: replace(rig, room_c=_number(text, "temperature of a room", 0, 60) if text else None),
    ),
    Entry(
        "sample_period_s",
        "read every, s",
        "0.2 to 60",
        "watching",
        lambda rig: f"{rig.sample_period_s:g}",
        lambda rig, text: replace(rig, sample_period_s=_number(text, "period in seconds", 0.2, 60)),
    ),
)


def texts_of(rig: Rig) -> dict[str, str]:
    """What stands in each line, by key."""
    return {entry.key: entry.read(rig) for entry in ENTRIES}


def filled_in(rig: Rig, texts: Mapping[str, str]) -> Rig:
    """The rig with the lines as they were typed; lines that were not changed change nothing.

    Raises:
        WrongEntry: the first line that cannot be taken.
    """
    before = texts_of(rig)
    for entry in ENTRIES:
        typed = texts[entry.key].strip()
        if typed != before[entry.key]:
            try:
                rig = entry.write(rig, typed)
            except Refused as refused:
                raise WrongEntry(entry.key, f"{entry.label}: {refused}") from refused
    return rig


def blank_rig(name: str, kind: str) -> Rig:
    """A rig of which only the name and the kind of memory are known, reached by hand.

    Raises:
        Refused: a name that cannot be one, or a kind that is not known.
    """
    if not name.strip() or len(name.strip()) > 80:
        raise Refused("A rig needs a name of 1 to 80 letters.")
    if Family.of(kind) is Family.UNKNOWN and kind.lower() != Family.UNKNOWN:
        raise Refused(f"{kind!r} is no kind of memory that is known here; it is one of {', '.join(Family)}.")
    sketch = rig_from(Machine(), name.strip(), (BenchKind.HAND,), memory=Family.of(kind))
    return replace(sketch, machine=None)
