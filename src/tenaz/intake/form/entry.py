"""One line of a rig's form, and how numbers in it are read."""

import re
from collections.abc import Callable
from dataclasses import dataclass, replace

from tenaz.core.base.errors import Refused
from tenaz.core.rigs.rig import Rig


@dataclass(frozen=True, slots=True)
class Entry:
    """One line: its key, what stands before it, what it looks like when filled in, how it is read from and into a rig.

    ``write`` raises Refused for text that it cannot take. Entries of another group than the one before begin a block.
    ``choices`` are what it usually is: one goes through them with the arrow keys, and may still type another.
    """

    key: str
    label: str
    hint: str
    group: str
    read: Callable[[Rig], str]
    write: Callable[[Rig, str], Rig]
    choices: tuple[str, ...] = ()


def plain_entry(key: str, label: str, hint: str, group: str) -> Entry:
    """An entry for a text that is kept as typed."""
    return Entry(
        key,
        label,
        hint,
        group,
        lambda rig: str(getattr(rig, key)),
        lambda rig, text: replace(rig, **{key: text}),  # type: ignore[arg-type] # only for texts
    )


def number(text: str, what: str, least: float, most: float) -> float:
    """A number as it was typed, perhaps with its unit; ``what`` is what it should be.

    Raises:
        Refused: it is none, or lies without ``least`` to ``most``.
    """
    found = re.fullmatch(r"(\d+(?:\.\d+)?)\s*[a-z°]*", text.strip(), re.IGNORECASE)
    if not found or not least <= float(found[1]) <= most:
        raise Refused(f"{text!r} is no {what}; give a number from {least:g} to {most:g}.")
    return float(found[1])
