"""The Cycle picture: what the timings make of one row cycle, to scale in nanoseconds."""

from collections.abc import Mapping
from dataclasses import dataclass

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import (
    DATA_RATE,
    T_CL,
    T_CWL,
    T_FAW,
    T_RAS,
    T_RC,
    T_RCD,
    T_REFI,
    T_RP,
    T_RRD,
    T_RRD_S,
    T_RTP,
    T_WR,
)
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family, MemoryClock
from tenaz.core.knobs.timings.figures import Figures, figures, refresh_clocks, refresh_note
from tenaz.core.knobs.timings.minima import MINIMA, Remark, check_timings, in_effect
from tenaz.core.knobs.timings.rules import RULES
from tenaz.core.rigs.rig import Rig


@dataclass(frozen=True, slots=True)
class TimingSpan:
    """One timing drawn from a start to an end (ns); ``least_end_ns`` is where it would end at its dependent minimum."""

    name: str
    label: str
    clocks: int
    start_ns: float
    end_ns: float
    remark: Remark | None = None
    least_end_ns: float | None = None


@dataclass(frozen=True, slots=True)
class Command:
    """A command on the bus: A activate, R read, W write, P precharge; or D, the first to the last word of data."""

    letter: str
    at_ns: float
    until_ns: float | None = None


@dataclass(frozen=True, slots=True)
class CommandLane:
    """One sequence of commands, with rows of timings that belong to it."""

    name: str
    commands: tuple[Command, ...]
    rows: tuple[tuple[TimingSpan, ...], ...]

    def has(self, name: str) -> bool:
        """Whether a timing is drawn on it."""
        return any(stretch.name == name for row in self.rows for stretch in row)

    @property
    def end_ns(self) -> float:
        """Where its last command or timing ends."""
        ends = [command.until_ns or command.at_ns for command in self.commands]
        return max([*ends, *(stretch.end_ns for row in self.rows for stretch in row)], default=0.0)


@dataclass(frozen=True, slots=True)
class Refresh:
    """Refresh: how long one takes (ns), how often (ns), and the share of time that it costs (0 to 1)."""

    takes_ns: float
    every_ns: float

    @property
    def lost(self) -> float:
        """Share of time lost."""
        return self.takes_ns / self.every_ns


@dataclass(frozen=True, slots=True)
class CyclePicture:
    """Lanes of the dialled setpoint, and those of the one that it is compared with as ghosts (empty: none).

    ``selected`` is the name of the knob in hand, ``said`` what is to be said of it; ``missing`` names timings that are
    on auto, so that what depends on them cannot be drawn.
    """

    rate_mts: int
    lanes: tuple[CommandLane, ...]
    refresh: Refresh | None
    figures: Figures
    selected: str
    said: str
    missing: tuple[str, ...]
    ghosts: tuple[CommandLane, ...] = ()
    ghost_refresh: Refresh | None = None
    ghost_name: str = ""

    def ghost_of(self, lane: CommandLane) -> CommandLane | None:
        """The same lane of the compared setpoint."""
        return next((ghost for ghost in self.ghosts if ghost.name == lane.name), None)

    @property
    def length_ns(self) -> float:
        """The longest lane, ghosts included."""
        return max((lane.end_ns for lane in (*self.lanes, *self.ghosts)), default=0.0)


NEEDED = (T_CL, T_RCD, T_RP, T_RAS, T_RC, T_RTP, T_CWL, T_WR,
          T_RRD_S, T_RRD, T_FAW)  # fmt: skip
"""Timings that the lanes are drawn from, in the order in which they stand; those that the family has."""


def cycle_picture(
    rig: Rig, setpoint: Setpoint, selected: str, compared: Setpoint | None = None, compared_name: str = ""
) -> CyclePicture | None:
    """The picture of a setpoint; None when its data rate is on auto: nothing has a length then."""
    values = setpoint.numbers()
    rate = values.get(DATA_RATE)
    if rate is None:
        return None
    labels = {knob.name: knob.label for knob in rig.knobs}
    remarks = {remark.name: remark for remark in check_timings(values, rig.family)}
    ghosts: tuple[CommandLane, ...] = ()
    ghost_refresh = None
    if compared is not None:
        other = compared.numbers()
        other_rate = other.get(DATA_RATE, rate)
        ghosts = _lanes(other, other_rate, rig.family, labels, {})
        ghost_refresh = _refresh(other, MemoryClock.of(other_rate, rig.family))
    knob = next((knob for knob in rig.knobs if knob.name == selected), None)
    return CyclePicture(
        rate_mts=rate,
        lanes=_lanes(values, rate, rig.family, labels, remarks),
        refresh=_refresh(values, MemoryClock.of(rate, rig.family)),
        figures=figures(values, rate, rig.family),
        selected=selected,
        said=_said(knob, setpoint, MemoryClock.of(rate, rig.family), rig.family, remarks.get(selected)) if knob else "",
        missing=tuple(labels.get(name, name) for name in NEEDED if name not in values and name in RULES[rig.family]),
        ghosts=ghosts,
        ghost_refresh=ghost_refresh,
        ghost_name=compared_name,
    )


