"""Trials as CSV and as JSON Lines: written, and read again; also lists that people keep, with columns of their own."""

import csv
import io
import json
import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tenaz.catalogues.outside import parse_json, read_text
from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import MOST_LIST_BYTES
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.loads.text import load_text
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.record_text import parse_record, record_of
from tenaz.core.trials.trial import Trial
from tenaz.papers.harmless import as_text
from tenaz.papers.paper_lists import read_when, trial_of_line
from tenaz.pictures.drawing.paper import check_path

if TYPE_CHECKING:
    from datetime import datetime

    from tenaz.press.size import PaperSize

ENDINGS = (".csv", ".jsonl")
LIST_ENDINGS = (".csv", ".jsonl", ".txt")
MOST_TRIALS = 20_000

OWN_COLUMNS = ("rig", "number", "when", "bench", "load", "outcome", "seen_by", "reason", "note", "uid")
"""Columns that are no knobs."""

ALSO_CALLED = {
    "date": "when", "begun": "when", "time": "ran", "duration": "ran", "ran_for": "ran", "program": "load",
    "result": "outcome", "remark": "note", "comment": "note", "trial": "number",
}  # fmt: skip
"""What people write above such a column."""


@dataclass(frozen=True, slots=True)
class TrialsPaper:
    """Trials with their rigs, to be written to a file."""

    trials: tuple[tuple[Trial, Rig], ...]

    def write(self, path: Path, size: "PaperSize | None" = None) -> None:  # noqa: ARG002 - lists have no paper
        """Write them in the form that the file's ending says."""
        check_path(path, ENDINGS)
        rows = [trial_row(trial) for trial, _ in self.trials]
        write_whole(path, as_csv(rows) if path.suffix.lower() == ".csv" else as_json_lines(rows))


def trial_row(trial: Trial) -> dict[str, Any]:
    """A trial as flat values: what was in force by knob, the load and the record as they are typed."""
    record = record_of(trial)
    return {
        "rig": trial.rig,
        "number": trial.number,
        "when": trial.begun_utc.isoformat(timespec="seconds"),
        "bench": trial.bench.value,
        "load": load_text(trial.plan),
        "outcome": "" if record is None else record.exact(),
        "seen_by": trial.seen_by,
        "reason": trial.reason,
        "note": trial.note,
        "uid": trial.uid,
        "setpoint": {name: value if isinstance(value, int) else value.value for name, value in trial.setpoint.items()},
    }


def as_csv(rows: Sequence[Mapping[str, Any]]) -> str:
    """Rows with a column a knob; what a spreadsheet would take for a formula is kept from being one."""
    knobs = list(dict.fromkeys(name for row in rows for name in row["setpoint"]))
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow([*OWN_COLUMNS, *knobs])
    for row in rows:
        own = (as_text(str(row[name])) for name in OWN_COLUMNS)
        writer.writerow([*own, *(row["setpoint"].get(name, "") for name in knobs)])
    return text.getvalue()


def as_json_lines(rows: Sequence[Mapping[str, Any]]) -> str:
    """A row a line."""
    return "".join(f"{json.dumps(row, ensure_ascii=False)}\n" for row in rows)


# -- read ----------------------------------------


@dataclass(frozen=True, slots=True)
class ListRead:
    """What a file of trials holds: those that can be entered, and how many were never judged, which say nothing."""

    trials: tuple[PastTrial, ...]
    unjudged: int = 0


@dataclass(frozen=True, slots=True)
class Reading:
    """How a file is read: the rigs that its rows may be of, by name, and the one that is meant where a row names none;
    what stands where a row does not say, and under which load.
    """

    rigs: Mapping[str, Rig]
    rig: Rig
    base: Setpoint
    usual: LoadPlan

    def rig_of(self, name: str) -> Rig:
        """The rig of a row.

        Raises:
            Refused: it is not among those that are there.
        """
        if not name or name == self.rig.name:
            return self.rig
        if name not in self.rigs:
            known = ", ".join(self.rigs) or self.rig.name
            raise Refused(
                f"it is of {name[:40]!r}, and only trials of {known} can be entered here: add that rig first, with "
                f"tenaz rig --from; tenaz enter reads a file for all rigs of the book."
            )
        return self.rigs[name]


def read_trials(path: Path, reading: Reading) -> ListRead:
    """Trials from a file.

    Raises:
        Refused: naming the line, what is wrong there, and what would do.
    """
    check_path(path, LIST_ENDINGS)
    text = read_text(path, MOST_LIST_BYTES)
    rig, base, usual = reading.rig, reading.base, reading.usual
    match path.suffix.lower():
        case ".csv":
            rows = _csv_rows(text, reading)
        case ".jsonl":
            rows = _json_rows(text)
        case _:
            lines = [(number, line) for number, line in enumerate(text.splitlines(), 1) if line.strip()]
            return _all(lines, lambda line: trial_of_line(line, rig, base, usual), path)
    return _all(rows, lambda row: _past(row, reading), path)


