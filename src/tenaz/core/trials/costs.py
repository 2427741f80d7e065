"""What work on a rig costs, as it was measured there: hours are spent by these."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from statistics import median

from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.facts import StationFact
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial

MEASURED_FROM = 3
"""So many before a median of what was measured takes the usual value's place."""

LATEST = 50
"""Of each, the latest so many count: a rig that was moved to another board boots otherwise."""

MOST_LOOKED_AT = 10 * LATEST
"""Trials that are gone through for them."""

CAME_UP = (Move.CAME_UP, Move.CAME_UP_AS_ASKED, Move.CAME_UP_RETRAINED)
STAYED_OUT = (Move.FELL_BACK, Move.STAYED_DOWN)


@dataclass(frozen=True, slots=True)
class Costs:
    """Seconds: to enter values, to enter them anew after settings were cleared, to boot, to fail to boot, and until a
    machine that went down under load is up again. ``measured`` names those that were measured on the rig itself.
    """

    enter_s: float = 30.0
    enter_anew_s: float = 300.0
    boot_s: float = 90.0
    failed_boot_s: float = 480.0
    crash_s: float = 150.0
    measured: tuple[str, ...] = ()
    by_hand: bool = False
    """Somebody enters the values, and after settings were cleared the whole sheet anew."""

    @property
    def no_start_s(self) -> float:
        """What a start that fails costs: its tries and the clear, and by hand the sheet typed in anew."""
        return self.failed_boot_s + (self.enter_anew_s if self.by_hand else 0.0)

    def trial_h(self, plan: LoadPlan) -> float:
        """Expected hours of a trial that holds: entered, booted, loaded."""
        load_s = plan.duration_s if plan.duration_s is not None else USUAL_LAP_S * (plan.laps or 1)
        return (self.enter_s + self.boot_s + load_s) / 3600.0


USUAL_LAP_S = 240.0
"""A lap of memory on a rig of which no more is known."""


BY_HAND = Costs(enter_s=90.0, enter_anew_s=600.0, boot_s=120.0, crash_s=180.0, by_hand=True)
"""Usual ones where a person enters the values of a real rig."""


def costs_known(trials: TrialIndex, bench: BenchKind) -> Costs:
    """Of a rig, by its latest trials; where somebody must be there, from what is usual then."""
    return costs_of(trials.latest(MOST_LOOKED_AT), BY_HAND if bench.traits.needs_hands else Costs())


def costs_of(trials: Sequence[Trial], usual: Costs = Costs()) -> Costs:
    """The costs that a rig's trials tell of, oldest first; the usual ones until there are enough."""
    seen: dict[str, list[float]] = {}
    before: Outcome | None = None
    for trial in trials[-MOST_LOOKED_AT:]:
        for what, fact in _sorted(trial.stations, before):
            if fact.seconds is not None:
                seen.setdefault(what, []).append(fact.seconds)
        before = trial.outcome
    found = {what: median(values[-LATEST:]) for what, values in seen.items() if len(values) >= MEASURED_FROM}
    return replace(usual, **found, measured=tuple(sorted(found)))  # type: ignore[arg-type] # all are seconds


def spent_h(trial: Trial) -> float:
    """Hours that a trial took at the bench: its stations as far as their times are known, and its load."""
    stations = sum(fact.seconds or 0.0 for fact in trial.stations if fact.station is not Station.LOAD)
    return (stations + trial.elapsed_s) / 3600.0


def _sorted(facts: Iterable[StationFact], before: Outcome | None) -> Iterable[tuple[str, StationFact]]:
    """Each fact with the cost that it tells of."""
    for fact in facts:
        if fact.station is Station.SET and fact.move is Move.ENTERED:
            yield ("enter_anew_s" if before is Outcome.NO_BOOT else "enter_s"), fact
        elif fact.station is Station.BOOT and fact.move in CAME_UP:
            crashed = before in (Outcome.FROZE, Outcome.RESTARTED, Outcome.STOP_CODE)
            yield ("crash_s" if crashed else "boot_s"), fact
        elif fact.station is Station.BOOT and fact.move in STAYED_OUT:
            yield "failed_boot_s", fact
