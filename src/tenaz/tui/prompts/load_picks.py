"""What there is to pick among loads and routines, with what each has found on this rig so far."""

from collections.abc import Mapping, Sequence

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.parsing import in_turn
from tenaz.core.loads.plan import USUAL_DURATION_S, LoadKind, LoadPlan, show_duration
from tenaz.core.loads.programs import PROGRAM_EXAMPLE
from tenaz.core.loads.routines import ROUTINES
from tenaz.core.loads.text import load_text
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.trial import Trial
from tenaz.pictures.drawing.marks import Role
from tenaz.tui.screens.picks import Pick


def found_by_kind(trials: Sequence[Trial]) -> dict[LoadKind, str]:
    """What each kind of load has come to on the rig, in words."""
    hours: dict[LoadKind, float] = {}
    failed: dict[LoadKind, int] = {}
    for trial in trials:
        for kind in trial.plan.kinds:
            hours[kind] = hours.get(kind, 0.0) + trial.elapsed_s / 3600
            found = trial.verdict is Verdict.FAIL and trial.outcome is not Outcome.NO_BOOT
            failed[kind] = failed.get(kind, 0) + found
    words = {}
    for kind, ran in hours.items():
        count = failed[kind]
        fails = f"{count} failure{'s' if count != 1 else ''}" if count else "nothing failed"
        words[kind] = f"{ran:.1f} h, {fails}"
    return words


def heat_by_kind(trials: Sequence[Trial]) -> dict[LoadKind, float]:
    """The hottest, in °C, that any sensor was under each kind of load."""
    heat: dict[LoadKind, float] = {}
    for trial in trials:
        hottest = trial.facts.hottest
        if hottest is None:
            continue
        for kind in trial.plan.kinds:
            heat[kind] = max(heat.get(kind, 0.0), hottest.peak)
    return heat


def load_picks(
    trials: Sequence[Trial], own: Mapping[str, str], bench: BenchKind, usual_s: float = USUAL_DURATION_S
) -> tuple[Pick, ...]:
    """Loads of one's own by name, then every kind, then a program of one's own."""
    found = found_by_kind(trials)
    picks = [
        Pick(line, f"your own: {name}", f"kept as {name}", Role.LIT)
        for name, line in own.items()
        if len(in_turn(line)) == 1
    ]
    for kind in LoadKind:
        if kind is not LoadKind.PROGRAM:
            here = found.get(kind, "has not run on this rig")
            text = load_text(LoadPlan(kind, duration_s=usual_s))
            picks.append(
                Pick(text, f"{kind.strains:<8} {here}", kind.about, Role.TEXT if kind in found else Role.FAINT)
            )
    where = "its name is enough: you run it" if not bench.traits.watches_load else "judged by exit status and output"
    here = found.get(LoadKind.PROGRAM, "")
    picks.append(Pick("program 1h: ", f"another program{f' {here}' if here else ''}", f"{where}. {PROGRAM_EXAMPLE}"))
    return tuple(picks)


def routine_picks(own: Mapping[str, str]) -> tuple[Pick, ...]:
    """Known routines, then those of one's own."""
    known = [
        Pick(one.name, f"{'' if one.length_s is None else show_duration(one.length_s)}  {one.about}", _kinds(one.plans))
        for one in ROUTINES.values()
    ]
    return (*known, *(Pick(name, "your own", line, Role.LIT) for name, line in own.items()))


def _kinds(plans: Sequence[LoadPlan]) -> str:
    """Its loads in turn, memory and processor told apart."""
    words = [" ∥ ".join(f"{one.kind} ({one.kind.strains})" for one in (plan, *plan.beside)) for plan in plans]
    return " → ".join(words)
