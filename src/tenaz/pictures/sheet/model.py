"""The sheet: every knob in the order in which one walks through a firmware setup, and what follows from its value."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Auto, Setpoint, Value
from tenaz.core.knobs.timings.clocks import MemoryClock
from tenaz.core.knobs.timings.minima import Remark, check_timings
from tenaz.core.knobs.timings.rules import RULES
from tenaz.core.rigs.notes import ValueNote
from tenaz.core.rigs.rig import Rig

NOT_KNOWN = "not known on this rig"
"""The group of knobs that a setpoint brought along and the rig does not have: kept and shown."""


@dataclass(frozen=True, slots=True)
class Other:
    """The same line of a compared setpoint: its value and, at that setpoint's own data rate, its time in ns."""

    value: str
    time_ns: float | None

    def show(self) -> str:
        """Both, without the unit that stands beside the first value."""
        number = self.value.split(" ")[0]
        return number if self.time_ns is None else f"{number:<5} {self.time_ns:.2f} ns"


@dataclass(frozen=True, slots=True)
class SheetRow:
    """One line: the value, what it was, its time in ns where it has one, values of compared setpoints, what is said."""

    group: str
    name: str
    label: str
    value: str
    was: str
    time_ns: float | None
    others: tuple["Other", ...]
    remark: Remark | None
    notes: tuple[str, ...]
    locked: str = ""

    @property
    def changed(self) -> bool:
        """Whether the step moves it."""
        return self.was != ""

    @property
    def differs(self) -> bool:
        """Whether any compared setpoint has another value."""
        return any(other.value != self.value for other in self.others)


@dataclass(frozen=True, slots=True)
class SheetPicture:
    """The sheet of one setpoint; ``compared`` names the setpoints whose values stand beside it."""

    title: str
    rows: tuple[SheetRow, ...]
    compared: tuple[str, ...] = ()
    follow_ups: tuple[str, ...] = ()

    def only(self, names: Sequence[str]) -> "SheetPicture":
        """The same sheet with some lines only."""
        rows = tuple(row for row in self.rows if row.name in names)
        return SheetPicture(self.title, rows, self.compared, self.follow_ups)


def sheet_picture(
    rig: Rig,
    setpoint: Setpoint,
    before: Setpoint,
    title: str = "",
    compared: Sequence[tuple[str, Setpoint]] = (),
    notes: Sequence[ValueNote] = (),
    also: Sequence[Remark] = (),
) -> SheetPicture:
    """The sheet of a setpoint against what was there ``before``; ``also`` is what its carrying had to say of it."""
    values = setpoint.numbers()
    clock = _clock(setpoint, rig)
    remarks = {remark.name: remark for remark in (*check_timings(values, rig.family), *also)}
    rows = []
    known = {knob.name: knob for knob in rig.knobs}
    for name in dict.fromkeys((*known, *setpoint)):
        knob, value, was = known.get(name), setpoint[name], before[name]
        others = tuple(
            Other(_show(knob, other[name]), _time_ns(name, other[name], _clock(other, rig), rig))
            for _, other in compared
        )
        rows.append(
            SheetRow(
                group=(knob.group or knob.domain) if knob else NOT_KNOWN,
                name=name,
                label=knob.label if knob else name,
                value=_show(knob, value),
                was=_show(knob, was) if was != value else "",
                time_ns=_time_ns(name, value, clock, rig),
                others=others,
                remark=remarks.get(name),
                notes=tuple(note.show() for note in notes if note.knob == name and note.value == value),
                locked=knob.locked if knob else "",
            )
        )
    follow_ups = tuple(
        f"{known[note.knob].label if note.knob in known else note.knob} "
        f"{_show(known.get(note.knob), note.value)}: {note.show()}"
        for note in notes
        if note.open
    )
    return SheetPicture(title, tuple(rows), tuple(name for name, _ in compared), follow_ups)


def _clock(setpoint: Setpoint, rig: Rig) -> MemoryClock | None:
    rate = setpoint[DATA_RATE]
    return None if isinstance(rate, Auto) else MemoryClock.of(rate, rig.family)


def _show(knob: Knob | None, value: Value) -> str:
    return knob.show(value) if knob else str(value)


def _time_ns(name: str, value: Value, clock: MemoryClock | None, rig: Rig) -> float | None:
    if clock is None or isinstance(value, Auto) or name not in RULES[rig.family]:
        return None
    return clock.ns(value)


def sheet_lines(picture: SheetPicture) -> list[str]:
    """The sheet as plain text, to be printed or read out: changed lines marked, a box to tick before each."""
    lines = [picture.title, ""] if picture.title else []
    group = ""
    width = max([len(row.label) for row in picture.rows] or [0])
    for row in picture.rows:
        if row.group != group:
            group = row.group
            lines += ([""] if lines and lines[-1] else []) + [group]
        mark = "▸" if row.changed else " "
        time = f"{row.time_ns:9.2f} ns" if row.time_ns is not None else " " * 12
        line = f"[ ] {mark} {row.label:<{width}} {row.value:>12}{time}"
        line += f"   was {row.was}" if row.changed else ""
        line += "".join(f"   {name} {other.show()}" for name, other in zip(picture.compared, row.others, strict=True))
        said = [*row.notes, *([f"{row.remark.standing}: {row.remark.text}"] if row.remark else [])]
        said += [f"locked: {row.locked}"] if row.locked else []
        lines.append((line + (f"   {'; '.join(said)}" if said else "")).rstrip())
    if picture.follow_ups:
        lines += ["", "to follow up", *(f"  {line}" for line in picture.follow_ups)]
    return lines
