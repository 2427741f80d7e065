"""Reading what people type: durations, shares, and a load in one line."""

import re
from dataclasses import replace

from tenaz.core.errors import Refused
from tenaz.core.loading import CacheLevel, LoadKind, LoadPlan

_UNIT_S = {"": 1.0, "s": 1.0, "m": 60.0, "h": 3600.0, "d": 86400.0}


def parse_duration_s(text: str) -> float:
    """Read ``90``, ``90s``, ``10m``, ``1h30m`` or ``1.5h`` as seconds.

    Raises:
        Refused: for anything else, and for nothing or less.
    """
    cleaned = text.strip().lower().replace(" ", "")
    if not re.fullmatch(r"(\d+(\.\d+)?[dhms])+|\d+(\.\d+)?", cleaned):
        raise Refused(f"{text!r} is no duration; type it like 90s, 10m or 1h30m.")
    seconds = sum(float(number) * _UNIT_S[unit] for number, _, unit in re.findall(r"(\d+(\.\d+)?)([dhms]?)", cleaned))
    if seconds <= 0:
        raise Refused(f"{text!r} is no time at all; give more than zero.")
    return seconds


def parse_share(text: str) -> float:
    """Read ``50%`` or ``0.5`` as a share of memory, 0 to 1.

    Raises:
        Refused: for anything else.
    """
    found = re.fullmatch(r"\s*(\d+(?:\.\d+)?)\s*(%?)\s*", text)
    share = float(found[1]) / (100 if found[2] else 1) if found else 0.0
    if not 0 < share <= 1:
        raise Refused(f"{text!r} is no share of memory; type it like 50% or 0.5.")
    return share


def parse_load(text: str, otherwise: LoadPlan) -> LoadPlan:
    """Read a load in one line, like ``march 30m 50%`` or ``transform 10 laps L2 go on``.

    What is not said stays as in ``otherwise``; ``go on`` goes on after an error, ``stop`` stops at the first;
    ``2 workers`` leaves the other cores free.

    Raises:
        Refused: naming the word that cannot be read.
    """
    plan = otherwise
    line = (
        re.sub(r"(\d+)\s+(lap|worker)s?\b", r"\1\2s", text.lower())
        .replace("go on", "goon")
        .replace("until stopped", "open")
    )
    for word in line.split():
        if word in tuple(LoadKind):
            plan = replace(plan, kind=LoadKind(word))
        elif word.endswith("%"):
            plan = replace(plan, share=parse_share(word))
        elif word in [level.lower() for level in CacheLevel]:
            plan = replace(plan, level=next(level for level in CacheLevel if level.lower() == word))
        elif found := re.fullmatch(r"(\d+)laps", word):
            if int(found[1]) == 0:
                raise Refused("0 laps are no load; give one or more.")
            plan = replace(plan, laps=int(found[1]), duration_s=None)
        elif found := re.fullmatch(r"(\d+)workers", word):
            plan = replace(plan, workers=int(found[1]))
        elif word in ("goon", "stop"):
            plan = replace(plan, stop_at_first_error=word == "stop")
        elif word == "open":
            plan = replace(plan, duration_s=None, laps=None)
        elif word[0].isdigit():
            plan = replace(plan, duration_s=parse_duration_s(word), laps=None)
        else:
            kinds = " or ".join(LoadKind)
            raise Refused(f"{word!r} is not understood; type a load like 'march 30m 50%': {kinds}, a time or laps.")
    return plan
