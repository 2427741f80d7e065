"""What is asked for as a line of text at the sheet: a knob's name, a rate to carry to, a name to save under, a note."""

from collections.abc import Sequence
from contextlib import suppress
from pathlib import Path

from tenaz.catalogues.outside import typed_path
from tenaz.core.base.errors import Refused
from tenaz.core.knobs.knob import Knob, NeedsReason
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Setpoint, Value
from tenaz.core.knobs.timings.clocks import Rounding
from tenaz.core.rigs.notes import NoteKind, ValueNote, parse_note
from tenaz.core.rigs.rescaled import Rescaled, rescaled_setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.core.rigs.steps import Step
from tenaz.journal.kept.sheets import SavedSetpoint
from tenaz.papers.setpoint_files import Sheet, read_sheet
from tenaz.tui.base.dial import Dial
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt

MOST_NAMES = 6


def find_prompt(dial: Dial) -> Prompt:
    """The name of the knob to take in hand."""
    picks = [
        Pick(knob.label, f"{knob.show(dial.setpoint[knob.name]):>14}   {knob.group or knob.domain}", knob.affects)
        for knob in dial.rig.knobs
    ]
    return Prompt(
        "which knob", "the beginning of its name, or a part of it, like: trfc", "", dial.place_of, picks=picks
    )


def carried_from_text(rig: Rig, setpoint: Setpoint, text: str) -> Rescaled:
    """The sheet carried to a typed rate, like ``6400``; ``6400 standard`` rounds as the standard allows.

    Raises:
        Refused: no rate of the rig's grid, no way of rounding, or a sheet whose rate is on auto.
    """
    typed, _, way = text.strip().partition(" ")
    to_mts = rig.knob(DATA_RATE).parse(typed)
    setpoint.number(DATA_RATE)
    if not isinstance(to_mts, int):
        raise Refused("Carry to a number: on auto nobody knows how long a clock is.")
    ways = {"": Rounding.CAUTIOUS, "cautious": Rounding.CAUTIOUS, "standard": Rounding.STANDARD}
    if way.strip().lower() not in ways:
        raise Refused(f"{way.strip()!r} is no way of rounding; type cautious or standard after the rate.")
    return rescaled_setpoint(rig, setpoint, to_mts, ways[way.strip().lower()])


def carry_prompt(rig: Rig, setpoint: Setpoint) -> Prompt:
    """The rate to carry to."""
    now = rig.knob(DATA_RATE).show(setpoint[DATA_RATE])
    return Prompt(
        f"carry the whole sheet from {now} to another data rate",
        "every time in ns is kept and rounded up to clocks; add the word standard to round as the standard allows",
        "",
        lambda text: carried_from_text(rig, setpoint, text),
    )


def value_note_prompt(knob: Knob, value: Value) -> Prompt:
    """A note on the value in hand."""

    def check(text: str) -> None:
        note = parse_note(knob.name, value, text)
        if note.kind is NoteKind.FREE and not note.text:
            raise Refused("Type a note, or leave with Escape.")

    kinds = " · ".join(f"{kind}: {kind.meaning}" for kind in NoteKind if kind is not NoteKind.FREE)
    return Prompt(f"note on {knob.label} {knob.show(value)}", f"{kinds}, or your own words", "", check)


def save_prompt(saved: Sequence[SavedSetpoint]) -> Prompt:
    """The name to save under."""
    taken = [one.name for one in saved]

    def check(name: str) -> None:
        if not name.strip():
            raise Refused("Give it a name, so that it can be found again.")
        if name.strip() in taken:
            raise Refused(f"There is a setpoint {name.strip()!r} already; choose another name.")

    return Prompt("save what is dialled under a name", _names(taken) or "like: summer, memory at its best", "", check)


def restored(text: str, saved: Sequence[SavedSetpoint], rig: Rig) -> Sheet:
    """A saved setpoint by its name, or a sheet from a file; knobs that the rig does not have are kept.

    Raises:
        Refused: neither, or values that may not be set on this rig.
    """
    wanted = text.strip()
    sheet = next((Sheet(one.setpoint, one.name) for one in saved if one.name == wanted), None)
    if sheet is None:
        if not Path(wanted).suffix:
            known = _names([one.name for one in saved]) or "none is saved yet"
            raise Refused(f"There is no setpoint {wanted!r} ({known}); name one, or a file ending in .toml or .csv.")
        sheet = read_sheet(typed_path(wanted))
    if sheet.memory is not None and sheet.memory is not rig.family:
        raise Refused(f"That sheet is for {sheet.memory}, and {rig.name} has {rig.family}: its timings mean others.")
    with suppress(NeedsReason):
        rig.check(sheet.setpoint)
    return sheet


def restore_prompt(saved: Sequence[SavedSetpoint], rig: Rig) -> Prompt:
    """Which setpoint, or which file."""
    names = [one.name for one in saved]
    hint = f"{_names(names)}; or a file" if names else "a file"
    return Prompt(
        "dial a saved setpoint, or one from a file",
        f"{hint} ending in .toml or .csv",
        names[-1] if names else "",
        lambda text: restored(text, saved, rig),
        picks=[Pick(one.name, f"{one.at_utc:%d %b %Y}  {one.text}") for one in reversed(saved)],
    )


def step_prompt(step: Step, leap: str, prefill: str) -> Prompt:
    """Why several things are moved in one step, or one thing in a leap, all the same."""

    def check(text: str) -> None:
        if not text.strip():
            raise Refused("Type why, or leave with Escape and move one thing at a time.")

    told = [one[:1].upper() + one[1:] for one in (leap, step.warning) if one]
    words = f"{'. '.join(told)}."
    return Prompt(words, "to do it all the same, type why; it goes into the book with the trial", prefill, check)


def new_notes(sheet: Sheet, known: Sequence[ValueNote]) -> list[ValueNote]:
    """Notes that a sheet brought along and the book does not have."""
    have = {(note.knob, note.value, note.kind, note.text) for note in known}
    return [note for note in sheet.notes if (note.knob, note.value, note.kind, note.text) not in have]


def _names(names: Sequence[str]) -> str:
    """The newest names in a line."""
    shown = ", ".join(names[-MOST_NAMES:])
    return f"saved: {shown}{' and older ones' if len(names) > MOST_NAMES else ''}" if names else ""
