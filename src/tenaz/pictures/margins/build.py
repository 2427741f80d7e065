"""Margins pictures: every knob that was moved, judged on its line through what is in use."""

from tenaz.core.base.outcomes import Outcome
from tenaz.core.evidence.bracket import Bracket, bracket_of
from tenaz.core.evidence.old_edges import moves_with, old_edge
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.index import TrialIndex
from tenaz.margins.safety import AlongKnob, safety_of
from tenaz.pictures.margins.model import MarginRow, MarginsPicture


def margins_picture(rig: Rig, in_use: Setpoint, trials: TrialIndex) -> MarginsPicture:
    """The margins of all knobs at a setpoint."""
    evidence = {one.kind: one for one in evidence_at(in_use, trials, rig).kinds}
    safety = safety_of(rig, in_use, trials)
    rows = tuple(MarginRow(line, _bracket(line), evidence) for line in safety.lines)
    moved = {line.knob.name for line in safety.lines}
    still = [knob.label for knob in rig.knobs if knob.name not in moved and not isinstance(in_use[knob.name], Auto)]
    old = tuple(one for knob in rig.knobs if (one := old_edge(rig, knob, in_use, trials)) is not None)
    known = {one.knob.label for one in old}
    unmoved = tuple(label for label in still if label not in known)
    return MarginsPicture(rig, rig.purpose.tolerance, rows, safety, unmoved, old, moves_with(rig, trials))


def _bracket(line: AlongKnob) -> Bracket:
    """The bracket of a line under the load that it is judged under."""
    counting = [t for t in line.trials if line.judged.kind in t.plan.kinds or t.outcome is Outcome.NO_BOOT]
    return bracket_of(line.knob, [(trial.setpoint.number(line.knob.name), trial.verdict) for trial in counting])
