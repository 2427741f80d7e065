"""A knob's track: its whole range on one line, with what is set, stock, what held, what failed, and the ceilings."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.evidence.bracket import bracket_of
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint, Value
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.margins.judging import Judgement
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role, mark_of

NO_EDGES: Mapping[str, Judgement] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class Track:
    """What one track shows; values in the knob's unit.

    ``outcomes`` holds the standing outcome of each tried value on the line through the dialled setpoint: a failure
    outlasts a pass. ``changed`` says that the dialled value differs from the value in force.
    """

    knob: Knob
    dialled: Value
    in_force: Value
    stock: Value
    outcomes: tuple[tuple[int, Outcome], ...]
    held: int | None
    failed: int | None
    guard: tuple[int, ...]
    """Between the value that can be advised and the easiest failure."""
    stand: int | None = None
    """The value that can be advised, where it is known."""
    edge: tuple[int, int] | None = None
    """Values between which the purpose's edge lies, as far as the grid goes."""

    @property
    def changed(self) -> bool:
        """Whether the sheet will change this knob."""
        return self.dialled != self.in_force

    def margin_steps(self) -> int | None:
        """Grid steps from the value in force to the easiest failure, when both lie on this line."""
        if self.failed is None or isinstance(self.in_force, Auto):
            return None
        return self.knob.strain(self.failed) - self.knob.strain(self.in_force)


def tracks_of(
    knobs: Sequence[Knob],
    dialled: Setpoint,
    in_force: Setpoint,
    stock: Setpoint,
    trials: TrialIndex,
    edges: Mapping[str, Judgement] = NO_EDGES,
) -> tuple[Track, ...]:
    """A track a knob, each from the trials that differ from the dialled setpoint in that knob alone; ``edges`` are
    what was judged on these lines, by knob.
    """
    here = trials.at(dialled)
    return tuple(
        _track(
            knob,
            dialled,
            in_force,
            stock,
            here if isinstance(dialled[knob.name], Auto) else trials.along(dialled, knob.name),
            edges.get(knob.name),
        )
        for knob in knobs
    )


def _track(
    knob: Knob,
    dialled: Setpoint,
    in_force: Setpoint,
    stock: Setpoint,
    trials: Sequence[Trial],
    judged: Judgement | None,
) -> Track:
    on_line = [
        (value, t.outcome)
        for t in trials
        if t.outcome is not None and not isinstance(value := t.setpoint[knob.name], Auto)
    ]
    standing: dict[int, Outcome] = {}
    for value, outcome in on_line:
        before = standing.get(value)
        if before is None or before.verdict is not Verdict.FAIL:
            if before is not None and outcome.verdict is Verdict.VOID:
                continue
            standing[value] = outcome
    bracket = bracket_of(knob, [(value, outcome.verdict) for value, outcome in on_line])
    guard: tuple[int, ...] = ()
    stand, edge = None, None
    if judged is not None and judged.stand is not None:
        stand = knob.at_strain(judged.stand)
        if bracket.failed is not None and bracket.closed(knob):
            guard = tuple(map(knob.at_strain, range(judged.stand + 1, knob.strain(bracket.failed))))
    if judged is not None:
        ends = knob.ends
        low, high = (min(max(round(one), ends[0]), ends[1]) for one in (judged.edge.low, judged.edge.high))
        edge = knob.at_strain(low), knob.at_strain(high)
    return Track(
        knob,
        dialled[knob.name],
        in_force[knob.name],
        stock[knob.name],
        tuple(sorted(standing.items())),
        bracket.held,
        bracket.failed,
        guard,
        stand,
        edge,
    )


def places(knob: Knob, width: int) -> list[tuple[int, int]]:
    """Columns of a track with the value that a click there is meant for."""
    inner, values = max(1, width - 2), knob.grid.values()
    last = len(values) - 1
    return [(1 + column, values[round(column * last / max(1, inner - 1))]) for column in range(inner)]


def draw_track(track: Track, width: int) -> Cells:
    """Two lines: the track, and under it what is dialled (▴) beside what is in force (│), where the edge of the purpose
    lies (╴) and the value that can be advised (▾).

    A range longer than the width is drawn to scale; several grid values then share a cell, and a failure shows
    before a pass.
    """
    cells = Cells(width, 2)
    inner = max(1, width - 2)
    count = len(track.knob.grid)
    spread = (inner - 1) / max(1, count - 1)

    def column(value: int) -> int:
        return 1 + round(track.knob.grid.index(value) * spread)

    def put(value: Value, row: int, sign: str, role: Role) -> None:
        """A sign at a value; what is on auto has no place on the track."""
        if not isinstance(value, Auto):
            cells.put(column(value), row, sign, role)

    cells.put(0, 0, "├", Role.FRAME)
    cells.put(width - 1, 0, "┤", Role.FRAME)
    cells.put(1, 0, "─" * inner, Role.FRAME)
    knob = track.knob
    if knob.hard_ceiling is not None:
        for value in (v for v in knob.grid.values() if v > knob.hard_ceiling):
            cells.put(column(value), 0, "▓", Role.FAINT)
    if knob.advised_ceiling is not None:
        last = max((v for v in knob.grid.values() if v <= knob.advised_ceiling), default=None)
        if last is not None:
            cells.put(column(last), 0, "╎", Role.UNKNOWN)
    put(track.stock, 0, "s", Role.TEXT)
    if track.held is not None and track.failed is not None:
        between = sorted((column(track.held), column(track.failed)))
        for at in range(between[0] + 1, between[1]):
            cells.put(at, 0, "┄", Role.UNKNOWN)
    for value in track.guard:
        cells.put(column(value), 0, "▒", Role.GUARD)
    for value, outcome in sorted(track.outcomes, key=lambda one: one[1].verdict is Verdict.FAIL):
        mark = mark_of(outcome)
        cells.put(column(value), 0, mark.sign, mark.role)
    if track.edge is not None:
        low, high = sorted(map(column, track.edge))
        cells.put(low, 1, "╴" * (high - low + 1), Role.MEASURED)
    if track.stand is not None:
        put(track.stand, 1, "▾", Role.LIT)
    put(track.in_force, 1, "│", Role.HELD)
    put(track.dialled, 1, "▴", Role.LIT if track.changed else Role.TEXT)
    return cells