def _all(rows: Iterable[tuple[int, Any]], read: Callable[[Any], PastTrial | None], path: Path) -> ListRead:
    found, unjudged = [], 0
    for number, row in rows:
        try:
            past = read(row)
        except Refused as refused:
            raise Refused(f"{path.name}, line {number}: {refused} Nothing was entered.") from refused
        if past is not None:
            found.append(past)
        unjudged += past is None
        if len(found) > MOST_TRIALS:
            raise Refused(f"{path.name} holds more than {MOST_TRIALS} trials; divide it.")
    if not found:
        raise Refused(f"{path.name} holds no trial that could be entered.")
    return ListRead(tuple(found), unjudged)


def _csv_rows(text: str, reading: Reading) -> list[tuple[int, dict[str, Any]]]:
    """Rows by line; what is no column of ours is a knob, by any name that it goes by on one of the rigs."""
    first = text.partition("\n")[0]
    divider = max((";", "\t", ","), key=first.count)
    reader = csv.reader(io.StringIO(text), delimiter=divider)
    rigs = (reading.rig, *(rig for name, rig in reading.rigs.items() if name != reading.rig.name))
    try:
        heading = [_column(name, rigs) for name in next(reader, [])]
        rows = []
        for values in reader:
            if any(value.strip() for value in values):
                row: dict[str, Any] = {"setpoint": {}}
                for name, value in zip(heading, values, strict=False):
                    if name in (*OWN_COLUMNS, "ran", "errors"):
                        row[name] = value.strip().removeprefix("'")
                    elif value.strip():
                        row["setpoint"][name] = value.strip()
                rows.append((reader.line_num, row))
    except csv.Error as error:
        raise Refused(f"line {reader.line_num} is no CSV: {error}.") from error
    return rows


def _column(name: str, rigs: Sequence[Rig]) -> str:
    known = name.strip().lower().replace(" ", "_")
    known = ALSO_CALLED.get(known, known)
    if known in (*OWN_COLUMNS, "ran", "errors"):
        return known
    for rig in rigs:
        with suppress(Refused):
            return rig.knob(name.strip()).name
    try:
        return rigs[0].knob(name.strip()).name
    except Refused as refused:
        columns = ", ".join((*OWN_COLUMNS, "ran", "errors"))
        raise Refused(f"column {name.strip()[:40]!r} is neither a knob ({refused}) nor one of {columns}.") from refused


def _json_rows(text: str) -> list[tuple[int, dict[str, Any]]]:
    rows = []
    for number, line in enumerate(text.splitlines(), 1):
        if line.strip():
            row = parse_json(line.encode("utf-8", "replace"), f"line {number}")
            if not isinstance(row, dict) or not isinstance(row.setdefault("setpoint", {}), dict):
                raise Refused(f"line {number} is no trial: an object with a setpoint is needed.")
            rows.append((number, row))
    return rows


def _past(row: Mapping[str, Any], reading: Reading) -> PastTrial | None:
    """A trial of a row; None where it was never judged."""
    if "number" in row and "seen_by" in row and not row.get("outcome"):
        return None
    rig = reading.rig_of(str(row.get("rig") or ""))
    setpoint = base = reading.base if rig is reading.rig else rig.stock
    for name, value in row["setpoint"].items():
        knob = rig.knob(str(name))
        setpoint = setpoint.replacing(knob.name, knob.parse(str(value)) if str(value) != "unknown" else base[knob.name])
    rig.check_past(setpoint)
    words = " ".join(str(row.get(key) or "") for key in ("outcome", "ran"))
    errors = str(row.get("errors") or "").strip()
    record = parse_record(f"{words} {f'{errors} errors' if errors.isdigit() else errors}")
    when: datetime | None
    when, day_only = read_when(str(row.get("when") or ""))
    load, note = str(row.get("load") or "").strip(), str(row.get("note") or "").strip()
    plan = parse_load(load) if load else reading.usual
    name, told = "" if rig is reading.rig else rig.name, str(row.get("bench") or "")
    bench = BenchKind(told) if told in tuple(BenchKind) else None
    return PastTrial(setpoint, plan, record, when, day_only, note, name, bench, _uid(str(row.get("uid") or "")))


def _uid(text: str) -> str:
    """An identity as books write it; anything else is none."""
    return text if re.fullmatch(r"[0-9a-f]{32}", text) else ""
