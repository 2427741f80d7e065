"""Whose a rig is, what for, what proves it, what is watched: lines of its form."""

import re
from dataclasses import replace

from tenaz.core.base.amounts import show_duration
from tenaz.core.base.errors import Refused
from tenaz.core.base.tolerance import Tolerance
from tenaz.core.base.typed import parse_hours
from tenaz.core.loads.called import load_called
from tenaz.core.loads.plan import LoadKind, Strains
from tenaz.core.rigs.rig import CLIENT, GUARANTEED, OWN, Purpose, Rig
from tenaz.core.words.finding import near_it
from tenaz.core.words.word import About
from tenaz.intake.form.entry import Entry, number, plain_entry

TOLERATED = r"([\d.]+)\s*(?:failures?)?\s*in\s*([\d.]+)\s*h?(?:\s*[,;]?\s+([\d.]+)\s*%?)?"
MOST_HOURS = 1000.0
"""Of a kind of load in a proof."""
PURPOSES = {purpose.name: purpose for purpose in (OWN, CLIENT, GUARANTEED)}


def _pair(text: str, what: str) -> tuple[float, float]:
    parts = text.replace("°C", "").replace("/", " ").replace(",", " ").split()
    if len(parts) != 2:
        raise Refused(f"{text!r}: give {what} as two temperatures, warning / stop, like 85 / 95.")
    warning, stop = (number(part, "temperature", 20, 130) for part in parts)
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
        kind = load_called(name)
        if kind is None:
            near = near_it(name, About.LOAD)
            raise Refused(f"{piece.strip()[:40]!r}: name a load and its time, like solo 1h.{near}")
        hours = parse_hours(length)
        if hours > MOST_HOURS:
            raise Refused(f"{piece.strip()!r} is more than {MOST_HOURS:g} h; give less.")
        asked.append((kind, hours))
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
    failures, hours = number(parts[1], "number of failures", 0.001, 1e6), number(parts[2], "number of hours", 1, 1e7)
    sure = now.confidence if parts[3] is None else number(parts[3], "confidence in percent", 50, 99.9) / 100
    return Tolerance(failures, hours, sure)


def _write_least_share(rig: Rig, share: float) -> Rig:
    """The same for every kind of load that goes over memory."""
    asked = dict(rig.purpose.reach_asked)
    for kind in LoadKind:
        if kind.strains is Strains.MEMORY:
            asked[kind] = replace(rig.purpose.least_reach(kind), share=share)
    return _with_purpose(rig, reach_asked=tuple(asked.items()))


OF_THE_PURPOSE = (
    plain_entry("owner", "owner", "who it belongs to", "who and why"),
    plain_entry("complaint", "complaint", "what brought it here, in the owner's words", "who and why"),
    plain_entry("by_eye", "by eye", "dirt, a bent contact, a loose plug, a missing screw", "who and why"),
    Entry(
        "guarantee_months",
        "guarantee, months",
        "how long you answer for it",
        "who and why",
        lambda rig: str(rig.guarantee_months or ""),
        lambda rig, text: replace(
            rig, guarantee_months=round(number(text, "number of months", 0, 600)) if text else None
        ),
    ),
    Entry(
        "in_use_h",
        "in use, hours",
        "hours that its owner used it without a failure: they show what no trial can",
        "who and why",
        lambda rig: f"{rig.in_use_h:g}" if rig.in_use_h else "",
        lambda rig, text: replace(rig, in_use_h=number(text, "number of hours", 0, 1e6) if text else 0.0),
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
        lambda rig, text: _write_least_share(rig, number(text.rstrip("% "), "share in percent", 1, 100) / 100),
    ),
    Entry(
        "guard_band",
        "least guard, steps",
        "kept free below a failure, whatever is believed; usually 0",
        "purpose",
        lambda rig: str(rig.purpose.guard_band_steps),
        lambda rig, text: _with_purpose(rig, guard_band_steps=round(number(text, "number of steps", 0, 50))),
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
        "graphics_ceiling",
        "graphics, °C",
        "warning / stop",
        "watching",
        lambda rig: "{:g} / {:g}".format(*rig.purpose.graphics_ceiling_c),
        lambda rig, text: _with_purpose(rig, graphics_ceiling_c=_pair(text, "the graphics' ceiling")),
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
        lambda rig, text: replace(rig, room_c=number(text, "temperature of a room", 0, 60) if text else None),
    ),
    Entry(
        "warmest_room_c",
        "warmest day, °C",
        "in the room where it will stand; it is judged for that too",
        "watching",
        lambda rig: "" if rig.purpose.warmest_room_c is None else f"{rig.purpose.warmest_room_c:g}",
        lambda rig, text: _with_purpose(
            rig, warmest_room_c=number(text, "temperature of a room", 0, 60) if text else None
        ),
    ),
    Entry(
        "sample_period_s",
        "read every, s",
        "0.2 to 60",
        "watching",
        lambda rig: f"{rig.sample_period_s:g}",
        lambda rig, text: replace(rig, sample_period_s=number(text, "period in seconds", 0.2, 60)),
    ),
)
"""Its lines, in the order in which they are asked."""
