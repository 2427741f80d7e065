"""What one workshop's rigs have in common, as a file for another workshop: knobs and figures, no names."""

from pathlib import Path
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from tenaz.catalogues.outside import read_text
from tenaz.catalogues.reading import parse_toml
from tenaz.core.knobs.timings.clocks import Family
from tenaz.margins.experience import Common

HEAD = "# What the rigs of a workshop have in common, by knob and memory; for `work.experience_file` of another.\n"


class ExperienceFile(BaseModel):
    """``known``: one for each knob and kind of memory."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    format: Annotated[str, Field(pattern="^tenaz/experience$")] = "tenaz/experience"
    version: Annotated[int, Field(ge=1, le=1)] = 1
    known: Annotated[tuple[Common, ...], Field(max_length=2000)] = ()

    def of(self, knob: str, family: Family) -> Common | None:
        """Of a knob with a kind of memory; None: nothing is known."""
        return next((one for one in self.known if one.knob == knob and one.family is family), None)


def read_experience(path: Path) -> ExperienceFile:
    """From a file.

    Raises:
        Refused: naming file, field, range and reason.
    """
    return parse_toml(ExperienceFile, read_text(path), path.name)


def experience_text(known: tuple[Common, ...]) -> str:
    """As its file stands."""
    import tomlkit  # noqa: PLC0415 - only who shares needs it

    return HEAD + tomlkit.dumps(ExperienceFile(known=known).model_dump(mode="json"))
