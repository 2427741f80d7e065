"""Reading what people type: durations, shares, amounts of memory, cores."""

import re

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import LONGEST_LOAD_S, checked_line

MOST_LETTERS = 40
"""Of what was typed, shown in a refusal; and of a duration."""
MOST_CORES = 4096

_UNIT_S = {"": 1.0, "s": 1.0, "m": 60.0, "h": 3600.0, "d": 86400.0}


def parse_duration_s(text: str) -> float:
    """Read ``90``, ``90s``, ``10m``, ``1h30m`` or ``1.5h`` as seconds.

    Raises:
        Refused: for anything else, and for nothing or less.
    """
    cleaned = text.strip().lower().replace(" ", "")
    if len(cleaned) > MOST_LETTERS or not re.fullmatch(r"(\d+(\.\d+)?[dhms])+|\d+(\.\d+)?", cleaned):
        raise Refused(f"{text[:MOST_LETTERS]!r} is no duration; type it like 90s, 10m or 1h30m.")
    seconds = sum(float(number) * _UNIT_S[unit] for number, _, unit in re.findall(r"(\d+(\.\d+)?)([dhms]?)", cleaned))
    if seconds <= 0:
        raise Refused(f"{text!r} is no time at all; give more than zero.")
    if seconds > LONGEST_LOAD_S:
        raise Refused(f"{text!r} is longer than a year; give less.")
    return seconds


def parse_hours(text: str) -> float:
    """Read a time like :func:`parse_duration_s`, where a number alone is hours.

    Raises:
        Refused: for anything else, and for nothing or less.
    """
    bare = re.fullmatch(r"\s*\d+(\.\d+)?\s*", text)
    return parse_duration_s(f"{text.strip()}h" if bare else text) / 3600


def parse_elapsed_s(text: str) -> float:
    """Read a time that something ran, like :func:`parse_duration_s`; it may have been none at all.

    Raises:
        Refused: for anything else.
    """
    return 0.0 if re.fullmatch(r"0+(\.0*)?\s*[dhms]?", text.strip().lower()) else parse_duration_s(text)


COUNTED = r"(?<![\w.])(\d{1,9})\s*(?:errors?|wrong|e)\b"
WATTS = r"(?<![\w.])(\d{1,5}(?:\.\d)?)\s*w(?:atts?)?\b"
HOTTEST = r"(?<![\w.])(\d{1,3}(?:\.\d)?)\s*°?\s*c\b"
CODE = r"\b(0x[0-9a-f]{1,16})\b"
MOST_TOLD_C, MOST_TOLD_W = 150.0, 5000.0


def told_beside(line: str) -> "tuple[str, float | None, str, float | None]":
    """What was told beside a time, in small letters: the line without it, the highest temperature, the stop code, and
    what a meter at the wall showed, in W.

    Raises:
        Refused: a temperature that no thermometer shows, or watts that no socket gives.
    """
    code, line = _taken_out(CODE, line)
    hottest, line = _taken_out(HOTTEST, line)
    hottest_c = float(hottest) if hottest else None
    if hottest_c is not None and not 0 < hottest_c <= MOST_TOLD_C:
        raise Refused(f"{hottest_c:g} °C is no temperature of a machine that ran; give up to {MOST_TOLD_C:g}.")
    watts, line = _taken_out(WATTS, line)
    wall_w = float(watts) if watts else None
    if wall_w is not None and not 0 < wall_w <= MOST_TOLD_W:
        raise Refused(f"{wall_w:g} W is nothing that a socket gives; give up to {MOST_TOLD_W:g}.")
    return line, hottest_c, code, wall_w


def _taken_out(shape: str, line: str) -> tuple[str, str]:
    """What has a shape, empty where nothing has, and the line without it."""
    found = re.search(shape, line)
    return (found[1], f"{line[: found.start()]} {line[found.end() :]}".strip()) if found else ("", line)


def with_code(detail: str, code: str) -> str:
    """What is said of an end, with the stop code where one was shown."""
    return ", ".join(filter(None, (detail, f"code {code}" if code else "")))


def parse_ran(text: str) -> "tuple[float, int | None, float | None, str, float | None]":
    """Read a time like :func:`parse_elapsed_s`, and what else was seen, in any order: a count of errors, the highest
    temperature, a stop code, what a meter at the wall showed: ``12m 3 errors 84C``, ``40m 0x124``, ``1h 412 W``. None,
    or empty, where nobody said.

    Raises:
        Refused: for anything else, and for what no instrument shows.
    """
    line, hottest_c, code, wall_w = told_beside(checked_line(text).strip().lower().replace(",", " "))
    errors, line = _taken_out(COUNTED, line)
    return parse_elapsed_s(line or text), int(errors) if errors else None, hottest_c, code, wall_w


def parse_share(text: str) -> float:
    """Read ``50%`` or ``0.5`` as a share of memory, 0 to 1.

    Raises:
        Refused: for anything else.
    """
    found = re.fullmatch(r"(\d{1,9}(?:\.\d{1,9})?)\s*(%?)", text.strip())
    share = float(found[1]) / (100 if found[2] else 1) if found else 0.0
    if not 0 < share <= 1:
        raise Refused(f"{text[:MOST_LETTERS]!r} is no share of memory; type it like 50% or 0.5.")
    return share


def parse_bytes(text: str) -> int:
    """Read ``512mib``, ``2 GiB`` or ``1.5g`` as bytes.

    Raises:
        Refused: for anything else.
    """
    found = re.fullmatch(r"\s*(\d{1,9}(?:\.\d{1,9})?)\s*([kmg])i?b?\s*", text.lower())
    if not found or float(found[1]) == 0:
        raise Refused(f"{text[:MOST_LETTERS]!r} is no amount of memory; type it like 512MiB or 2GiB.")
    return int(float(found[1]) * {"k": 2**10, "m": 2**20, "g": 2**30}[found[2]])


def parse_cores(text: str) -> tuple[int, ...]:
    """Read ``0,2,4-7`` as numbers of cores.

    Raises:
        Refused: for anything else.
    """
    return _numbers(text, "cores")


def parse_cards(text: str) -> tuple[int, ...]:
    """Read ``0,1`` as numbers of graphics cards.

    Raises:
        Refused: for anything else.
    """
    return _numbers(text, "cards")


def _numbers(text: str, of: str) -> tuple[int, ...]:
    cores: list[int] = []
    for part in text.replace(" ", "").split(","):
        found = re.fullmatch(r"(\d{1,4})(?:-(\d{1,4}))?", part)
        if not found or int(found[2] or found[1]) < int(found[1]) or len(cores) > MOST_CORES:
            raise Refused(f"{text[:MOST_LETTERS]!r} names no {of}; type them like 0,2 or 0-3.")
        cores += range(int(found[1]), int(found[2] or found[1]) + 1)
    return tuple(dict.fromkeys(cores))
