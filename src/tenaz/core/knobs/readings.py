"""What was asked of a rig and what is in force there: each value with how that is known."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint, Value


class Source(StrEnum):
    """How it is known that a value is in force."""

    READ = "read back"
    REGISTER = "read by a register file"
    ACCEPTED = "accepted"
    ASSUMED = "assumed"

    @property
    def meaning(self) -> str:
        """In words."""
        return {
            Source.READ: "read from the rig after it had come up",
            Source.REGISTER: "read out of the memory controller, where a register file says it stands",
            Source.ACCEPTED: "the technician looked and said so",
            Source.ASSUMED: "nothing here can read it, and nobody looked",
        }[self]

    @property
    def is_read(self) -> bool:
        """Whether a machine told it, not a person."""
        return self in (Source.READ, Source.REGISTER)


@dataclass(frozen=True, slots=True)
class Reading:
    """One thing looked at after boot: what was asked for and what reads back, as shown; ``read`` None: cannot be read
    here. ``knob`` names the knob that it is a value of, with that ``value``; empty for parts, like the processor.
    """

    name: str
    asked: str
    read: str | None
    knob: str = ""
    value: Value | None = None
    source: Source = Source.ASSUMED

    @property
    def agrees(self) -> bool:
        """Whether it reads back as asked; what cannot be read does not disagree."""
        return self.read is None or self.read == self.asked

    @property
    def differs_in_words(self) -> str:
        """Like ``tCL was to be 36 nCK, reads 38 nCK``."""
        return f"{self.name} was to be {self.asked}, reads {self.read}"


def reading_of(knob: Knob, asked: Value, read: Value | None, by: Source = Source.READ) -> Reading:
    """The reading of a knob. A value left to the firmware agrees with whatever that chose; what nobody knew is known
    now.
    """
    if isinstance(asked, Auto) and read is not None:
        shown = knob.show(read)
        return Reading(knob.label, shown, shown, knob.name, asked, by)
    if isinstance(asked, int) and isinstance(read, int) and knob.alike(asked, read):
        read = asked
    shown_read = None if read is None else knob.show(read)
    source = Source.ASSUMED if read is None else by
    return Reading(knob.label, knob.show(asked), shown_read, knob.name, read, source)


Sources = tuple[tuple[Source, tuple[str, ...]], ...]
"""By source, the names of the knobs known by it."""


def in_force_by(asked: Setpoint, readings: Iterable[Reading]) -> Setpoint:
    """What is in force where this was asked for and that was read."""
    changed = {r.knob: r.value for r in readings if r.knob and r.value is not None and not r.agrees}
    if not changed:
        return asked
    return Setpoint(tuple((name, changed.get(name, value)) for name, value in asked.items_by_name))


def sources_of(readings: Sequence[Reading]) -> Sources:
    """The knobs of these readings by how their values are known."""
    return tuple(
        (source, names)
        for source in Source
        if (names := tuple(one.knob for one in readings if one.knob and one.source is source))
    )


def show_sources(sources: Sources) -> str:
    """Like ``12 values read back, 26 assumed: nothing here can read them``."""
    counts = {source: len(names) for source, names in sources}
    parts = []
    if counts.get(Source.READ):
        parts.append(f"{counts[Source.READ]} values read back")
    if counts.get(Source.REGISTER):
        parts.append(f"{counts[Source.REGISTER]} read by a register file")
    if counts.get(Source.ACCEPTED):
        parts.append(f"{counts[Source.ACCEPTED]} accepted as the technician saw them")
    if counts.get(Source.ASSUMED):
        parts.append(f"{counts[Source.ASSUMED]} assumed: nothing here can read them")
    return ", ".join(parts)


MEMORY = "memory"
NOT_SEEN = " not seen"


def show_seen(amount: str, unseen: Sequence[str]) -> str:
    """What is seen of the memory, in words: ``16.0 GiB, B1 not seen``."""
    return f"{amount}, {' '.join(unseen)}{NOT_SEEN}" if unseen else amount


def unseen_slots(readings: Iterable[Reading]) -> tuple[str, ...]:
    """The slots whose module was not seen, as far as the rig tells which."""
    read = next((one.read for one in readings if one.name == MEMORY and one.read), "")
    _, _, slots = read.partition(", ")
    return tuple(slots.removesuffix(NOT_SEEN).split()) if slots.endswith(NOT_SEEN) else ()
