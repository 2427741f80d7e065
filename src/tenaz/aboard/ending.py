"""How a stick's work ended: whether anything was wrong, how sure that is, what was tested.

For a screen, a telephone and the report alike.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from tenaz.aboard.standing import StandingOrder
from tenaz.core.base.amounts import show_duration
from tenaz.core.base.outcomes import Verdict
from tenaz.core.evidence.shown import poisson_limit
from tenaz.core.trials.facts import hottest_of
from tenaz.core.trials.trial import Trial

if TYPE_CHECKING:
    from tenaz.core.loads.plan import LoadKind

SURE = 0.95
"""How sure it is to be said."""


@dataclass(frozen=True, slots=True)
class Ending:
    """``fine``: all ran, and nothing was wrong. ``headline`` is read from a metre away; ``lines`` say what was tested,
    and how sure that makes; ``brief`` is all of it in the letters that a square code holds.
    """

    fine: bool
    headline: str
    lines: tuple[str, ...]
    brief: str


def ending(
    rig: str, standing: StandingOrder, trials: Sequence[Trial], reached: float | None, reason: str, at: str
) -> Ending | None:
    """What came of a standing order that has ended, by the trials that were made for it (their ``reason``); ``reached``
    is the part of all memory that was gone over, where it is known. None: it has not ended, or nothing was run.
    """
    mine = [one for one in trials if one.number > standing.since and one.reason == reason and one.outcome is not None]
    if not standing.ended or not mine:
        return None
    failed = [one for one in mine if one.verdict is Verdict.FAIL]
    errors = sum(one.errors for one in failed)
    unrun = [one for one in mine if one.verdict is Verdict.VOID]
    if failed:
        first = failed[0]
        headline = f"DONE: SOMETHING IS WRONG ({_failures(failed, errors)})"
        sure = f"first: trial {first.number}, {first.outcome} after {show_duration(first.clean_s)} of {first.plan.kind}"
    elif unrun or not any(one.verdict is Verdict.PASS for one in mine):
        headline = "DONE, BUT NOT ALL RAN"
        sure = f"{len(unrun)} of {len(mine)} loads were cut short: they say nothing"
    else:
        headline = "DONE, NOTHING WRONG"
        sure = _sure(mine)
    tested = _tested(mine)
    lines = [f"tested: {tested}", sure]
    if reached is not None:
        lines.append(f"memory gone over: {reached:.0%} of all that is fitted")
    hottest = hottest_of(one.facts for one in mine)
    if hottest is not None:
        lines.append(f"hottest: {hottest.label} {hottest.peak:.0f} °C")
    if not failed:
        lines.append("what no load of these strains was not tested: cards, disks, what only one program does")
    elif any(one.memory_was_wrong for one in failed):
        lines.append("files that were written while it ran so may be damaged: compare them with a copy")
    brief = "; ".join([f"Tenaz: {rig}", at, headline, *lines[:-1]])
    return Ending(
        not failed and not unrun, headline, tuple(lines), brief.replace("°", "").encode("ascii", "replace").decode()
    )


def _failures(failed: Sequence[Trial], errors: int) -> str:
    many = f"{len(failed)} of its loads failed" if len(failed) > 1 else "one of its loads failed"
    return f"{many}, {errors} wrong values" if errors else many


def _tested(trials: Sequence[Trial]) -> str:
    hours: dict[LoadKind, float] = {}
    for one in trials:
        for kind in one.plan.kinds:
            hours[kind] = hours.get(kind, 0.0) + one.elapsed_s
    return ", ".join(f"{kind} {show_duration(seconds)}" for kind, seconds in hours.items())


def _sure(trials: Sequence[Trial]) -> str:
    """What that many hours without a failure rule out: what comes oftener would have shown (Poisson, no event)."""
    seconds = sum(one.elapsed_s for one in trials)
    oftener = show_duration(seconds / poisson_limit(0, SURE))
    return f"{SURE:.0%} sure: a failure that comes oftener than once in {oftener} of such loads would have shown"
