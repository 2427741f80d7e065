"""Trials that were found, counted by what they have in common."""

import re
from collections.abc import Callable, Iterable

from tenaz.core.base.outcomes import Verdict
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.querying import BY
from tenaz.core.trials.trial import Trial
from tenaz.margins.bounds import share_bounds
from tenaz.pictures.book.tallies import Tally

NOT_KNOWN = "not known"


def tallied(rows: Iterable[tuple[Trial, Rig]], by: str) -> tuple[Tally, ...]:
    """Trials that say something, by one of :data:`tenaz.core.trials.querying.BY`; what held most often first."""
    groups: dict[str, list[Trial]] = {}
    for trial, rig in rows:
        if trial.outcome is not None and trial.verdict is not Verdict.VOID:
            groups.setdefault(_KINDS[by](trial, rig) or NOT_KNOWN, []).append(trial)
    found = [_tally(label, trials) for label, trials in groups.items()]
    return tuple(sorted(found, key=lambda one: (-one.low, one.label)))


def _tally(label: str, trials: "list[Trial]") -> Tally:
    failed = [trial for trial in trials if trial.verdict is Verdict.FAIL]
    rigs = tuple(dict.fromkeys(trial.rig for trial in trials))
    bad = {trial.rig for trial in failed}
    held = len(trials) - len(failed)
    low, high = share_bounds(held, len(trials))
    return Tally(label, rigs, len(rigs) - len(bad), held, len(failed), low, high)


def _part(name: str) -> Callable[[Trial, Rig], str]:
    return lambda _, rig: dict(rig.parts).get(name, "")


def _modules(_: Trial, rig: Rig) -> str:
    parts = [one.part for one in (rig.machine.modules if rig.machine else ()) if one.fitted and one.part]
    kinds = [f"{parts.count(part)} × {part}" for part in dict.fromkeys(parts)]
    return " + ".join(kinds) or dict(rig.parts).get("memory", "")


def _firmware(trial: Trial, rig: Rig) -> str:
    found = re.search(r"(?:^|; )firmware ([^;]+)", trial.fitted)
    return found[1] if found else rig.machine.firmware if rig.machine else ""


_KINDS: dict[str, Callable[[Trial, Rig], str]] = {
    "rig": lambda trial, _: trial.rig,
    "owner": lambda _, rig: rig.owner,
    "board": _part("board"),
    "cooling": _part("cooling"),
    "processor": lambda _, rig: rig.processor,
    "modules": _modules,
    "firmware": _firmware,
    "load": lambda trial, _: trial.plan.kind.value,
    "month": lambda trial, _: f"{trial.begun_utc.astimezone():%Y-%m}",
}
assert tuple(_KINDS) == BY
