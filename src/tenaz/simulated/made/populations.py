"""Populations: kinds of rigs that machines are drawn from, with every prior named. Files in TOML."""

from functools import cache
from typing import TYPE_CHECKING, Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

from tenaz.catalogues.outside import read_text, typed_path
from tenaz.catalogues.reading import parse_toml
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.timings.clocks import Family
from tenaz.simulated.made.prior_ranges import PRIOR_RANGES
from tenaz.simulated.made.shipped import names_in, read_shipped

if TYPE_CHECKING:
    from collections.abc import Mapping


class Prior(BaseModel):
    """A number that differs from machine to machine: normal, cut off 2 standard deviations out."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    mean: Annotated[float, Field(allow_inf_nan=False)]
    sd: Annotated[float, Field(ge=0, allow_inf_nan=False)]
    unit: str
    why: Annotated[str, Field(min_length=1)]


class Manners(BaseModel):
    """How failures come, beside what the physics says. The usual values are Tenaz's own model; others are against it on
    purpose, for studies.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    early_folds: Annotated[float, Field(ge=0, le=10, description="more failures in the first minutes, e-folds")] = 0.0
    early_s: Annotated[float, Field(gt=0, le=86400, description="how long these minutes are, s")] = 600.0
    tail_from_folds: Annotated[float, Field(ge=0, le=60, description="so far below the edge the slope changes")] = 60.0
    tail_slope: Annotated[float, Field(gt=0, le=1, description="slope there, as a part of the usual")] = 1.0
    drift_folds: Annotated[float, Field(ge=0, le=10, description="drift either way over a day, e-folds")] = 0.0
    frailty_folds: Annotated[float, Field(ge=0, le=5, description="scatter from trial to trial, e-folds")] = 0.15
    wall_softness_folds: Annotated[float, Field(gt=0, le=10, description="width of the training lottery, e-folds")] = (
        0.5
    )


class Population(BaseModel):
    """A kind of rig: a file may name another one that it is based on, and then says only what differs."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    name: Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
    about: str = ""
    family: Family | None = None
    based_on: str | None = None
    manners: Manners = Manners()
    prior: dict[str, Prior] = Field(default_factory=dict)

    @model_validator(mode="after")
    def _known(self) -> "Population":
        for name, prior in self.prior.items():
            if name not in PRIOR_RANGES:
                raise ValueError(f"prior {name} is none; there are: {', '.join(sorted(PRIOR_RANGES))}")
            low, high = PRIOR_RANGES[name]
            if not low <= prior.mean <= high:
                mean = f"prior {name}: mean {prior.mean:g} {prior.unit}"
                raise ValueError(f"{mean} is outside {low:g} to {high:g}: no such part is made")
            if low > 0 and prior.mean - 2 * prior.sd <= 0:
                raise ValueError(
                    f"prior {name}: sd {prior.sd:g} is too wide for a mean of {prior.mean:g}: it must stay above 0"
                )
        return self

    @property
    def whole(self) -> bool:
        """Whether it says everything by itself."""
        return self.family is not None and set(self.prior) == set(PRIOR_RANGES)


def population_names() -> tuple[str, ...]:
    """The kinds that come with Tenaz."""
    return names_in("populations")


@cache
def population(name: str) -> Population:
    """A kind that comes with Tenaz, complete.

    Raises:
        Refused: naming those that there are.
    """
    return _completed(read_shipped(Population, "populations", "kind of rig", name))


def read_population(which: str) -> Population:
    """A kind by its name, or from a file in TOML.

    Raises:
        Refused: naming file, field, range and reason.
    """
    if not which.endswith(".toml"):
        return population(which)
    path = typed_path(which)
    return _completed(parse_toml(Population, read_text(path), path.name))


def _completed(found: Population) -> Population:
    """With all that it is based on."""
    if found.based_on is None:
        missing = sorted(set(PRIOR_RANGES) - set(found.prior))
        if missing or found.family is None:
            raise Refused(
                f"population {found.name}: it is based on nothing and lacks {', '.join(missing) or 'family'}."
            )
        return found
    base = population(found.based_on)
    said = found.manners.model_fields_set
    manners: Mapping[str, object] = {name: getattr(found.manners, name) for name in said}
    return found.model_copy(
        update={
            "family": found.family or base.family,
            "manners": base.manners.model_copy(update=dict(manners)),
            "prior": {**base.prior, **found.prior},
        }
    )


def usual_population(family: Family) -> Population:
    """What a rig is drawn from when nobody said."""
    return population("desktop-ddr5" if family is Family.DDR5 else "field-ddr4")
