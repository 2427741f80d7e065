"""A word: ours, what it is, and what the trade says for it."""

import re
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property


class About(StrEnum):
    """What kind of thing a word names."""

    KNOB = "knob"
    LOAD = "load"
    OUTCOME = "outcome"
    SYMPTOM = "symptom"
    ACTION = "action"
    ACT = "work on parts"
    THING = "word"


@dataclass(frozen=True)
class Word:
    """``name`` is what the program calls it; ``said`` what people see of it, where that is another word; ``means`` what
    it is in a line; ``trade`` what others say, in small letters.
    """

    about: About
    name: str
    means: str
    trade: tuple[str, ...] = ()
    said: str = ""

    @property
    def ours(self) -> str:
        """As it is shown."""
        return self.said or self.name

    @cached_property
    def spellings(self) -> frozenset[str]:
        """All that it is called, in small letters and figures only."""
        return frozenset(bare(one) for one in (self.name, self.ours, *self.trade))


def bare(text: str) -> str:
    """A text in small letters and figures only, as names are compared: ``On-die termination`` and ``on die
    termination`` are one.
    """
    return re.sub(r"[^a-z0-9+]", "", text.lower())
