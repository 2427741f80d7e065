"""The technician's own figures: typed in, or found in what a program said."""

import math
import re

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import checked_line
from tenaz.core.scores.score import Figure, Score

EXAMPLE = "render 41.2 40.9 41.5 s  ·  frames 144 fps  ·  queue 3.1 ms lower  ·  sort 12 points higher"
LOWER_UNITS = ("s", "ms", "us", "µs", "ns", "min", "h", "w", "°c", "db")
"""Units of which less is better, unless it is said otherwise."""
DIRECTIONS = {"lower": False, "higher": True}
MOST_VALUES = 1000


def parse_own(text: str) -> Score:
    """Read ``NAME VALUE [VALUE …] [UNIT] [lower|higher]``.

    Raises:
        Refused: no name or no number; says how it is typed.
    """
    words = checked_line(text).split()
    first = next((at for at, word in enumerate(words) if _number(word) is not None), None)
    if first is None or first == 0:
        raise Refused(f"a figure needs a name and then its value; type it like: {EXAMPLE}.")
    name, rest = " ".join(words[:first]), words[first:]
    values = []
    while rest and (value := _number(rest[0])) is not None:
        values.append(value)
        rest = rest[1:]
    higher = DIRECTIONS.get(rest[-1].lower()) if rest else None
    unit = " ".join(rest[:-1] if higher is not None else rest)
    return own_score(name, values, unit, higher)


def own_score(name: str, values: "list[float]", unit: str, higher_is_better: bool | None = None) -> Score:
    """A figure of one's own; without a word about which way is better the unit tells.

    Raises:
        Refused: values that cannot be compared in percent, or too many.
    """
    if not values or len(values) > MOST_VALUES:
        raise Refused(f"{len(values)} values of {name}; give from one to {MOST_VALUES}.")
    bad = next((value for value in values if not (math.isfinite(value) and value > 0)), None)
    if bad is not None:
        raise Refused(f"{name} cannot be {bad:g}: gains are told in percent, so a value must be above zero.")
    higher = unit.lower() not in LOWER_UNITS if higher_is_better is None else higher_is_better
    return Score(Figure(name, unit, higher, own=True), tuple(values))


def found_in(said: str, pattern: str) -> float:
    """The last number that a pattern finds in what a program said; its first group, where it has one.

    Raises:
        Refused: the pattern is none, it is not there, or it is no number.
    """
    try:
        found = list(re.finditer(pattern, said))
    except re.error as error:
        raise Refused(f"{pattern!r} is no pattern: {error}. Give one like: took ([0-9.]+) s") from error
    if not found:
        raise Refused(f"{pattern!r} is nowhere in what the program said; its last line: {_last(said)!r}.")
    told = found[-1].group(1 if found[-1].re.groups else 0) or ""
    value = _number(told)
    if value is None:
        raise Refused(f"{pattern!r} found {told!r}, which is no number.")
    return value


def _number(word: str) -> float | None:
    if not re.fullmatch(r"[+-]?(\d+[.,]?\d*|[.,]\d+)([eE][+-]?\d+)?", word):
        return None
    return float(word.replace(",", "."))


def _last(said: str) -> str:
    lines = said.strip().splitlines()
    return lines[-1][:80] if lines else ""
