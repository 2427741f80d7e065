"""What a catalogue's file looks like; its JSON Schema is made from these models and published in docs/schemas."""

import re
from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from tenaz.core.knobs.clock_tree import Platform
from tenaz.core.knobs.grid import Grid
from tenaz.core.knobs.knob import Harder, Knob
from tenaz.core.knobs.setpoint import AUTO, Value

NAME_PATTERN = r"^[a-z][a-z0-9_]{1,59}$"
ANY_NAME, ANY_LABEL, ANY_N = "_n_", "n", re.compile(r"\bn\b")
"""Where the number stands in the name and the label of a knob that there is one each of."""
Name = Annotated[str, Field(pattern=NAME_PATTERN, description="lower case, with its unit: t_rcd_nck")]


def means(name: str, knob: str) -> bool:
    """Whether a name is that of a knob, or (with an n) of all that there is one each of."""
    before, any_n, behind = name.partition(ANY_NAME)
    if not any_n:
        return name == knob
    number = knob.removeprefix(f"{before}_").removesuffix(f"_{behind}")
    return number.isdecimal() and knob == f"{before}_{number}_{behind}"


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class GridEntry(_Entry):
    """Allowed values: first, last and step, or a list of values where they are not even."""

    first: int | None = None
    last: int | None = None
    step: Annotated[int, Field(gt=0)] | None = None
    values: Annotated[tuple[int, ...], Field(min_length=1)] | None = None

    @model_validator(mode="after")
    def _one_way(self) -> "GridEntry":
        even = (self.first, self.last, self.step)
        if (self.values is None) == (None in even) or (self.values is not None and any(n is not None for n in even)):
            raise ValueError("give first, last and step, or values; not both")
        self.grid()
        return self

    def grid(self) -> Grid:
        """The grid itself."""
        if self.values is not None:
            return Grid.of(self.values)
        assert self.first is not None
        assert self.last is not None
        assert self.step is not None
        return Grid(self.first, self.last, self.step)


class KnobEntry(_Entry):
    """One knob. Ceilings are upper limits; ``default`` is the standard's, a number or "auto". ``each`` makes one of it
    for each core, or for each number of cores that may be busy; its name and label then hold an n. A value is one of
    ``parts`` of its unit: 4 are quarters.
    """

    name: Name
    each: Literal["core", "busy"] | None = None
    parts: Annotated[int, Field(ge=1, le=1000)] = 1
    label: Annotated[str, Field(min_length=1, max_length=24)]
    unit: str = ""
    domain: str
    group: str
    harder: Literal["up", "down"]
    grid: GridEntry
    default: int | Literal["auto"] | None = None
    advised_ceiling: int | None = None
    hard_ceiling: int | None = None
    may_be_auto: bool = False
    affects: str = ""
    locked: str = ""

    @model_validator(mode="after")
    def _agrees(self) -> "KnobEntry":
        grid = self.grid.grid()
        if isinstance(self.default, int) and self.default not in grid:
            raise ValueError(f"default {self.default} is not on its grid ({grid.show()})")
        if self.default == "auto" and not self.may_be_auto:
            raise ValueError("default is auto, but may_be_auto is not set")
        if self.each and (ANY_NAME not in self.name or ANY_LABEL not in self.label):
            raise ValueError(f"one {self.each} each: its name holds {ANY_NAME}, its label a word n")
        advised, hard = self.advised_ceiling, self.hard_ceiling
        if advised is not None and hard is not None and advised > hard:
            raise ValueError(f"advised_ceiling {advised} lies above hard_ceiling {hard}")
        return self

    def knobs(self, cores: int) -> Iterator[Knob]:
        """The knob itself; one each for as many cores as there are, where it is such a one."""
        numbers = {None: (None,), "core": range(cores), "busy": range(1, cores + 1)}[self.each]
        for number in numbers:
            knob = self._knob()
            if number is not None:
                name, label = (knob.name.replace(ANY_NAME, f"_{number}_"), ANY_N.sub(str(number), knob.label))
                knob = replace(knob, name=name, label=label)
            yield knob

    def _knob(self) -> Knob:
        default: Value | None = AUTO if self.default == "auto" else self.default
        return Knob(
            self.name,
            self.label,
            self.unit,
            self.domain,
            self.grid.grid(),
            Harder(self.harder),
            self.advised_ceiling,
            self.hard_ceiling,
            self.group,
            self.may_be_auto,
            default,
            self.affects,
            self.locked,
            parts=self.parts,
        )


class ChangeEntry(_Entry):
    """What a board does differently with a known knob: its own spelling, a narrower or a wider range, in steps of its
    own or by values, ceilings, a lock with its reason.
    """

    knob: Name
    label: Annotated[str, Field(min_length=1, max_length=24)] | None = None
    group: str | None = None
    first: int | None = None
    last: int | None = None
    step: Annotated[int, Field(gt=0)] | None = None
    values: Annotated[tuple[int, ...], Field(min_length=1)] | None = None
    advised_ceiling: int | None = None
    hard_ceiling: int | None = None
    locked: str | None = None

    @model_validator(mode="after")
    def _one_way(self) -> "ChangeEntry":
        if self.values is not None and (self.first, self.last, self.step) != (None, None, None):
            raise ValueError("give first, last and step, or values; not both")
        return self


class PlatformEntry(_Entry):
    """Clocks of a processor: reference, controller ratios, the fabric's grid and how far it runs, all in MHz."""

    reference_mhz: Annotated[float, Field(gt=0)]
    controller_ratios: Annotated[tuple[Annotated[int, Field(gt=0)], ...], Field(min_length=1)]
    fabric: GridEntry
    fabric_runs_to_mhz: Annotated[int, Field(gt=0)]

    def platform(self) -> Platform:
        """The platform itself."""
        return Platform(self.reference_mhz, self.controller_ratios, self.fabric.grid(), self.fabric_runs_to_mhz)


class CatalogueFile(_Entry):
    """A catalogue: knobs of a family or of one board, changes to knobs that are known, those that it leaves out, the
    platform's clocks.
    """

    family: str = ""
    board: str = ""
    platform: PlatformEntry | None = None
    knob: tuple[KnobEntry, ...] = ()
    change: tuple[ChangeEntry, ...] = ()
    leaves_out: tuple[Name, ...] = ()

    @model_validator(mode="after")
    def _once(self) -> "CatalogueFile":
        names = [entry.name for entry in self.knob]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice:
            raise ValueError(f"knob {twice} stands in it twice")
        return self
