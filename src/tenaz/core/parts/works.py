"""Work on a rig's parts, as it was done, and what is known of each part: its state, and what was written on it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from enum import StrEnum

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import MOST_TEXT_LETTERS
from tenaz.core.machine.machine import MemoryModule
from tenaz.core.parts.fitting import ALL_MEMORY, Fitting, name_of

AS_IT_CAME = "as it came"
SEEN_AT_START = "seen at a start"
"""What the firmware told was fitted otherwise than before."""
TYPED_IN = "typed in the rig's form"
"""Other modules in the form are work on the parts too, or what was there got its name."""


@dataclass(frozen=True, slots=True)
class Work:
    """One piece of work. ``after_number`` is the rig's newest trial then; ``fitting`` how the parts stand since."""

    id: int
    after_number: int
    text: str
    told: str
    minutes: float
    fitting: Fitting
    at_utc: datetime


def fitting_at(works: Sequence[Work], number: int, first: Fitting) -> Fitting:
    """How the parts stood when a trial of this number was made."""
    before = [one.fitting for one in works if one.after_number < number]
    return before[-1] if before else first


def named_all_along(works: Sequence[Work]) -> tuple[Work, ...]:
    """The same work, with parts that got their names later in the rig's form called by them from the first: a module
    without a serial that has one now, and memory of which nobody knew which slot holds what.
    """
    found = list(works)
    for place in range(len(found) - 1, 0, -1):
        if found[place].text != TYPED_IN:
            continue
        before, after = found[place - 1].fitting, found[place].fitting
        if any(one.slot == ALL_MEMORY for one in before.modules):
            found[:place] = [replace(one, fitting=after) for one in found[:place]]
            continue
        now = {one.slot: one for one in after.fitted}
        names = {
            name_of(one): now[one.slot]
            for one in before.fitted
            if not one.serial and one.slot in now and now[one.slot].size_bytes == one.size_bytes
        }
        found[:place] = [replace(one, fitting=_renamed(one.fitting, names)) for one in found[:place]]
    return tuple(found)


def _renamed(fitting: Fitting, names: Mapping[str, MemoryModule]) -> Fitting:
    """With modules called by other names, wherever they are."""

    def named(one: MemoryModule) -> MemoryModule:
        other = names.get(name_of(one)) if one.fitted else None
        return one if other is None else replace(one, serial=other.serial, part=other.part)

    modules, aside = tuple(map(named, fitting.modules)), tuple(map(named, fitting.aside))
    return replace(fitting, modules=modules, aside=aside)


class PartState(StrEnum):
    """What is thought of a part by whoever labelled it."""

    UNKNOWN = "unknown"
    SUSPECT = "suspect"
    GOOD = "good"
    BAD = "bad"
    REPLACED = "replaced"


KINDS = ("module", "slot", "channel", "core", "cooler", "supply", "controller", "board")
SINGLE = ("cooler", "supply", "controller", "board")
"""There is one of each: what is written after it is its name, like that on its label."""


@dataclass(frozen=True, slots=True)
class PartLabel:
    """A label on a part: which kind, which one (a module's serial, a slot, a core; empty where there is one), its
    state, and words.
    """

    kind: str
    place: str
    state: PartState
    text: str = ""
    at_utc: datetime | None = None

    @property
    def part(self) -> tuple[str, str]:
        """Kind and place of the part: of what there is one of, the name does not matter."""
        return self.kind, "" if self.kind in SINGLE else self.place

    @property
    def name(self) -> str:
        """Like ``module 2262``."""
        return f"{self.kind} {self.place}".strip()

    def show(self) -> str:
        """In a line."""
        return f"{self.name}: {self.state}" + (f", {self.text}" if self.text else "")


EXAMPLE = "module 2262 bad: fails alone in two slots"


def parse_label(text: str) -> PartLabel:
    """A label as typed: a part, a state, and words after a colon.

    Raises:
        Refused: naming the word, and what there is.
    """
    if len(text) > MOST_TEXT_LETTERS:
        raise Refused(f"{len(text)} letters are too long for a label; type it like: {EXAMPLE}")
    first, _, words = text.partition(":")
    parts = first.split()
    kind = parts[0].lower() if parts else ""
    if kind not in KINDS:
        raise Refused(f"{kind[:20]!r} is no kind of part; there are {', '.join(KINDS)}. Type it like: {EXAMPLE}")
    states = {state.value: state for state in PartState}
    if len(parts) < 2 or parts[-1].lower() not in states:
        raise Refused(f"say what it is: {', '.join(states)}. Type it like: {EXAMPLE}")
    return PartLabel(kind, " ".join(parts[1:-1]), states[parts[-1].lower()], words.strip())
