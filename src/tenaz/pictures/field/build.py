"""The Field picture of a search over two knobs, from the trials on it."""

import math
from collections.abc import Mapping, Sequence

import numpy as np

from tenaz.core.knobs.knob import Harder, Knob
from tenaz.core.rigs.rig import Rig
from tenaz.core.scores.score import Cores, Measure
from tenaz.core.searches.search import Proposal, SearchPlan, facts_of
from tenaz.core.trials.index import TrialIndex
from tenaz.margins.priors import prior_for
from tenaz.pictures.field.model import FieldPicture, TriedCell
from tenaz.search.boundaries import Boundary, Numbers
from tenaz.search.extending import Least, least_voltages
from tenaz.search.played import ground_of, on_line
from tenaz.search.registry import strategy_of
from tenaz.search.strategies.field import FieldPlan, Parameters, field_plan, tried_in

LEAST_MEASURED = 3
SCORE = "read"
"""The figure whose contour is drawn: what all cores read from memory."""


def field_picture(
    rig: Rig, plan: SearchPlan, trials: TrialIndex, stands: object, measures: Sequence[Measure] = ()
) -> FieldPicture:
    """Where a field stands; ``stands`` is its proposal, or its advice."""
    parameters = strategy_of(plan.strategy).typed(plan.parameters)
    assert isinstance(parameters, Parameters)
    ground = ground_of(rig, plan, trials)
    cells = field_plan(ground, parameters.over, parameters.window)
    belief = Boundary(*cells.shape, window=parameters.window)
    tried: dict[tuple[int, int], TriedCell] = {}
    for trial in on_line(trials, plan):
        cell = cells.cell(trial.setpoint)
        if cell is None or trial.outcome is None:
            continue
        before = tried.get(cell, TriedCell(()))
        tried[cell] = TriedCell((*before.trials, (trial.number, trial.outcome)))
        seen = tried_in(cells, ground, facts_of(trial))
        if seen is not None:
            belief.take(seen)
    following = cells.cell(stands.setpoint) if isinstance(stands, Proposal) else None
    holds = belief.holds
    away = _rows_away(cells.knobs[1], cells.strains[1], rig, plan.load.duration_s)
    scores = _scores(cells.cell, measures)
    return FieldPicture(
        rig.name,
        cells.knobs,
        cells.values,
        tuple(tuple(float(one) for one in column) for column in holds),
        _tolerated(holds, away, rig.purpose.tolerance.confidence),
        tried,
        following,
        getattr(stands, "reason", ""),
        belief.sure() if tried else 0.0,
        belief.false_pass,
        plan.load.show(),
        *scores,
        faster=_faster(cells, scores[0]),
        least=_least(cells, belief) if tried else (),
    )


def _least(cells: FieldPlan, belief: Boundary) -> tuple[Least, ...]:
    """Where the second knob is a voltage that is harder when lower."""
    first, second = cells.knobs
    if second.unit != "mV" or second.harder is not Harder.DOWN:
        return ()
    strains = cells.strains[0]
    further = 2 * strains[-1] - strains[-2]
    following = first.at_strain(further) if further <= first.ends[1] else None
    held = belief.drawn()
    # One step beyond what holds anywhere, which may lie within what was looked at.
    last = next((k for k in range(len(strains) - 1, -1, -1) if held[:, k].any(axis=1).all()), None)
    if last is not None and last + 1 < len(strains):
        following = cells.values[0][last + 1]
    return least_voltages(held, cells.values[0], cells.values[1], following)


def _rows_away(knob: Knob, strains: Sequence[int], rig: Rig, load_s: float | None) -> int:
    """How many rows a cell must lie inside the boundary for its rate to be tolerated: what just holds the load fails
    about once in one and a half of it, and every slope's worth of steps makes that e-fold rarer.
    """
    slope = prior_for(knob).usual_slope_steps(knob)
    hours = max(1 / 60, (load_s or 3600.0) / 3600)
    folds = math.log(max(1.0, math.log(2) / hours / rig.purpose.tolerance.rate_per_h))
    step = strains[1] - strains[0]
    return max(1, math.ceil(folds * slope / step))


def _tolerated(holds: Numbers, away: int, confidence: float) -> frozenset[tuple[int, int]]:
    columns, rows = holds.shape
    return frozenset(
        (column, row)
        for column in range(columns)
        for row in range(rows - away)
        if holds[column, row + away] >= confidence and holds[column, row] >= confidence
    )


def _faster(cells: FieldPlan, scores: Mapping[tuple[int, int], float]) -> tuple[tuple[float, ...], ...]:
    """A plane through the logarithms of what was measured, over the logarithms of both values: a speed goes with powers
    of what it follows from. Empty where what was measured lies on one line, or contradicts a plane.
    """
    if len(scores) < LEAST_MEASURED or any(value <= 0 for values in cells.values for value in values):
        return ()
    first, second = (np.log(np.array(values, float)) for values in cells.values)
    known = np.array([[1.0, first[column], second[row]] for column, row in scores])
    fit, _, rank, _ = np.linalg.lstsq(known, np.log(np.array(list(scores.values()))), rcond=None)
    if rank < known.shape[1]:
        return ()
    height = fit[1] * (first - first[0])[:, None] + fit[2] * (second - second[0])[None, :]
    return tuple(tuple(float(one) for one in column) for column in np.expm1(height))


def _scores(cell_of: object, measures: Sequence[Measure]) -> tuple[dict[tuple[int, int], float], str]:
    """What was measured in cells of the field."""
    assert callable(cell_of)
    found, unit = {}, ""
    for measure in measures:
        cell = cell_of(measure.setpoint)
        for score in measure.scores:
            figure = score.figure
            if cell is not None and figure.what == SCORE and figure.cores is Cores.ALL and figure.leads:
                found[cell], unit = score.middle, figure.unit
    return found, unit
