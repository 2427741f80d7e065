"""All settings as a list: what each is called, what stands there now, what it does; and one as it is typed."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import checked_line
from tenaz.settings.model import Settings


@dataclass(frozen=True, slots=True)
class Setting:
    """``name`` is like ``screen.theme``; ``usual`` says that nothing else was said."""

    name: str
    value: Any
    about: str
    usual: bool

    @property
    def line(self) -> str:
        """As it is typed."""
        shown = str(self.value).lower() if isinstance(self.value, bool) else str(self.value)
        return f"{self.name} = {shown}".rstrip()


def listed(settings: Settings, commands: Mapping[str, tuple[str, str]]) -> tuple[Setting, ...]:
    """All settings, keys last; ``commands`` are usual key and words by the command's name."""
    found = []
    for part, field in Settings.model_fields.items():
        if part == "keys":
            continue
        values, usual = getattr(settings, part), field.get_default(call_default_factory=True)
        for key, about in type(values).model_fields.items():
            value = getattr(values, key)
            found.append(Setting(f"{part}.{key}", value, about.description or "", value == getattr(usual, key)))
    for name, (key, words) in commands.items():
        bound = settings.keys.get(name, key)
        found.append(Setting(f"keys.{name}", bound, words, name not in settings.keys))
    return tuple(found)


def typed(line: str) -> tuple[str, Any]:
    """Name and value from a line like ``screen.theme = light``; without a value it is as usual again (None).

    Raises:
        Refused: no name, or no sign between name and value.
    """
    name, sign, text = (part.strip() for part in checked_line(line).partition("="))
    if not sign or "." not in name:
        raise Refused("type a setting as its name, =, and its value, like: screen.theme = light; nothing behind = sets "
                      "it back to what is usual.")  # fmt: skip
    if not text:
        return name, None
    try:
        return name, tomllib.loads(f"value = {text}")["value"]
    except (ValueError, RecursionError):
        return name, text
