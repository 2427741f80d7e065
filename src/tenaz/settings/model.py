"""The settings: what there is to set, what may stand there, and what it is when nothing was said."""

import shlex
from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator

from tenaz.core.base.errors import Refused
from tenaz.core.loads.parsing import parse_load
from tenaz.core.searches.plans import USUAL_RULE, parse_rule
from tenaz.core.searches.search import USUAL_STRATEGY
from tenaz.settings.former import FORMER_THEMES

Text = Annotated[str, Field(max_length=400)]
Key = Annotated[str, Field(pattern=r"^[a-z0-9_+]{1,40}$|^.$", description="a key as it is called: q, Q, f5, ctrl+q")]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ScreenPart(_Part):
    """How it looks."""

    theme: Literal["dark", "light"] = Field(default="dark", description="dark or light; e›t changes it for now")
    signs: Literal["auto", "full", "plain"] = Field(
        default="auto",
        description="plain: only signs that the Linux console's own font has; auto: plain where that is meant",
    )
    updates_hz: Annotated[float, Field(ge=0.2, le=30)] = Field(
        default=10.0, description="how often what runs is drawn anew; fewer on a slow link"
    )
    bell: bool = Field(default=True, description="ring when something that ran has ended")

    @field_validator("theme", mode="before")
    @classmethod
    def _as_it_was_called(cls, name: object) -> object:
        return FORMER_THEMES.get(name, name) if isinstance(name, str) else name


class WorkPart(_Part):
    """What is proposed while nothing else was chosen."""

    load: Text = Field(default="march 1h", description="the load of a trial, as one types it")
    strategy: Annotated[str, Field(pattern=r"^[a-z]{1,20}$")] = Field(
        default=USUAL_STRATEGY, description="how a climb searches: adapt, stride, halve, retreat, hold"
    )
    experience: bool = Field(
        default=True, description="begin a climb with what past rigs of the same memory say of its knob"
    )
    experience_file: Path | None = Field(
        default=None, description="what another workshop's rigs have in common: a file of tenaz margins --prior --out"
    )
    plan_rule: Text = Field(default=USUAL_RULE.show(), description="when an unattended run ends before its end")

    @field_validator("load")
    @classmethod
    def _is_load(cls, text: str) -> str:
        try:
            parse_load(text)
        except Refused as refused:
            raise ValueError(str(refused)) from refused
        return text

    @field_validator("plan_rule")
    @classmethod
    def _is_rule(cls, text: str) -> str:
        try:
            parse_rule(text)
        except Refused as refused:
            raise ValueError(str(refused)) from refused
        return text


class TellingPart(_Part):
    """Who is told that a trial has ended; what stands in the environment comes first."""

    command: Text = Field(
        default="", description="a command that is run with the trial as JSON on its input; empty: none"
    )
    address: Annotated[str, Field(pattern=r"^(https?://.*)?$", max_length=400)] = Field(
        default="", description="a web address that is sent the trial as JSON; empty: none"
    )
    figures: Text = Field(
        default="",
        description="a file of figures, ending in .prom, written anew when a trial has ended; empty: none",
    )
    port: Annotated[int, Field(ge=0, le=65535)] = Field(
        default=0, description="where figures of what runs are shown, to this machine only; 0: nowhere"
    )

    @field_validator("command")
    @classmethod
    def _is_command(cls, text: str) -> str:
        try:
            shlex.split(text)
        except ValueError as error:
            raise ValueError(f"{text[:60]!r} cannot be split into words: {error}; check its quotes") from error
        return text


class BookPart(_Part):
    """Where work is kept."""

    place: Text = Field(
        default="", description="the book to open: a file, or an address on a server; empty: the usual file"
    )


class WorkshopPart(_Part):
    """Whose papers they are that are given out, and how."""

    name: Text = Field(default="", description="the workshop's name, at the head of what is given out")
    address: Text = Field(default="", description="its address; a line break is written as \\n")
    contact: Text = Field(default="", description="how it is reached: telephone, mail, a web address")
    technician: Text = Field(default="", description="who signs")
    mark: Text = Field(default="", description="the file of its sign, ending in .svg; empty: none")
    paper: Literal["a4", "letter"] = Field(default="a4", description="the size of paper: a4 or letter")
    language: Text = Field(
        default="en", description="of the client's page: en, es, or the file of your own sentences, ending in .toml"
    )

    @field_validator("mark")
    @classmethod
    def _is_mark(cls, name: str) -> str:
        if name and not name.lower().endswith(".svg"):
            raise ValueError(f"{name[:60]!r} is no file ending in .svg; a mark is drawn as SVG")
        return name


class Settings(_Part):
    """All settings of Tenaz."""

    screen: ScreenPart = Field(default_factory=ScreenPart)
    work: WorkPart = Field(default_factory=WorkPart)
    telling: TellingPart = Field(default_factory=TellingPart)
    workshop: WorkshopPart = Field(default_factory=WorkshopPart)
    book: BookPart = Field(default_factory=BookPart)
    keys: dict[str, Key] = Field(default_factory=dict, description="other keys for commands, by the command's name")
