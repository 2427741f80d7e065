"""The Scores picture: before and after in percent, what each measured step gained, curves by block size."""

from dataclasses import dataclass

from tenaz.core.knobs.setpoint import Change
from tenaz.core.scores.gains import LEAST_GAIN, Comparison, Worth
from tenaz.core.scores.score import Score


@dataclass(frozen=True, slots=True)
class MeasuredStep:
    """A setpoint that was measured against the one before: what differs, how often it was measured, what it comes to;
    ``failed`` says that it did not hold, ``now`` that it is in force.
    """

    words: str
    comparison: Comparison
    failed: bool = False
    now: bool = False


@dataclass(frozen=True, slots=True)
class LastStep:
    """One step alone: what is in force against a setpoint that was measured and differs in one value of one knob.
    ``costs``: it goes to a harder value, or to a higher voltage.
    """

    change: Change
    words: str
    comparison: Comparison
    costs: bool

    @property
    def to_drop(self) -> bool:
        """Whether it takes margin, or heat, for nothing."""
        gains = self.comparison.leading
        nothing_lost = all(one.high > -LEAST_GAIN for one in gains)
        return self.costs and nothing_lost and self.comparison.worth is Worth.DOES_NOT


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """A figure at one block size, before and now, in its unit; None: not measured."""

    size_bytes: int
    before: float | None
    now: float | None


@dataclass(frozen=True, slots=True)
class Curve:
    """One figure against block size."""

    title: str
    unit: str
    points: tuple[CurvePoint, ...]


@dataclass(frozen=True, slots=True)
class ScoresPicture:
    """``before`` is what the setpoint compared with is called, ``changed`` what is in force differs in from it.
    ``steps`` are all setpoints that were measured, against the same. ``newest`` are the scores of what is in force as
    measured last; ``per_watt`` and ``limits`` are lines about power and about what holds it back. ``unfinished`` are
    measures that never came to an end, in words; ``measures`` the numbers of those that were compared. ``alone`` are
    single steps that led to what is in force.
    """

    rig: str
    before: str
    changed: str
    comparison: Comparison | None
    steps: tuple[MeasuredStep, ...] = ()
    newest: tuple[Score, ...] = ()
    curves: tuple[Curve, ...] = ()
    per_watt: tuple[str, ...] = ()
    limits: tuple[str, ...] = ()
    unfinished: tuple[str, ...] = ()
    measures: tuple[int, ...] = ()
    alone: tuple[LastStep, ...] = ()