def _said(knob: Knob, setpoint: Setpoint, clock: MemoryClock, family: Family, remark: Remark | None) -> str:
    """The knob in hand in one line: what it is, how long, what moves with it, what is the matter with it."""
    value = setpoint[knob.name]
    words = f"{knob.label} {knob.show(value)}"
    if knob.unit == "nCK" and isinstance(value, int):
        words += f" = {clock.ns(value):.2f} ns"
    words += f": {knob.affects}" if knob.affects else ""
    if knob.name == T_REFI and isinstance(value, int):
        words += f". {refresh_note(clock.ns(value) / 1000, family)}"
    if remark is not None:
        words += f". {str(remark.standing).capitalize()}: {remark.text}"
    return words


def _refresh(values: Mapping[str, int], clock: MemoryClock) -> Refresh | None:
    refresh = refresh_clocks(values)
    return Refresh(clock.ns(refresh[0]), clock.ns(refresh[1])) if refresh else None


class _Drawing:
    """Lays timings end to end; what is not known draws nothing."""

    def __init__(
        self, values: Mapping[str, int], rate_mts: int, family: Family, labels: Mapping[str, str],
        remarks: Mapping[str, Remark],
    ) -> None:  # fmt: skip
        self.values, self.labels, self.remarks = values, labels, remarks
        self.clock = MemoryClock.of(rate_mts, family)
        self.minima = {rule.name: rule for rule in MINIMA[family]}
        self.taken = in_effect(values, family)

    def has(self, *names: str) -> bool:
        return all(name in self.values for name in names)

    def ns(self, *names: str) -> float:
        return self.clock.ns(sum(self.values[name] for name in names))

    def stretch(self, name: str, start_ns: float) -> TimingSpan:
        rule = self.minima.get(name)
        least = None
        if rule is not None and self.has(*rule.needs):
            least = start_ns + self.clock.ns(rule.least(self.taken))
        clocks = self.values[name]
        end_ns = start_ns + self.clock.ns(clocks)
        return TimingSpan(name, self.labels.get(name, name), clocks, start_ns, end_ns, self.remarks.get(name), least)


def _lanes(
    values: Mapping[str, int], rate_mts: int, family: Family, labels: Mapping[str, str], remarks: Mapping[str, Remark]
) -> tuple[CommandLane, ...]:
    drawing = _Drawing(values, rate_mts, family, labels, remarks)
    burst_ns = drawing.clock.ns(family.burst / family.transfers_a_clock)
    lanes = (_read_lane(drawing, burst_ns), _write_lane(drawing, burst_ns), _activate_lane(drawing))
    return tuple(lane for lane in lanes if lane is not None)


def _read_lane(d: _Drawing, burst_ns: float) -> CommandLane | None:
    """Activate, read, precharge, the next activate: each as early as the slower of its conditions allows."""
    if not d.has(T_RCD, T_CL, T_RTP, T_RAS, T_RP):
        return None
    read = d.ns(T_RCD)
    data = read + d.ns(T_CL)
    close = max(d.ns(T_RAS), read + d.ns(T_RTP))
    closed = close + d.ns(T_RP)
    again = max(closed, d.ns(T_RC)) if d.has(T_RC) else closed
    rows = [
        (d.stretch(T_RCD, 0.0), d.stretch(T_RTP, read), d.stretch(T_RP, close)),
        (d.stretch(T_CL, read),),
        (d.stretch(T_RAS, 0.0),),
    ]
    if d.has(T_RC):
        rows.append((d.stretch(T_RC, 0.0),))
    commands = (
        Command("A", 0.0),
        Command("R", read),
        Command("D", data, data + burst_ns),
        Command("P", close),
        Command("A", again),
    )
    return CommandLane("read", commands, tuple(rows))


def _write_lane(d: _Drawing, burst_ns: float) -> CommandLane | None:
    """Activate, write, its data, write recovery, precharge, the next activate."""
    if not d.has(T_RCD, T_CWL, T_WR, T_RP):
        return None
    write = d.ns(T_RCD)
    data = write + d.ns(T_CWL)
    written = data + burst_ns
    close = max(written + d.ns(T_WR), d.ns(T_RAS) if d.has(T_RAS) else 0.0)
    commands = (
        Command("A", 0.0),
        Command("W", write),
        Command("D", data, written),
        Command("P", close),
        Command("A", close + d.ns(T_RP)),
    )
    rows = (
        (
            d.stretch(T_RCD, 0.0),
            d.stretch(T_CWL, write),
            d.stretch(T_WR, written),
            d.stretch(T_RP, close),
        ),
    )
    return CommandLane("write", commands, rows)


def _activate_lane(d: _Drawing) -> CommandLane | None:
    """Four activates in different bank groups, and the fifth that must wait for the window."""
    spacing = T_RRD_S if d.has(T_RRD_S) else T_RRD
    if not d.has(spacing):
        return None
    apart = d.ns(spacing)
    fifth = max(4 * apart, d.ns(T_FAW)) if d.has(T_FAW) else 4 * apart
    commands = (*(Command("A", k * apart) for k in range(4)), Command("A", fifth))
    rows = [(d.stretch(spacing, 0.0),)]
    if d.has(T_FAW):
        rows.append((d.stretch(T_FAW, 0.0),))
    return CommandLane("activates", commands, tuple(rows))
