"""The table: every population with its cells, beside usual practice with its best fixed guard."""

from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass, replace

from tenaz.study.cells import Cell, PracticeRuns, Study, learnt_guard, practice_runs, strategy_cell
from tenaz.study.populations import HiddenPopulation

COMPARED_WITH = ("A", "B", "C", "wall")
SAFE_ENOUGH = 0.98
"""What the guard of a practice is chosen for, on the seeds for tuning."""
TUNED_FROM = 1_000_000
"""Seeds from here on are for tuning: the table's own are below."""
TUNED_ON = 1000
RIGS_OF_SIMULATED = 300


@dataclass(frozen=True, slots=True)
class Compared:
    """A strategy's cell beside practice: A, B, C and the wall alone, each with its best fixed guard (where rigs were
    climbed before: with the guard that these teach), and how many steps short of best each would be if it were as safe
    as the strategy.
    """

    cell: Cell
    practices: tuple[Cell, ...] = ()
    short_as_safe: tuple[tuple[str, float], ...] = ()

    def hours_against(self, practice: str) -> float | None:
        """Hours as a part of the practice's; None where it was not played."""
        found = next((one for one in self.practices if one.strategy == practice), None)
        return None if found is None else self.cell.hours / found.hours

    def short_against(self, practice: str) -> float | None:
        """Steps short of best as a part of the practice's at equal safety."""
        found = dict(self.short_as_safe).get(practice)
        return None if not found or found <= 0 else self.cell.short_steps / found


def compared(
    population: HiddenPopulation,
    strategies: Sequence[str],
    study: Study,
    told: Callable[[str], None],
    practices: Sequence[str] = COMPARED_WITH,
) -> list[Compared]:
    """All cells of one population; simulated rigs, which are slower to make, are fewer."""
    if population.rigs is not None:
        study = replace(study, rigs=min(study.rigs, RIGS_OF_SIMULATED))
    runs = {}
    for practice in practices:
        told(f"{population.name}: practice {practice}")
        runs[practice] = practice_runs(population, practice, study)
    guard = learnt_guard if study.past else _best_guard
    guards = {name: guard(population, name, study) for name in practices}
    found = []
    for strategy in strategies:
        cell = strategy_cell(
            population,
            strategy,
            study,
            lambda done, of, s=strategy: told(f"{population.name}: {s} {done} of {of}"),  # type: ignore[misc]
        )
        found.append(
            Compared(
                cell,
                tuple(runs[name].guarded(guards[name]) for name in practices),
                tuple((name, runs[name].short_at(cell.safe)) for name in practices),
            )
        )
    return found


def _best_guard(population: HiddenPopulation, practice: str, study: Study) -> int:
    tuning = replace(study, first_seed=TUNED_FROM + study.first_seed, rigs=min(study.rigs, TUNED_ON))
    runs: PracticeRuns = practice_runs(population, practice, tuning)
    return runs.least_guard(SAFE_ENOUGH).guard_steps or 0


def rows(table: Sequence[Compared]) -> list[dict[str, object]]:
    """As plain values, a row a cell: for CSV and JSON."""
    found: list[dict[str, object]] = []
    for one in table:
        ratios: dict[str, object] = {}
        for name in COMPARED_WITH:
            hours, short = one.hours_against(name), one.short_against(name)
            ratios[f"hours_against_{name.lower()}"] = None if hours is None else round(hours, 4)
            ratios[f"short_against_{name.lower()}_as_safe"] = None if short is None else round(short, 4)
        found.append({**_plain(one.cell), **ratios})
        found += [{**_plain(cell), **dict.fromkeys(ratios)} for cell in one.practices]
    return found


def _plain(cell: Cell) -> dict[str, object]:
    plain = asdict(cell)
    quarters = plain.pop("covered_by_slope")
    rounded = {key: round(value, 5) if isinstance(value, float) else value for key, value in plain.items()}
    for k in range(4):
        rounded[f"covered_quarter_{k + 1}"] = round(quarters[k], 5) if k < len(quarters) else None
    return rounded
