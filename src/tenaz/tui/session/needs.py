"""Whether a command makes sense now, and what is told where it does not."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from tenaz.tui.base.commands import BY_ACTION, Need
from tenaz.tui.pages.sheet import entering

if TYPE_CHECKING:
    from tenaz.tui.session.workspace import Workspace


def why_not(action: str, work: "Workspace") -> str:
    """Why a command makes no sense now; empty where it does."""
    command = BY_ACTION.get(LIKE.get(action, action))
    for need in command.needs if command else ():
        met, words = _TOLD[need]
        if not met(work):
            return words(work)
    return ""


LIKE = {"take_rig": "choose_rig", "take_load": "choose_load", "restore_named": "restore_setpoint"}
"""What is found by its name makes sense when this command does."""

_TOLD: dict[Need, tuple[Callable[["Workspace"], bool], Callable[["Workspace"], str]]] = {
    Need.IDLE: (lambda w: not w.busy, lambda _: "A trial is under way: stop it first with s."),
    Need.RUNNING: (lambda w: w.busy, lambda _: "Nothing runs that could be stopped."),
    Need.WRITABLE: (lambda w: not w.view.book.read_only, lambda w: f"Read-only: {w.view.book.read_only}"),
    Need.SIMULATED: (
        lambda w: not w.view.bench.real,
        lambda w: f"Time passes as it is on bench {w.view.bench}: only a simulated rig has a pace.",
    ),
    Need.SEARCHING: (
        lambda w: w.view.searches.going is not None,
        lambda _: "No climb is under way here: c begins one along the knob in hand.",
    ),
    Need.TRIALS: (
        lambda w: w.pages.shown.points(w),
        lambda _: "There is no trial to point at yet.",
    ),
    Need.PLANNED: (
        lambda w: bool(w.view.kept.planned),
        lambda _: "Nothing is planned yet: a›p puts the dialled values, or the climb under way, on the plan.",
    ),
    Need.CLIMBS: (
        lambda w: any(one.knobs == (w.dial.knob.name,) for one in w.view.searches.every),
        lambda w: f"{w.dial.knob.label} was not climbed on this bench yet: c begins.",
    ),
    Need.SAVED: (
        lambda w: bool(w.view.kept.saved),
        lambda _: "No setpoint is saved yet to compare with: d›w saves what is dialled under a name.",
    ),
    Need.TYPING_IN: (
        lambda w: entering(w.view) is not None,
        lambda _: "Nothing is being typed in that could be ticked.",
    ),
    Need.OPEN_NOTE: (
        lambda w: w.open_note() is not None,
        lambda w: f"There is no open note on {w.dial.knob.label} {w.dial.knob.show(w.dial.value)}.",
    ),
    Need.DIFFERING: (
        lambda w: bool(w.view.now.differing),
        lambda _: "No value of the newest trial read otherwise than asked: no grid needs correcting.",
    ),
}
