"""A language of the client's page: its sentences, its words, and how it writes figures and days."""

import string
from dataclasses import dataclass
from datetime import date
from functools import cache
from importlib import resources
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

from pydantic import BaseModel, ConfigDict, Field

from tenaz.catalogues.outside import read_text, typed_path
from tenaz.catalogues.reading import parse_toml
from tenaz.core.base.errors import Refused
from tenaz.papers.reports.said import Day, Length, Many, Number, Sentence, Share, Term, Value

if TYPE_CHECKING:
    from babel import Locale

SHIPPED = ("en", "es")
ENGLISH = "en"
NEARLY_CERTAIN = 0.999
"""What is surer is told as *over 99.9 %*: nothing is called certain."""

Text = Annotated[str, Field(max_length=2000)]


class Sentences(BaseModel):
    """A language's file."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    locale: Annotated[str, Field(pattern=r"^[a-z]{2,3}(_[A-Z]{2})?$", description="how figures and days are written")]
    headings: dict[str, Text] = Field(description="headings, columns, and what stands around the page")
    sentences: dict[str, Text | dict[str, Text]] = Field(
        description="sentences by name, values in braces; one, other: the forms for one and for more"
    )
    terms: dict[str, Text] = Field(default_factory=dict, description="words of the trade")


@dataclass(frozen=True)
class Language:
    """Renders what is said."""

    file: Sentences
    locale: "Locale"

    @property
    def code(self) -> str:
        """Of the language, like ``es``."""
        return self.file.locale[:2]

    def heading(self, which: str, /, **values: Value) -> str:
        """A heading, or what else stands around the page."""
        return self._filled(self.file.headings[which], tuple(values.items()))

    def text(self, value: Value) -> str:
        """Any value in words."""
        if isinstance(value, Sentence):
            return self._filled(self._form(value.name, value.values), value.values)
        if isinstance(value, Many):
            return self._many([self.text(one) for one in value.parts], value.between)
        if isinstance(value, Term):
            return self.file.terms.get(value.word, value.word)
        return value if isinstance(value, str) else self._figure(value)

    def _figure(self, value: Number | Share | Length | Day) -> str:
        match value:
            case Number(number, digits):
                return self.number(number, digits)
            case Share(share):
                return self._share(share)
            case Length(seconds):
                return self._length(seconds)
            case Day(day):
                return self.day(day)

    def number(self, value: float, digits: int = 0) -> str:
        """A number as the language writes it."""
        from babel.numbers import format_decimal  # noqa: PLC0415 - only a page that is written pays for it

        return format_decimal(round(value, digits), "#,##0" + ("." + "#" * digits if digits else ""), self.locale)

    def day(self, day: date) -> str:
        """Like ``30 Nov 2026``."""
        from babel.dates import format_date  # noqa: PLC0415

        return format_date(day, "d MMM y", self.locale)

    def _share(self, share: float) -> str:
        from babel.numbers import format_percent  # noqa: PLC0415

        if share >= NEARLY_CERTAIN:
            return self.heading("over", share=format_percent(NEARLY_CERTAIN, "#,##0.0 %", self.locale))
        tenths = int(1000.0 * share + 1e-6)
        exact = tenths / 1000 if tenths >= 990 else (tenths // 10) / 100
        return format_percent(exact, "#,##0.# %", self.locale)

    def _length(self, seconds: float) -> str:
        """Exact to the second below an hour, to the minute above."""
        hours, rest = divmod(round(seconds), 3600)
        minutes, left = divmod(rest, 60)
        told = [(hours, "h"), (minutes, "min"), (0 if hours else left, "s")]
        return " ".join(f"{count} {unit}" for count, unit in told if count) or "0 s"

    def _many(self, told: list[str], between: str) -> str:
        if between == "semicolon":
            return "; ".join(told)
        if between == "comma" or len(told) < 2:
            return ", ".join(told)
        return f"{', '.join(told[:-1])} {self.file.headings['and']} {told[-1]}"

    def _form(self, name: str, values: tuple[tuple[str, Value], ...]) -> str:
        form = self.file.sentences[name]
        if isinstance(form, str):
            return form
        count = next((value.value for key, value in values if key == "n" and isinstance(value, Number)), 0)
        return form.get(self.locale.plural_form(abs(count)), form["other"])

    def _filled(self, form: str, values: tuple[tuple[str, Value], ...]) -> str:
        known = {key: self.text(value) for key, value in values}
        return "".join(
            before + (known.get(name, "") if name is not None else "")
            for before, name, _, _ in string.Formatter().parse(form)
        )


def sentences_of(name: str) -> str:
    """The file of a language that ships, as it is."""
    return resources.files("tenaz.papers.reports.languages").joinpath(f"{name}.toml").read_text("utf-8")


@cache
def language(name: str = ENGLISH) -> Language:
    """A language that ships, by its code; or one's own, by its file, ending in .toml.

    Raises:
        Refused: none of both; a file that lacks a sentence, or has one with another place in it.
    """
    from babel import Locale, UnknownLocaleError  # noqa: PLC0415

    if name in SHIPPED:
        text, place = sentences_of(name), name
    elif name.endswith(".toml"):
        text, place = read_text(typed_path(name)), name
    else:
        raise Refused(
            f"{name[:40]!r} is no language of reports; there are {' and '.join(SHIPPED)}, or the file of your own, "
            "ending in .toml."
        )
    file = parse_toml(Sentences, text, str(place))
    try:
        found = Language(file, Locale.parse(file.locale))
    except (UnknownLocaleError, ValueError) as error:
        raise Refused(f"{place}: {file.locale!r} is no locale; one is like es or es_MX.") from error
    if name != ENGLISH:
        for wrong in differences(language(ENGLISH).file, file):
            raise Refused(f"{Path(place).name}: {wrong}. Mend it after the pattern of the one that ships: "
                          "tenaz report --sentences.")  # fmt: skip
    return found


def differences(pattern: Sentences, file: Sentences) -> list[str]:
    """What a language lacks of another, or says with other places."""
    found = []
    for part in ("headings", "sentences"):
        here, there = getattr(file, part), getattr(pattern, part)
        found += [f"{part} lacks {name!r}" for name in there if name not in here]
        found += [f"{part} has {name!r}, which is none" for name in here if name not in there]
        for name in (one for one in there if one in here):
            wanted, has = _places(there[name]), _places(here[name])
            if not has <= wanted:
                found.append(f"{name!r} has the place {sorted(has - wanted)[0]!r}, but only "
                             f"{', '.join(sorted(wanted)) or 'none'} is filled")  # fmt: skip
            if isinstance(here[name], dict) and "other" not in here[name]:
                found.append(f"{name!r} has no form called other")
    return found


def _places(form: str | dict[str, str]) -> set[str]:
    """The names in braces."""
    forms = [form] if isinstance(form, str) else list(form.values())
    try:
        return {name for one in forms for _, name, _, _ in string.Formatter().parse(one) if name is not None}
    except ValueError:
        return {"a brace without its other"}
