"""Setpoints as files: TOML with a published schema, and CSV for spreadsheets. A round trip loses nothing."""

import csv
import io
import re
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, Literal

import tomlkit
from pydantic import BaseModel, ConfigDict, Field

from tenaz.catalogues.format import NAME_PATTERN, Name
from tenaz.catalogues.outside import read_text
from tenaz.catalogues.reading import parse_toml
from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import LARGEST_NUMBER
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import AUTO, UNKNOWN, Auto, Setpoint, Value
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.knobs.timings.minima import Remark
from tenaz.core.rigs.notes import NoteKind, ValueNote
from tenaz.papers.harmless import as_text, from_text

FORMAT = "tenaz.setpoint/1"
CSV_HEAD = ("knob", "value", "unit", "label", "note_kind", "note")


class NoteEntry(BaseModel):
    """A note on one value."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    knob: Name
    kind: NoteKind = NoteKind.FREE
    text: str = ""
    settled: bool = False


class SetpointFile(BaseModel):
    """A setpoint: values by knob in the knob's unit, whole numbers or "auto". Knobs that nobody knows are kept."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    format: Literal["tenaz.setpoint/1"]
    name: str = ""
    rig: str = ""
    memory: Family | None = None
    text: str = ""
    values: Annotated[dict[Name, int | Literal["auto"]], Field(min_length=1)]
    note: tuple[NoteEntry, ...] = ()


@dataclass(frozen=True, slots=True)
class Sheet:
    """A setpoint with what belongs to it when it travels; ``out_of_reach`` is what its carrying could not keep, which
    files say in their text.
    """

    setpoint: Setpoint
    name: str = ""
    rig: str = ""
    memory: Family | None = None
    text: str = ""
    notes: tuple[ValueNote, ...] = ()
    out_of_reach: tuple[Remark, ...] = ()


def sheet_to_toml(sheet: Sheet) -> str:
    """A sheet as TOML, values in the sheet's order; what nobody knows is left out."""
    data: dict[str, object] = {"format": FORMAT, "name": sheet.name, "rig": sheet.rig, "text": sheet.text}
    if sheet.memory is not None:
        data["memory"] = sheet.memory.value
    values = {name: _plain(value) for name, value in sheet.setpoint.items_by_name if value is not UNKNOWN}
    return f"{tomlkit.dumps(data)}{_notes_in_lines(sheet.notes)}\n{tomlkit.dumps({'values': values})}"


def _notes_in_lines(notes: Sequence[ValueNote]) -> str:
    """Notes as an array with a line each: they are read, and edited, like a list."""
    if not notes:
        return ""

    def text(value: str) -> str:
        return tomlkit.item(value).as_string()

    lines = (
        f"    {{ knob = {text(note.knob)}, kind = {text(note.kind.value)}, text = {text(note.text)}, "
        f"settled = {str(note.settled).lower()} }},\n"
        for note in notes
    )
    return f"note = [\n{''.join(lines)}]\n"


def sheet_to_csv(sheet: Sheet, knobs: Sequence[Knob] = ()) -> str:
    """A sheet as CSV, a line a knob (two where it has two notes)."""
    known = {knob.name: knob for knob in knobs}
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(CSV_HEAD)
    for name, value in sheet.setpoint.items_by_name:
        if value is UNKNOWN:
            continue
        knob = known.get(name)
        start = (name, _plain(value), knob.unit if knob else "", as_text(knob.label) if knob else "")
        notes = [(note.kind.value, as_text(note.text)) for note in sheet.notes if note.knob == name]
        for note in notes or [("", "")]:
            writer.writerow((*start, *note))
    return out.getvalue()


def read_sheet(path: Path) -> Sheet:
    """Read a setpoint file, TOML or, by its ending, CSV.

    Raises:
        Refused: naming the line, the knob and the remedy.
    """
    text = read_text(path)
    return sheet_from_csv(text, str(path)) if path.suffix.lower() == ".csv" else sheet_from_toml(text, str(path))


def sheet_from_toml(text: str, place: str) -> Sheet:
    """The opposite of :func:`sheet_to_toml`."""
    file = parse_toml(SetpointFile, text, place)
    setpoint = Setpoint(tuple((name, _value(value)) for name, value in file.values.items()))
    notes = tuple(ValueNote(one.knob, setpoint[one.knob], one.kind, one.text, one.settled) for one in file.note)
    return Sheet(setpoint, file.name, file.rig, file.memory, file.text, notes)


def sheet_from_csv(text: str, place: str) -> Sheet:
    """The opposite of :func:`sheet_to_csv`; columns by their headings, of which knob and value must be there.

    Raises:
        Refused: a line that is none of a sheet; names it.
    """
    try:
        return _from_rows(csv.DictReader(io.StringIO(text, newline=""), restkey="more"), place)
    except csv.Error as error:
        raise Refused(f"{place} cannot be read as CSV: {error}. Save it anew from the spreadsheet.") from error


def _from_rows(rows: "csv.DictReader[str]", place: str) -> Sheet:
    missing = [name for name in CSV_HEAD[:2] if name not in (rows.fieldnames or ())]
    if missing:
        raise Refused(f"{place}, line 1: the heading {missing[0]!r} is missing; the first line names the columns.")
    values: dict[str, Value] = {}
    notes: list[tuple[str, NoteKind, str]] = []
    for row in rows:
        where = f"{place}, line {rows.line_num}"
        name, typed = (row["knob"] or "").strip(), (row["value"] or "").strip()
        value: Value
        if typed.lower() == AUTO:
            value = AUTO
        else:
            try:
                value = int(typed)
            except ValueError as error:
                what = f"{typed[:40]!r} is no whole number and not auto"
                raise Refused(f"{where}: {name[:60] or 'a knob'}: {what}.") from error
            if abs(value) > LARGEST_NUMBER:
                raise Refused(f"{where}: {name[:60]}: a number so large is no value of any knob.")
        if not name:
            raise Refused(f"{where}: a value without a knob; name it in the column knob.")
        if not re.fullmatch(NAME_PATTERN, name):
            raise Refused(f"{where}: {name[:60]!r} is no name of a knob; they look like t_rcd_nck.")
        if values.setdefault(name, value) != value:
            raise Refused(f"{where}: {name} stands in it twice with different values; keep one.")
        kind = (row.get("note_kind") or "").strip()
        if kind and kind not in tuple(NoteKind):
            raise Refused(f"{where}: {name}: {kind!r} is no kind of note; it is one of {', '.join(NoteKind)}.")
        if kind or (row.get("note") or "").strip():
            notes.append((name, NoteKind(kind or NoteKind.FREE), from_text((row.get("note") or "").strip())))
    if not values:
        raise Refused(f"{place} holds no values; a line a knob belongs under its headings.")
    return Sheet(
        Setpoint.of(values), notes=tuple(ValueNote(name, values[name], kind, text) for name, kind, text in notes)
    )


def _plain(value: Value) -> int | str:
    return AUTO.value if isinstance(value, Auto) else int(value)


def _value(value: int | str) -> Value:
    return value if isinstance(value, int) else AUTO
