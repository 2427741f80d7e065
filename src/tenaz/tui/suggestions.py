"""What to do next, and why: always a suggestion, never a command."""

from typing import TYPE_CHECKING

from tenaz.charts.climb import ClimbPicture
from tenaz.core.climbs import Advice, Proposal
from tenaz.core.knobs import Knob, show_steps
from tenaz.core.setpoints import Setpoint

if TYPE_CHECKING:
    from tenaz.workshop.view import View

Suggestion = tuple[str, str]
"""The step with its key, and the reason."""


def next_step(view: "View", dialled: Setpoint, knob: Knob, busy: bool) -> Suggestion:
    """The next step for what is shown."""
    if view.read_only:
        return "look only", view.read_only
    if busy:
        return "let it run", "s stops it; it is then recorded as stopped by hand"
    changes = len(dialled.changes_from(view.in_force))
    if changes:
        return "t   try the dialled values", f"{changes} value{'s' if changes != 1 else ''} changed on the sheet"
    if view.climb is not None and view.standing is not None:
        climbing = view.rig.knob(view.climb.knob)
        return _on_climb(climbing, view.standing), view.standing.reason
    picture = view.pictures.get(knob.name)
    if picture is not None and picture.advice is not None:
        return _after_climb(picture, picture.advice)
    return "c   climb along the selected knob", "or dial with ← → and try with t"


def _on_climb(knob: Knob, standing: Proposal | Advice) -> str:
    if isinstance(standing, Proposal):
        return f"c   {knob.label} {knob.show(standing.value)}"
    return f"c   close the climb of {knob.label}"


def _after_climb(picture: ClimbPicture, advice: Advice) -> Suggestion:
    """Where to stand after a climb: the guard band's distance below the failure."""
    knob, failed = picture.knob, picture.bracket.failed
    guarded = knob.harder_by(failed, -picture.guard_steps - 1) if failed is not None else None
    if guarded is None:
        return f"the climb of {knob.label} is done", advice.reason
    return (
        f"stand at {knob.label} {knob.show(guarded)}, and show it: dial there, l for a long load, t",
        f"{advice.reason}; the guard band keeps {show_steps(picture.guard_steps)}",
    )
