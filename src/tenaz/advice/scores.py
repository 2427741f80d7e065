"""What comes next by what was measured."""

from tenaz.advice.coming import Coming
from tenaz.core.loads.routines import COMES_UP
from tenaz.core.scores.gains import Worth
from tenaz.core.trials.stands import Stands
from tenaz.orders import StartRoutine
from tenaz.pictures.scores.model import ScoresPicture


def next_scored(picture: ScoresPicture, stands: Stands) -> Coming | None:
    """What the scores say comes next; None: nothing."""
    wasted = next((one for one in picture.alone if one.to_drop), None)
    if wasted is not None:
        back = stands.in_force.replacing(wasted.change.knob, wasted.change.before)
        reason = f"{wasted.words}: it holds, and does not pay; dropped, its margin is free"
        knob = stands.rig.knob(wasted.change.knob)
        step = f"drop it: {knob.label} back to {knob.show(wasted.change.before)}"
        return Coming(step, reason, StartRoutine(back, (COMES_UP,)))
    if picture.comparison is None and picture.changed != "nothing differs":
        return Coming("measure in turn with stock", "what a step gains is told from noise by both, in turn", key="m›m")
    if picture.comparison is not None and picture.comparison.worth is Worth.TOO_NOISY and picture.comparison.more:
        return Coming("measure in turn once more", picture.comparison.verdict, key="m›m")
    return None
