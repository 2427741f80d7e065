"""Priors: what is believed of an edge before anything was tried, by kind of knob. Files in TOML, made to be edited."""

import math
from functools import cache, lru_cache
from importlib import resources
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from tenaz.catalogues.outside import read_text, typed_path
from tenaz.catalogues.reading import parse_toml
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.rigs.rig import Rig
from tenaz.margins.hazard import TailShape

Positive = Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
Chance = Annotated[float, Field(gt=0, lt=0.5)]


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Slope(_Entry):
    """Over how much of the knob the rate grows e-fold: log-uniform from ``low`` to ``high``; with the chance
    ``shoulder`` beyond these, up to ``highest`` (and, one part in ten of it, as far below ``low``).
    """

    low: Positive
    high: Positive
    shoulder: Annotated[float, Field(ge=0, lt=0.5)] = 0.0
    highest: Positive

    @model_validator(mode="after")
    def _rising(self) -> "Slope":
        if not self.low < self.high <= self.highest:
            raise ValueError("a slope's low, high and highest rise")
        return self


class Wall(_Entry):
    """How far past x* the rig starts no more: uniform, counted as the slope is, or in ``slopes``."""

    low: Annotated[float, Field(ge=0)]
    high: Positive
    counted_in: Literal["units", "slopes"] = "units"

    @model_validator(mode="after")
    def _rising(self) -> "Wall":
        if not self.low < self.high:
            raise ValueError("a wall's low and high rise")
        return self


class Tail(_Entry):
    """A way in which failures die out before the edge, and its weight: bent by ``curvature``; beside a second weakness
    of the log rate ``second_folds`` at x*, ``flatter`` times as flat; or standing still from ``level_folds`` on over
    ``level_long`` slopes.
    """

    curvature: Annotated[float, Field(gt=-0.9, lt=2)] = 0.0
    weight: Positive
    second_folds: Annotated[float, Field(ge=-10, le=0)] = 0.0
    flatter: Annotated[float, Field(ge=1, le=20)] = 1.0
    level_folds: Annotated[float, Field(ge=-10, le=0)] = 0.0
    level_long: Annotated[float, Field(ge=0, le=50)] = 0.0

    @property
    def shape(self) -> TailShape:
        """As it is reckoned with."""
        return TailShape(self.curvature, self.second_folds, self.flatter, self.level_folds, self.level_long)


class Place(_Entry):
    """Where x* lies, in grid steps of strain of the one rig that it was made for: normal about ``middle``; with the
    chance ``unlike`` anywhere.
    """

    middle: Annotated[float, Field(ge=-1e6, le=1e6)]
    spread: Positive
    unlike: Annotated[float, Field(gt=0, lt=1)]


class Warmth(_Entry):
    """By how many e-folds the rate rises with a kelvin, and its weight."""

    per_k: Annotated[float, Field(ge=-0.2, le=1)]
    weight: Positive


