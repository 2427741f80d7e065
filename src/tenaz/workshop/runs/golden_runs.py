"""Taking goldens: each CPU load several times on every core, and what graphics cards draw and reckon, at stock."""

from collections.abc import Callable

from tenaz.benches.here import surroundings
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.cards import CardKind
from tenaz.core.loads.goldens import LEAST_RUNS, Goldens, Result, by_majority
from tenaz.core.loads.plan import CacheLevel, LoadKind, LoadPlan
from tenaz.loads.crews import Surroundings
from tenaz.loads.run import LoadRun

TAKEN_FROM = (
    LoadPlan(LoadKind.TRANSFORM, duration_s=1.0, level=CacheLevel.L1, level_to=CacheLevel.MEMORY),
    LoadPlan(LoadKind.DIGEST, laps=1),
    LoadPlan(LoadKind.SOLVE, laps=2),
)


ON_CARDS = (LoadPlan(LoadKind.PAINT, laps=1), LoadPlan(LoadKind.SHADE, laps=1))


def _of_cards(told: Callable[[str], object]) -> list[Result]:
    """What cards draw and reckon; nothing where none can be reached, which is told.

    Raises:
        Refused: a load found something wrong.
    """
    try:
        around = surroundings(ON_CARDS[0])
    except Refused as error:
        told(f"no goldens of a graphics card: {error}")
        return []
    if all(card.kind is CardKind.SOFTWARE for card in around.cards):
        told("no goldens of a graphics card: none is here but software that draws")
        return []
    results = list[Result]()
    for number in range(LEAST_RUNS):
        for plan in ON_CARDS:
            told(f"{plan.kind}, run {number + 1} of {LEAST_RUNS}")
            results += _results(plan, around)
    return results


def _results(plan: LoadPlan, around: Surroundings) -> list[Result]:
    run = LoadRun(plan, around)
    report = run.run()
    if report.outcome is not Outcome.HELD:
        found = report.detail or next((one.show() for one in report.mismatches), str(report.outcome))
        raise Refused(f"no golden can be taken here: {plan.kind} {report.outcome} ({found}). Go back to stock.")
    return run.results


def take_goldens(told: Callable[[str], object]) -> tuple[Goldens, tuple[str, ...]]:
    """Goldens of this machine as it runs now, and the names of results that were not the same each time.

    Raises:
        Refused: a load found something wrong: nothing taken from such a machine is worth keeping.
    """
    around, results = surroundings(), list[Result]()
    runs = -(-LEAST_RUNS // len(around.cores)) if len(around.cores) < LEAST_RUNS else 1
    for number in range(max(2, runs)):
        for plan in TAKEN_FROM:
            told(f"{plan.kind}, run {number + 1} of {max(2, runs)}, on {len(around.cores)} cores")
            results += _results(plan, around)
    results += _of_cards(told)
    return by_majority(results)
