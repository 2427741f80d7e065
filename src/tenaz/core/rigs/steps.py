"""A step between two setpoints: what moves, and why more than one thing at a time is warned of."""

from dataclasses import dataclass

from tenaz.core.knobs.setpoint import Change, Setpoint
from tenaz.core.rigs.rig import Rig

MOST_NAMED = 4


@dataclass(frozen=True, slots=True)
class Step:
    """Changes in the order of the firmware; those of knobs that the rig does not know come last."""

    changes: tuple[Change, ...]
    domains: tuple[str, ...]
    named: str

    @property
    def warning(self) -> str:
        """Why this step is better made in parts; empty for a step with one culprit."""
        if len(self.domains) > 1:
            return (
                f"this moves {' and '.join(self.domains)} together ({self.named}): if it fails, neither is known to be "
                f"the culprit. Processor first, memory after"
            )
        if len(self.changes) > 1:
            return (
                f"this moves {len(self.changes)} knobs at once ({self.named}): if it fails, none is known to be the "
                f"culprit. One at a time finds it"
            )
        return ""


def step_between(rig: Rig, before: Setpoint, after: Setpoint) -> Step:
    """The step from one setpoint to another on a rig."""
    order = {knob.name: place for place, knob in enumerate(rig.knobs)}
    changes = tuple(sorted(after.changes_from(before), key=lambda change: order.get(change.knob, len(order))))
    knobs = {knob.name: knob for knob in rig.knobs}
    domains = dict.fromkeys(knobs[change.knob].domain for change in changes if change.knob in knobs)
    # A supply belongs to what it feeds: raising it for memory is part of a memory step.
    domains.pop("voltages", None) if len(domains) > 1 else None
    labels = [knobs[change.knob].label if change.knob in knobs else change.knob for change in changes]
    named = ", ".join(labels[:MOST_NAMED]) + (
        f" and {len(labels) - MOST_NAMED} more" if len(labels) > MOST_NAMED else ""
    )
    return Step(changes, tuple(domains), named)


def changed_in_words(rig: Rig, change: Change) -> str:
    """Like ``data rate 5600 → 6000 MT/s``."""
    knob = next((one for one in rig.knobs if one.name == change.knob), None)
    if knob is None:
        return f"{change.knob} {change.before} → {change.after}"
    before, unit = knob.show(change.before), f" {knob.unit}"
    return f"{knob.label} {before.removesuffix(unit)} → {knob.show(change.after)}"
