"""The Scores picture of a rig: what its book has of measures, against one setpoint."""

from collections.abc import Iterator, Sequence

from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.setpoint import Auto, Change, Setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.core.rigs.steps import changed_in_words, step_between
from tenaz.core.scores.gains import Comparison, compared
from tenaz.core.scores.limiting import limits_of
from tenaz.core.scores.score import Cores, Measure, Score
from tenaz.core.trials.index import TrialIndex
from tenaz.pictures.scores.model import Curve, CurvePoint, LastStep, MeasuredStep, ScoresPicture

BANDWIDTH, LATENCY = "read", "latency"


def scores_picture(
    rig: Rig, measures: Sequence[Measure], before: Setpoint, name: str, now: Setpoint, trials: TrialIndex
) -> ScoresPicture:
    """What is in force against ``before``, and every other setpoint that was measured."""
    told = [one for one in measures if one.scores]
    base = [one for one in told if one.setpoint == before]
    mine = [one for one in told if one.setpoint == now]
    steps = [
        MeasuredStep(
            _changes(rig, before, setpoint),
            compared(base, [one for one in told if one.setpoint == setpoint]),
            any(trial.verdict is Verdict.FAIL for trial in trials.at(setpoint)),
            setpoint == now,
        )
        for setpoint in dict.fromkeys(one.setpoint for one in told)
        if setpoint != before and base
    ]
    return ScoresPicture(
        rig.name,
        name,
        _changes(rig, before, now),
        compared(base, mine) if base and mine and now != before else None,
        tuple(steps),
        _newest(mine),
        tuple(curve for what in (LATENCY, BANDWIDTH) if (curve := _curve(what, base, mine)) is not None),
        _per_watt(base, mine, name),
        next((limits_of(one, rig) for one in reversed(mine) if not all(s.figure.own for s in one.scores)), ()),
        tuple(f"measure {one.number}: {one.why}" for one in measures if one.why),
        tuple(one.number for one in (*base, *(mine if now != before else ()))),
        tuple(_alone(rig, told, mine, now)) if mine else (),
    )


def _alone(rig: Rig, told: Sequence[Measure], mine: Sequence[Measure], now: Setpoint) -> "Iterator[LastStep]":
    """Each measured setpoint that differs from what is in force in one knob: that step by itself."""
    for setpoint in dict.fromkeys(one.setpoint for one in told):
        changes = step_between(rig, setpoint, now).changes
        if len(changes) == 1:
            there = [one for one in told if one.setpoint == setpoint]
            words = changed_in_words(rig, changes[0])
            yield LastStep(changes[0], words, compared(there, mine), _costs(rig, changes[0]))


def _costs(rig: Rig, change: Change) -> bool:
    """Whether a step takes margin or heat: to a harder value, or to a higher voltage."""
    knob = next((one for one in rig.knobs if one.name == change.knob), None)
    before, after = change.before, change.after
    if knob is None or isinstance(before, Auto) or isinstance(after, Auto):
        return False
    return knob.strain(after) > knob.strain(before) or (knob.unit == "mV" and after > before)


def _changes(rig: Rig, before: Setpoint, after: Setpoint) -> str:
    changes = step_between(rig, before, after).changes
    return ", ".join(changed_in_words(rig, one) for one in changes) or "nothing differs"


def _newest(measures: Sequence[Measure]) -> tuple[Score, ...]:
    found = {score.figure.identity: score for one in measures for score in one.scores}
    return tuple(found.values())


def _curve(what: str, before: Sequence[Measure], now: Sequence[Measure]) -> Curve | None:
    sides = [{s.figure.size_bytes: s for s in _newest(side) if _on_curve(s, what)} for side in (before, now)]
    sizes = sorted({size for side in sides for size in side if size is not None})
    if len(sizes) < 2:
        return None
    unit = next(score.figure.unit for side in sides for score in side.values())
    points = (CurvePoint(size, *(side[size].middle if size in side else None for side in sides)) for size in sizes)
    return Curve(what, unit, tuple(points))


def _on_curve(score: Score, what: str) -> bool:
    figure = score.figure
    return figure.what == what and figure.cores is Cores.ONE and figure.size_bytes is not None and not figure.own


def _per_watt(before: Sequence[Measure], now: Sequence[Measure], name: str) -> tuple[str, ...]:
    """Speed for each watt, where a power is known; against before, where it is known there too."""
    mine = next((one for one in reversed(now) if one.per_watt), None)
    base = next((one for one in reversed(before) if one.per_watt), None)
    if mine is None:
        return ()
    watts = f"{mine.circumstances.power_w:.0f} W {'at the plug' if mine.circumstances.by_meter else 'by the sensors'}"
    lines = [watts]
    same = base is not None and base is not mine and base.circumstances.by_meter is mine.circumstances.by_meter
    was = {figure.name: value for figure, value in base.per_watt} if base is not None and same else {}
    # One of each unit says it: the others move with it.
    by_unit = {figure.unit: (figure, value) for figure, value in reversed(mine.per_watt)}
    for figure, value in reversed(by_unit.values()):
        gained = f", {100 * (value / was[figure.name] - 1):+.1f} % against {name}" if figure.name in was else ""
        lines.append(f"{figure.what} {value:.3g} {figure.unit} a watt{gained}")
    return tuple(lines)


def pays_in_words(comparison: Comparison) -> str:
    """What a comparison comes to, with the figures by which it does."""
    told = [f"{one.figure.what} {one.show()}" for one in comparison.leading]
    return f"{comparison.verdict}: {'; '.join(told)}" if told else comparison.verdict
