"""Reads catalogues, those that come along and files; what is wrong is named with its line, its knob and the remedy."""

import re
from functools import cache
from importlib import resources
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from tenaz.catalogues.format import CatalogueFile
from tenaz.catalogues.outside import parse_toml as values_of_toml
from tenaz.catalogues.outside import read_text
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.timings.clocks import Family

BUILT_IN = (*(family.value.lower() for family in Family), "processor", "quarters", "graphics")
"""Of each family of memory one, and those of other parts."""

Model = TypeVar("Model", bound=BaseModel)


@cache
def built_in(name: str) -> CatalogueFile:
    """A catalogue that comes along."""
    text = resources.files("tenaz.catalogues").joinpath(f"{name}.toml").read_text(encoding="utf-8")
    return parse_toml(CatalogueFile, text, f"{name}.toml")


def knobs_of(name: str, cores: int = 0) -> tuple[Knob, ...]:
    """The knobs of a catalogue that comes along, in the order in which one walks through a firmware setup; those that
    there is one a core of, for so many.
    """
    return tuple(knob for entry in built_in(name).knob for knob in entry.knobs(cores))


def read_catalogue(source: str | Path) -> CatalogueFile:
    """A catalogue by its name, or from a file.

    Raises:
        Refused: it is neither; names line, knob and remedy.
    """
    if str(source) in BUILT_IN:
        return built_in(str(source))
    return parse_toml(CatalogueFile, read_text(Path(source)), str(source))


UNION_PARTS = ("knob", "change", "function-after", "int", "str")
LITERAL = "literal["
"""Parts of a path that say which alternative was tried, not where in the file."""


def parse_toml(model: type[Model], text: str, place: str) -> Model:
    """Read TOML into a model.

    Raises:
        Refused: naming the place, the line and what is wrong there.
    """
    data = values_of_toml(text, place)
    try:
        return model.model_validate(data)
    except ValidationError as error:
        problem = error.errors()[0]
        path = problem["loc"]
        line = line_of(text, path)
        where = f"{place}, line {line}" if line else place
        what = _named(data, path)
        message = problem["msg"].removeprefix("Value error, ")
        if problem["type"].startswith("int_"):
            message = f"{problem['input']!r} is no whole number"
        raise Refused(f"{where}: {what}{message}. Mend it; nothing was changed.") from error


def line_of(text: str, path: tuple[int | str, ...]) -> int | None:
    """The line on which the thing at a path of keys stands, as well as it can be told; from 1."""
    lines = text.splitlines()
    start = 0
    for place, part in enumerate(path):
        if isinstance(part, int):
            heading = re.compile(rf"^\s*\[\[\s*{re.escape(str(path[place - 1]))}\s*\]\]")
            found = [number for number, line in enumerate(lines) if heading.match(line)]
            if part < len(found):
                start = found[part]
        else:
            key = re.compile(rf"^\s*(\[+\s*)?[\"']?{re.escape(part)}[\"']?\s*(\.|=|\])")
            found = [number for number, line in enumerate(lines) if number >= start and key.match(line)]
            if found:
                start = found[0]
    return start + 1 if lines else None


def _named(data: Any, path: tuple[int | str, ...]) -> str:
    """The name of the knob that a path leads to, and the field of it, for the message."""
    named, at = "", data
    for part in path:
        try:
            at = at[part]
        except (KeyError, IndexError, TypeError):
            break
        if isinstance(at, dict) and isinstance(at.get("name") or at.get("knob"), str):
            named = f"{at.get('name') or at.get('knob')}: "
    fields = [
        part for part in path if isinstance(part, str) and part not in UNION_PARTS and not part.startswith(LITERAL)
    ]
    if len(fields) > 1 and path[0] == "values":
        fields = fields[1:]
    return named + (f"{'.'.join(fields)}: " if fields else "")
