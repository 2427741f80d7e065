"""What a report says to a client, in no language yet: sentences by their names, with values in their places."""

from dataclasses import dataclass
from datetime import date
from typing import Literal, Union

Value = Union["Number", "Share", "Length", "Day", "Term", "Many", "Sentence", str]
"""What can stand in a sentence's place; a text is somebody's own words, and stands as it is in every language."""


@dataclass(frozen=True, slots=True)
class Number:
    """A number with at most so many digits behind the point; ``grouped``: thousands apart."""

    value: float
    digits: int = 0
    kind: Literal["number"] = "number"


@dataclass(frozen=True, slots=True)
class Share:
    """A part of a whole, rounded down, so that what falls short of what was asked never reads as if it did not."""

    value: float
    kind: Literal["share"] = "share"


@dataclass(frozen=True, slots=True)
class Length:
    """A time that something took."""

    seconds: float
    kind: Literal["length"] = "length"


@dataclass(frozen=True, slots=True)
class Day:
    """A day."""

    day: date
    kind: Literal["day"] = "day"


@dataclass(frozen=True, slots=True)
class Term:
    """A word of the trade, as the language calls it; one that it has no word for stands as it is."""

    word: str
    kind: Literal["term"] = "term"


@dataclass(frozen=True, slots=True)
class Many:
    """Several, with commas and an *and*, or divided by semicolons."""

    parts: tuple[Value, ...]
    between: Literal["and", "comma", "semicolon"] = "and"
    kind: Literal["many"] = "many"


@dataclass(frozen=True, slots=True)
class Sentence:
    """A sentence of the language's file, or a part of one, by its name; where it has forms for one and for more, the
    value called ``n`` decides.
    """

    name: str
    values: tuple[tuple[str, Value], ...] = ()
    kind: Literal["sentence"] = "sentence"


def said(name: str, **values: Value) -> Sentence:
    """A sentence with what stands in its places."""
    return Sentence(name, tuple(values.items()))


@dataclass(frozen=True, slots=True)
class Listed:
    """Rows of a table; ``columns`` are sentences of its head (none: a row's first cell names the rest)."""

    columns: tuple[str, ...]
    rows: tuple[tuple[Value, ...], ...]


@dataclass(frozen=True, slots=True)
class Chapter:
    """What stands under one heading: sentences, and a table where there is one; ``red`` must not be overlooked."""

    heading: str
    sentences: tuple[Sentence, ...] = ()
    table: Listed | None = None
    red: bool = False
