"""What a rig is made of, as lines of its form: parts, stock, its board."""

import re
from dataclasses import replace

from tenaz.core.knobs.names import DATA_RATE, MEMORY_VDD
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.machine.machine import Machine, show_gib
from tenaz.core.machine.slots import ALIKE_EXAMPLE, EXAMPLE, parse_slots, show_slots
from tenaz.core.rigs.rig import Rig
from tenaz.core.rigs.trade_line import BETWEEN_VALUES, LEAST_PRIMARY, PRIMARY, is_trade_line, with_trade_line
from tenaz.core.rigs.trade_line import EXAMPLE as TRADE_EXAMPLE
from tenaz.intake.form.entry import Entry, number, plain_entry
from tenaz.intake.new_rigs import OTHER_PARTS, rig_from
from tenaz.intake.rig_knobs import with_cores


def _with_machine(rig: Rig, **changed: object) -> Rig:
    machine: Machine = replace(rig.machine or Machine(), **changed)  # type: ignore[arg-type]
    return replace(rig, machine=None if machine == Machine() else machine)


def _write_memory(rig: Rig, text: str) -> Rig:
    size = round(number(text, "size in GiB", 0.25, 1 << 16) * 2**30) if text else None
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
        stood = knob.parse(value)
        knob.check_past(stood)
        stock = stock.replacing(knob.name, stood)
    rig.check_past(stock)
    return rig.came_with(stock)


def _write_kind(rig: Rig, text: str) -> Rig:
    """Another kind of memory: its knobs in place of those that were there, as long as nothing was said of them."""
    family = Family.typed(text)
    if family is rig.family:
        return rig
    fresh = rig_from(Machine(), rig.name, rig.benches, memory=family)
    others = [knob for knob in rig.knobs if knob.domain in OTHER_PARTS]
    knobs = tuple(knob for knob in fresh.knobs if knob.domain not in OTHER_PARTS) + tuple(others)
    stock = {knob.name: (rig if knob in others else fresh).stock[knob.name] for knob in knobs}
    return replace(rig, knobs=knobs, stock=Setpoint.of(stock), memory=family.value, platform=fresh.platform)


def _write_spec(rig: Rig, text: str) -> Rig:
    rate = round(number(text, "data rate in MT/s", 200, 20000)) if text else None
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


OF_THE_MACHINE = (
    plain_entry("processor", "processor", "as its label says", "parts"),
    Entry(
        "cores",
        "cores",
        "not threads; each gets knobs of its own",
        "parts",
        lambda rig: str(rig.cores or ""),
        lambda rig, text: with_cores(rig, round(number(text, "number of cores", 1, 4096)) if text else None),
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
    plain_entry("clearing", "how to clear it", "like: jumper by the battery, 10 s, plug pulled", "this board"),
    plain_entry(
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
)
"""Its lines, in the order in which they are asked."""
