"""The questions that only a technician can answer, in the same words on every bench."""

from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan, show_duration
from tenaz.core.loads.text import load_text
from tenaz.core.ports.bench import Choice, HowLong, Question
from tenaz.core.rigs.rig import Rig
from tenaz.core.rigs.steps import step_between

OUTCOME_CHOICES = (
    Choice("h", "held", Outcome.HELD),
    Choice("e", "errors", Outcome.ERRED),
    Choice("f", "froze", Outcome.FROZE),
    Choice("r", "restarted", Outcome.RESTARTED),
    Choice("c", "stop code", Outcome.STOP_CODE),
    Choice("p", "picture faults", Outcome.PICTURE),
    Choice("o", "too hot", Outcome.TOO_HOT),
    Choice("z", "stopped by hand", Outcome.STOPPED),
)
"""How a load that Tenaz did not run itself can have ended."""


def changed_lines(rig: Rig, setpoint: Setpoint, before: Setpoint) -> tuple[str, ...]:
    """The lines of the sheet that change, in the order of the firmware, old value beside new; and how many stay."""
    changes = step_between(rig, before, setpoint).changes
    if not changes:
        return ("  nothing changes; all values stay as they are",)
    knobs = {knob.name: knob for knob in rig.knobs}
    lines = []
    for change in changes:
        knob = knobs.get(change.knob)
        label, new = (knob.label, knob.show(change.after)) if knob else (change.knob, str(change.after))
        lines.append(f"▸ {label:<12} {new:>10}   was {change.before}")
    if before == rig.stock:
        # As it is after a clear: what is no knob went with it.
        lines += [f"▸ and {one}" for one in rig.also_set]
    staying = len(rig.knobs) - len(changes)
    return (*lines, f"  {staying} others stay as they are") if staying > 0 else tuple(lines)


def entering(rig: Rig, setpoint: Setpoint, before: Setpoint, then: str) -> Question:
    """Set: what to type into the firmware; the whole sheet stands on its page."""
    return Question(
        Station.SET,
        f"Enter these values in the firmware of {rig.name}, {then}",
        (Choice("y", "entered", Move.ENTERED),),
        changed_lines(rig, setpoint, before),
    )


def booting(rig: Rig) -> Question:
    """Boot: what it did, and whether what was typed in stands there."""
    return Question(
        Station.BOOT,
        f"Did {rig.name} come up, with the values as typed in?",
        (
            Choice("y", "up, and as typed in", Move.CAME_UP_AS_ASKED),
            Choice("l", "up, look at the values", Move.CAME_UP),
            Choice("a", "after retraining", Move.CAME_UP_RETRAINED),
            Choice("d", "fell back to defaults", Move.FELL_BACK),
            Choice("n", "did not come up", Move.STAYED_DOWN),
        ),
        tuple(
            f"  {what}: {text}"
            for what, text in (("start-up codes", rig.start_codes), ("to clear it", rig.clearing))
            if text
        ),
    )


def really_ran(plan: LoadPlan, outcome: Outcome, by_the_clock_s: float) -> HowLong:
    """Load: how long it ran, whenever the answer came. The clock is the guess, but for a planned time that is over."""
    planned = plan.duration_s if outcome is Outcome.HELD else None
    counted = " And how many errors?" if outcome is Outcome.ERRED else ""
    passed = f"By the clock {show_duration(by_the_clock_s)} have passed."
    return HowLong(
        f"{outcome}: how long did {named(plan)} run?{counted} {passed}",
        by_the_clock_s if planned is None else min(planned, by_the_clock_s),
        may_be_none=outcome is not Outcome.HELD,
    )


def named(plan: LoadPlan) -> str:
    """A load as one speaks of it: a program of one's own by its name."""
    return " ".join(plan.command)[:40] if plan.command else plan.kind.value


def watching(rig: Rig, plan: LoadPlan) -> Question:
    """Load: what was seen."""
    return Question(
        Station.LOAD,
        f"Run {plan.show()} on {rig.name}; the clock runs. What did you see?",
        OUTCOME_CHOICES,
        how_to_start(plan),
    )


def how_to_start(plan: LoadPlan) -> tuple[str, ...]:
    """How a load is started on a machine that stands elsewhere."""
    if plan.kind is LoadKind.PROGRAM:
        return (f"  there: {' '.join(plan.command)[:80]}",)
    line = load_text(plan)
    return (
        f"  with a system there: tenaz load {line} --no-book",
        "  without one: the stick (tenaz stick make --help says how); its workbench takes the same line",
        "  behind the time also: 3 errors · 84C · 412W · 0x124",
    )
