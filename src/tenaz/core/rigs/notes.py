"""What a technician notes of one value: what it stands at, and what to come back to."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import Setpoint, Value
from tenaz.core.rigs.rig import Rig


class NoteKind(StrEnum):
    """What a note says."""

    FLOOR = "floor"
    LOOSE = "loose"
    INERT = "inert"
    SCALED = "scaled"
    LOCKED = "locked"
    FREE = "note"

    @property
    def follows_up(self) -> bool:
        """Whether it is something to come back to."""
        return self in (NoteKind.LOOSE, NoteKind.FREE)

    @property
    def meaning(self) -> str:
        """In words, for a hint."""
        return {
            NoteKind.FLOOR: "at its floor",
            NoteKind.LOOSE: "probably loose: try it lower",
            NoteKind.INERT: "does nothing here",
            NoteKind.SCALED: "carried from another rate",
            NoteKind.LOCKED: "not to be moved",
            NoteKind.FREE: "anything else",
        }[self]


@dataclass(frozen=True, slots=True)
class ValueNote:
    """A note on a knob's value; ``settled``: it needs no coming back to any more. ``id`` 0 is not in a book yet."""

    knob: str
    value: Value
    kind: NoteKind
    text: str = ""
    settled: bool = False
    id: int = 0

    @property
    def open(self) -> bool:
        """Whether it stands on the list of what to follow up."""
        return self.kind.follows_up and not self.settled

    def show(self) -> str:
        """Kind and text in one line."""
        return self.text if self.kind is NoteKind.FREE else f"{self.kind}{f': {self.text}' if self.text else ''}"


def locked_by_notes(notes: Iterable[ValueNote]) -> dict[str, ValueNote]:
    """By knob, the newest note that says it is not to be moved from a value; settled ones lock nothing any more."""
    return {note.knob: note for note in notes if note.kind is NoteKind.LOCKED and not note.settled}


def refuse_locked(rig: Rig, setpoint: Setpoint, notes: Iterable[ValueNote]) -> None:
    """Refuse a setpoint that moves what a note locks.

    Raises:
        Refused: naming the knob, the value and the way out.
    """
    known = {knob.name: knob for knob in rig.knobs}
    for name, note in locked_by_notes(notes).items():
        if name in known and setpoint[name] != note.value:
            knob, why = known[name], f" ({note.text})" if note.text else ""
            raise Refused(
                f"{knob.label} is noted as locked at {knob.show(note.value)}{why}: leave it there, or settle that note "
                f"first (O, with {knob.label} in hand)."
            )


def parse_note(knob: str, value: Value, text: str) -> ValueNote:
    """A note as typed: its first word may be its kind, like ``loose maybe two less``."""
    words = text.strip()
    first, _, rest = words.partition(" ")
    if first.rstrip(":").lower() in tuple(NoteKind):
        return ValueNote(knob, value, NoteKind(first.rstrip(":").lower()), rest.strip())
    return ValueNote(knob, value, NoteKind.FREE, words)
