"""Margins pictures: every knob that was moved, judged on its line through what is in use."""

from collections import Counter
from collections.abc import Sequence

from tenaz.charts.margins import MarginRow, MarginsPicture
from tenaz.core.bracket import bracket_of
from tenaz.core.evidence import evidence_at
from tenaz.core.knobs import Knob
from tenaz.core.load_kinds import LoadKind
from tenaz.core.old_edges import moves_with, old_edge
from tenaz.core.outcomes import Outcome, Verdict
from tenaz.core.rigs import Rig, stock_strain
from tenaz.core.searches import TrialFacts, facts_of
from tenaz.core.setpoints import Auto, Setpoint
from tenaz.core.trial_index import TrialIndex
from tenaz.margins.judging import Judgement, judge


def margins_picture(rig: Rig, in_use: Setpoint, trials: TrialIndex) -> MarginsPicture:
    """The margins of all knobs at a setpoint."""
    evidence = {one.kind: one for one in evidence_at(in_use, trials, rig).kinds}
    rows, still = [], []
    for knob in rig.knobs:
        value = in_use[knob.name]
        if isinstance(value, Auto):
            continue
        closed = [trial for trial in trials.along(in_use, knob.name) if trial.outcome is not None]
        telling = [trial for trial in closed if trial.verdict is not Verdict.VOID]
        if len({trial.setpoint[knob.name] for trial in telling}) < 2:
            still.append(knob.label)
            continue
        facts = [facts_of(trial) for trial in closed]
        judged = _nearest(rig, knob, facts)
        if judged is None:
            still.append(knob.label)
            continue
        counting = [t for t in telling if judged.kind in t.plan.kinds or t.outcome is Outcome.NO_BOOT]
        bracket = bracket_of(knob, [(trial.setpoint.number(knob.name), trial.verdict) for trial in counting])
        rows.append(MarginRow(knob, value, bracket, judged, evidence))
    old = tuple(one for knob in rig.knobs if (one := old_edge(rig, knob, in_use, trials)) is not None)
    known = {one.knob.label for one in old}
    unmoved = tuple(label for label in still if label not in known)
    return MarginsPicture(rig, rig.purpose.tolerance, tuple(rows), unmoved, old, moves_with(rig, trials))


def _nearest(rig: Rig, knob: Knob, facts: Sequence[TrialFacts]) -> Judgement | None:
    """Under the kind of load that ran most; under another one that failed, where its edge is nearer."""
    found: Judgement | None = None
    for kind in _kinds(facts):
        judged = judge(knob, rig.purpose, facts, kind, stock=stock_strain(rig, knob))
        if judged is None:
            continue
        failed = judged.posterior.strands[kind].failed is not None
        if found is None or (failed and judged.edge.median < found.edge.median):
            found = judged
    return found


def _kinds(facts: Sequence[TrialFacts]) -> list[LoadKind]:
    """The kinds of load that ran on a line, the most frequent first."""
    return [kind for kind, _ in Counter(kind for one in facts for kind in one.kinds).most_common()]
