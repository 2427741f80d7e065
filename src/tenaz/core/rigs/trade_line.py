"""A memory sheet in one line, as labels and people write it: ``6000 30-38-38-96 1.35V``, ``DDR4-3600 CL16-19-19 2T``.

Data rate; tCL-tRCD-tRP-tRAS, with tRC behind them where it is said; command rate; voltage.
"""

import re
from collections.abc import Callable

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import HIGHEST_RATE_MTS, LOWEST_RATE_MTS, checked_line
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import (
    COMMAND_RATE,
    DATA_RATE,
    MEMORY_VDD,
    MEMORY_VDDQ,
    T_CL,
    T_RAS,
    T_RC,
    T_RCD,
    T_RP,
)  # fmt: skip
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.rigs.rig import Rig

EXAMPLE = "6000 30-38-38-96 1.35V"
PRIMARY = (T_CL, T_RCD, T_RP, T_RAS, T_RC)
BETWEEN_VALUES = re.compile(r",(?!\d{1,3}\s*[vV]\b)")
"""A comma, but not that of 1,35 V."""
LEAST_PRIMARY = 3
"""Of a group of timings: fewer are another thing, a date or a range."""

_WORDS: tuple[tuple[str, Callable[["re.Match[str]"], dict[str, str]]], ...] = (
    (r"(?:lp)?ddr\d[a-z]?-(\d{3,5})", lambda m: {DATA_RATE: m[1]}),
    (r"(\d{3,5})(?:mt/s|mts|mhz)?", lambda m: {DATA_RATE: m[1]}),
    (r"(?:cl)?(\d{1,3}(?:-\d{1,3}){2,4})(?:-([1-3])[tn])?",
     lambda m: {**dict(zip(PRIMARY, m[1].split("-"), strict=False)), **({COMMAND_RATE: m[2]} if m[2] else {})}),
    (r"cl(\d{1,3})", lambda m: {T_CL: m[1]}),
    (r"(?:cr)?([1-3])[tn]", lambda m: {COMMAND_RATE: m[1]}),
    (r"@?(\d[.,]\d{1,3})v?(?:/(\d[.,]\d{1,3})v?)?", lambda m: _supplies(m[1], m[2])),
    (r"@?(\d{3,4})mv", lambda m: {MEMORY_VDD: m[1]}),
)  # fmt: skip
"""The words of such a line, in small letters."""


def _supplies(vdd: str, vddq: str | None) -> dict[str, str]:
    return {MEMORY_VDD: f"{vdd}V", **({MEMORY_VDDQ: f"{vddq}V"} if vddq else {})}


def is_trade_line(text: str) -> bool:
    """Whether a line is such a sheet: every word of it is one of these, and one says more than a number."""
    words = _words(text)
    return bool(words) and all(map(_read, words)) and (len(words) > 1 or "-" in words[0])


def with_trade_line(text: str, rig: Rig, setpoint: Setpoint) -> Setpoint:
    """The setpoint with the values of such a line. One voltage is that of cells and drivers both, where DDR5 feeds them
    apart: as labels mean it.

    Raises:
        Refused: naming the word that is none, what is said twice, or a value that is none of its knob.
    """
    told = dict[str, str]()
    for word in _words(text):
        read = _read(word)
        if not read:
            raise Refused(f"{word[:40]!r} is none of a line like {EXAMPLE}.")
        twice = next((name for name in read if name in told), None)
        if twice:
            raise Refused(f"{text.strip()[:60]!r} says {rig.knob(twice).label} twice; say it once.")
        told |= read
    has = {knob.name for knob in rig.knobs}
    if rig.family is Family.DDR5 and MEMORY_VDD in told and MEMORY_VDDQ in has:
        told.setdefault(MEMORY_VDDQ, told[MEMORY_VDD])
    for name, value in told.items():
        knob = rig.knob(name)
        setpoint = setpoint.replacing(name, _value(knob, value))
    return setpoint


def _value(knob: Knob, text: str) -> int:
    value = knob.parse(text)
    assert isinstance(value, int)
    if knob.name != DATA_RATE:
        return value
    if not LOWEST_RATE_MTS <= value <= HIGHEST_RATE_MTS:
        raise Refused(f"a data rate of {value} MT/s means nothing; give {LOWEST_RATE_MTS} to {HIGHEST_RATE_MTS}.")
    return knob.nearest_alike(value)


def _words(text: str) -> list[str]:
    line = checked_line(text).lower().replace("–", "-").replace(" mt/s", "mt/s").replace(" mhz", "mhz")
    line = re.sub(r"(?<=\d)\s+(?=m?v\b)", "", line)
    return re.sub(r"\bcl\s+(?=\d)", "cl", line).split()


def _read(word: str) -> dict[str, str]:
    for shape, read in _WORDS:
        if found := re.fullmatch(shape, word):
            return read(found)
    return {}