class EdgePrior(_Entry):
    """What is believed of the edge of some knobs. ``unit`` is the knob's own, or ``steps`` of its grid, or ``ns`` of a
    timing, or ``%`` of the value. Where ``families`` of memory are named it speaks for these only, to who knows which
    it is. ``rare`` are tails that searches do not reckon with and the verdict does, beside all of ``tails``, whose
    weights are parts of what those leave.
    """

    name: Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
    about: str = ""
    learnt_from: str = ""
    knobs: tuple[str, ...] = ()
    families: tuple[Family, ...] = ()
    unit: Annotated[str, Field(max_length=20)] = "steps"
    slope: Slope
    wall: Wall
    tails: Annotated[tuple[Tail, ...], Field(min_length=1, max_length=6)]
    rare: Annotated[tuple[Tail, ...], Field(max_length=12)] = ()
    warmths: Annotated[tuple[Warmth, ...], Field(min_length=1, max_length=6)]
    place: Place | None = None
    rigs: Annotated[int, Field(ge=0)] = 0
    """How many past rigs it was learnt from; 0: it comes with Tenaz."""
    stray_start: Chance = 0.01
    lucky_start: Chance = 0.05

    def units_a_step(self, knob: Knob) -> float:
        """How much of ``unit`` one grid step of a knob is, on average over its grid."""
        if self.unit == "steps" or len(knob.grid) < 2:
            return 1.0
        if self.unit == "%":
            return 100.0 * math.log(knob.grid.last / knob.grid.first) / (len(knob.grid) - 1)
        return knob.grid.spacing

    def usual_slope_steps(self, knob: Knob) -> float:
        """Grid steps of a knob in which failures usually come e-fold sooner: midway between the slope's bounds."""
        return math.sqrt(self.slope.low * self.slope.high) / self.units_a_step(knob)

    def with_rare(self) -> "EdgePrior":
        """With all tails that may be: a value is called safe by these."""
        rare = self.rare or usual_prior().rare
        left, all_ = 1.0 - sum(one.weight for one in rare), sum(one.weight for one in self.tails)
        kept = (one.model_copy(update={"weight": left * one.weight / all_}) for one in self.tails)
        return self.model_copy(update={"tails": (*kept, *rare), "rare": ()})


def shipped_priors() -> dict[str, EdgePrior]:
    """All that come with Tenaz, by name."""
    files = (resources.files("tenaz.margins") / "priors").iterdir()
    found = [parse_toml(EdgePrior, f.read_text(encoding="utf-8"), f.name) for f in files if f.name.endswith(".toml")]
    return {prior.name: prior for prior in sorted(found, key=lambda one: one.name)}


@cache
def _by_knob() -> dict[str, EdgePrior]:
    return {knob: prior for prior in shipped_priors().values() for knob in prior.knobs if not prior.families}


@cache
def _by_family() -> dict[tuple[Family, str], EdgePrior]:
    found = shipped_priors().values()
    return {(family, knob): prior for prior in found for family in prior.families for knob in prior.knobs}


@cache
def usual_prior() -> EdgePrior:
    """For knobs of which nobody learnt anything."""
    return shipped_priors()["usual"]


def prior_for(knob: Knob) -> EdgePrior:
    """What is believed of a knob's edge."""
    return _by_knob().get(knob.name) or usual_prior()


def prior_at(knob: Knob, family: Family, rate_mts: int | None) -> EdgePrior:
    """What is believed of a knob's edge, where memory and data rate are known: a timing's edge is equally steep in time
    at every rate, so in clocks it is steeper or flatter.
    """
    found = _by_family().get((family, knob.name))
    if found is None:
        return prior_for(knob)
    if found.unit != "ns":
        return found
    if rate_mts is None:
        return prior_for(knob)
    clocks, slope = rate_mts / 2000.0, found.slope
    in_clocks = Slope(
        low=slope.low * clocks, high=slope.high * clocks, shoulder=slope.shoulder, highest=slope.highest * clocks
    )
    return found.model_copy(update={"unit": "nCK", "slope": in_clocks})


@lru_cache(maxsize=64)
def prior_in(text: str) -> EdgePrior:
    """A prior as it was kept in the book.

    Raises:
        Refused: it is none.
    """
    return parse_toml(EdgePrior, text, "what past rigs say")


def prior_text(prior: EdgePrior) -> str:
    """A prior as it is kept in the book, and as its file would stand."""
    import tomlkit  # noqa: PLC0415 - only who learns needs it

    return tomlkit.dumps(prior.model_dump(mode="json", exclude_none=True))


def prior_of(rig: Rig, knob: Knob) -> EdgePrior:
    """What is believed of a knob on a rig: by the past rigs that were learnt from for it, else what is usual."""
    text = dict(rig.experience).get(knob.name)
    return prior_in(text) if text else prior_for(knob)


def read_prior(which: str) -> EdgePrior:
    """A prior from a file.

    Raises:
        Refused: naming file, field, range and reason.
    """
    path = typed_path(which)
    return parse_toml(EdgePrior, read_text(path), path.name)
