"""Populations of hidden rigs along one knob: the judgement's own model, and models that are against it. In TOML."""

from importlib import resources
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from tenaz.catalogues.outside import read_text, typed_path
from tenaz.catalogues.reading import parse_toml
from tenaz.core.base.errors import Refused

Share = Annotated[float, Field(ge=0, le=1)]


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Range(_Entry):
    """Uniform between two ends; the logarithm where ``in_logs``."""

    low: Annotated[float, Field(ge=-1000, le=1000)]
    high: Annotated[float, Field(ge=-1000, le=1000)]
    in_logs: bool = False

    @model_validator(mode="after")
    def _rising(self) -> "Range":
        if self.low > self.high or (self.in_logs and self.low <= 0):
            raise ValueError(f"{self.low:g} to {self.high:g} is no range{' of logarithms' if self.in_logs else ''}")
        return self

    def draw(self, rng: np.random.Generator) -> float:
        """One number."""
        if self.in_logs:
            return float(np.exp(rng.uniform(np.log(self.low), np.log(self.high))))
        return float(rng.uniform(self.low, self.high))


class RigsEntry(_Entry):
    """Simulated rigs: ``like`` a scenario, drawn by seed; searched along one knob under one load, from stock or from
    ``start``, with other knobs at ``values`` where stock leaves them to the firmware.
    """

    like: str
    knob: str
    start: int | None = None
    values: dict[str, int] = Field(default_factory=dict)
    load: str = "march"


class Second(_Entry):
    """A second weakness: its log rate at x*, below that of the first, and how many times as flat it is."""

    folds_at_x_star: Range
    flatter: Range


class Plateau(_Entry):
    """A stretch over which the log rate stands at a level before it falls on."""

    at_folds: Range
    steps: Range


class HiddenPopulation(_Entry):
    """Rigs as the judgement's model has them, or with one thing otherwise; or simulated rigs in full.

    Along ``steps`` values, places counted from ``base`` on: x* where one failure an hour is met, the slope over which
    the rate grows e-fold, and how far past x* is the wall (in steps). ``curvature`` bends the tail; ``shape`` is
    Weibull's, below 1 for failures that come early; x* drifts by so many steps an hour; each trial's rate scatters by
    ``frailty_folds``; ``wall_softness_steps`` and ``false_starts`` make the wall soft, or a lottery.

    What the usual model does not believe in: ``cores`` edges of their own, each off by as much as ``core_spread_steps``
    and with a slope of its own; a ``second`` weakness, flatter than the first; a ``plateau`` on which failures grow no
    rarer for a while; ``background_per_h`` failures that no setting causes; ``day_folds`` by which the warmest hour of
    the day is worse than the mean. ``grain``: so many grid steps where others have one.
    """

    name: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
    about: str = ""
    wrong: bool = False
    rigs: RigsEntry | None = None
    steps: Annotated[int, Field(ge=8, le=1000)] = 72
    base: Annotated[int, Field(ge=0, le=1000)] = 12
    x_star: Range = Range(low=20, high=46)
    slope: Range = Range(low=0.5, high=3.0, in_logs=True)
    wall: Range = Range(low=2, high=8)
    curvature: Annotated[float, Field(gt=-0.9, lt=2)] = 0.0
    shape: Annotated[float, Field(gt=0.1, lt=10)] = 1.0
    drift_steps_per_h: Annotated[float, Field(ge=-5, le=5)] = 0.0
    drift_until_h: Annotated[float, Field(ge=0, le=1000)] = 12.0
    frailty_folds: Annotated[float, Field(ge=0, le=5)] = 0.0
    wall_softness_steps: Annotated[float, Field(ge=0, le=20)] = 0.0
    false_starts: Share = 0.0
    cores: Annotated[int, Field(ge=1, le=64)] = 1
    core_spread_steps: Annotated[float, Field(ge=0, le=30)] = 0.0
    second: "Second | None" = None
    plateau: "Plateau | None" = None
    background_per_h: Annotated[float, Field(ge=0, le=1)] = 0.0
    day_folds: Annotated[float, Field(ge=0, le=5)] = 0.0
    grain: Annotated[float, Field(gt=0.05, lt=20)] = 1.0


def population_names() -> tuple[str, ...]:
    """Those that come with Tenaz."""
    files = (resources.files("tenaz.study") / "populations").iterdir()
    return tuple(sorted(file.name.removesuffix(".toml") for file in files if file.name.endswith(".toml")))


def read_population(which: str) -> HiddenPopulation:
    """A population by its name, or from a file in TOML.

    Raises:
        Refused: there is none of that name; or naming file, field, range and reason.
    """
    if which.endswith(".toml"):
        path = typed_path(which)
        return parse_toml(HiddenPopulation, read_text(path), path.name)
    if which not in population_names():
        raise Refused(f"there is no population {which!r}; there are: {', '.join(population_names())}; or a .toml file.")
    file = resources.files("tenaz.study") / "populations" / f"{which}.toml"
    return parse_toml(HiddenPopulation, file.read_text(encoding="utf-8"), file.name)
