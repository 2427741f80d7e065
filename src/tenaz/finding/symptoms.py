"""What a client tells of a rig, as things that can be ticked; read out of a complaint in words."""

import re
from collections.abc import Iterator
from enum import StrEnum
from functools import cache
from importlib.resources import files

from tenaz.core.rigs.rig import Rig
from tenaz.core.words.finding import phrases
from tenaz.core.words.loads import SYMPTOMS
from tenaz.core.words.word import About


class Symptom(StrEnum):
    """One thing that was noticed."""

    CRASH = "crash"
    FREEZE = "freeze"
    ERRORS = "errors"
    STUTTER = "stutter"
    ARTEFACTS = "artefacts"
    NO_START = "no-start"
    LESS_MEMORY = "less-memory"
    HOT = "hot"
    WHEN_HOT = "when-hot"
    ONE_PROGRAM = "one-program"

    @property
    def about(self) -> str:
        """In words."""
        return _ABOUT[self.value]


_ABOUT = {word.name: word.means for word in SYMPTOMS}
MOST_READ = 4000
"""Letters of a complaint."""
DENIED = r"\b(?:no|never|not|without|neither|nor|isn't|is not|doesn't|does not)\s+(?:\w+\s+)?$"
"""What stands before something that is told not to be so."""
NEGATIVE = {Symptom.NO_START, Symptom.LESS_MEMORY}
"""Symptoms that are themselves told as something that is not so."""
MOST_TOLD_BACK = 12
"""Words of a complaint that are named as not understood."""


@cache
def _plain() -> frozenset[str]:
    """Words of a complaint that tell of no symptom by themselves."""
    return frozenset(files("tenaz.finding").joinpath("plain_words.txt").read_text(encoding="utf-8").split())


@cache
def _phrases() -> tuple[tuple[re.Pattern[str], Symptom], ...]:
    return tuple(
        (re.compile(rf"(?<!\w){re.escape(phrase)}(?!\w)"), Symptom(name)) for phrase, name in phrases(About.SYMPTOM)
    )


def symptoms_in(*texts: str) -> tuple[Symptom, ...]:
    """What a complaint in words tells of."""
    told = {symptom for symptom, _, _ in _told(_line(texts))}
    return tuple(one for one in Symptom if one in told)


def not_understood(*texts: str) -> tuple[str, ...]:
    """The words of a complaint that told of nothing, in their order: somebody should look at them."""
    line = _line(texts)
    understood = bytearray(len(line))
    for _, start, end in _told(line, denied=True):
        understood[start:end] = b"x" * (end - start)
    words = [found[0] for found in re.finditer(r"[\w'-]+", line) if not any(understood[found.start() : found.end()])]
    return tuple(
        dict.fromkeys(word for word in words if word not in _plain() and len(word) > 2 and not word.isdigit())
    )[:MOST_TOLD_BACK]


def left_open(rig: Rig) -> tuple[str, ...]:
    """What of a rig's complaint was not understood, as long as nobody has ticked what was noticed."""
    return not_understood(rig.complaint) if rig.symptoms is None else ()


def _line(texts: tuple[str, ...]) -> str:
    return " ".join(" ".join(texts).lower().replace("’", "'")[:MOST_READ].split())


def _told(line: str, denied: bool = False) -> Iterator[tuple[Symptom, int, int]]:
    """What is told, from which letter to which; what is told not to be so, only where ``denied``."""
    for pattern, symptom in _phrases():
        for found in pattern.finditer(line):
            not_so = symptom not in NEGATIVE and re.search(DENIED, line[: found.start()])
            if denied or not not_so:
                yield symptom, found.start(), found.end()
