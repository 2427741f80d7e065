"""The study: hidden rigs, practice, cells, and the table in all its forms."""

import csv
import json
from pathlib import Path

import pytest

from tenaz.core.base.errors import Refused
from tenaz.core.base.tolerance import Tolerance
from tenaz.margins.priors import read_prior
from tenaz.study.cells import Study, hidden_rig, practice_runs
from tenaz.study.hidden import DrawnRig, try_there
from tenaz.study.learning import KINDS, as_toml, learnt
from tenaz.study.populations import population_names, read_population
from tenaz.study.table import compared
from tenaz.study.writing import write_study

FEW = Study(Tolerance(1, 1000, 0.95), rigs=8, first_seed=50)


@pytest.mark.parametrize("name", population_names())
def test_every_population_hides_the_same_rig_for_the_same_seed_and_an_edge(name: str) -> None:
    population = read_population(name)
    one, again = (hidden_rig(population, 3) for _ in range(2))
    base = one.knob.strain(one.base.number(one.knob.name))
    nowhere = population.background_per_h > 0.001
    assert one.edge(-6.9) == again.edge(-6.9) > (base - 30 if not nowhere else -1000)
    assert one.edge(0.0) >= one.edge(-6.9)
    assert [try_there(one, base + k, 1.0, 0.0) for k in range(6)] == [
        try_there(again, base + k, 1.0, 0.0) for k in range(6)
    ]


def test_wrong_models_are_wrong_in_the_way_they_say() -> None:
    def first_failures(name: str, **changed: object) -> list[float]:
        rig = DrawnRig(read_population(name).model_copy(update=changed), 1)
        at = rig.knob.strain(rig.knob.at_strain(int(rig.edge(0.0))))
        return sorted(rig.fails_after_h(at, 0.0) for _ in range(400))

    usual, early, late = (first_failures("p", shape=shape) for shape in (1.0, 0.7, 1.5))
    assert early[20] < usual[20] < late[20]
    drift = DrawnRig(read_population("drift"), 2)
    assert drift.edge(-6.9) == pytest.approx(DrawnRig(read_population("p"), 2).edge(-6.9) - 0.72)
    flat, p = DrawnRig(read_population("flat-tail"), 2), DrawnRig(read_population("p"), 2)
    assert flat.edge(0.0) == p.edge(0.0)
    assert flat.edge(-6.9) < p.edge(-6.9)


def test_a_practice_is_as_safe_as_its_guard_is_wide() -> None:
    runs = practice_runs(read_population("p"), "B", FEW)
    cells = [runs.guarded(steps) for steps in (0, 10, 20)]
    assert [cell.safe for cell in cells] == sorted(cell.safe for cell in cells)
    assert cells[2].safe == 1.0
    assert cells[2].short_steps == pytest.approx(cells[0].short_steps + 20)
    assert runs.least_guard(1.0).safe == 1.0
    assert runs.short_at(1.0) <= cells[2].short_steps


def test_the_table_stands_in_every_form_and_says_its_seeds(tmp_path: Path) -> None:
    heard: list[str] = []
    table = compared(read_population("p"), ["stride"], FEW, heard.append, practices=("A", "wall"))
    (one,) = table
    assert one.cell.rigs == 8
    assert one.hours_against("A") is not None
    assert any("8 of 8" in line for line in heard)
    for ending in (".csv", ".json", ".md", ".svg", ".pdf"):
        write_study(tmp_path / f"study{ending}", table, FEW)
    rows = list(csv.DictReader((tmp_path / "study.csv").open()))
    assert [row["strategy"] for row in rows] == ["stride", "A", "wall"]
    assert {row["first_seed"] for row in rows[:1]} == {"50"}
    assert json.loads((tmp_path / "study.json").read_text())["study"]["first_seed"] == 50
    assert "Seeds from 50 on" in (tmp_path / "study.md").read_text()
    with pytest.raises(Refused, match="ending in"):
        write_study(tmp_path / "study.txt", table, FEW)


def test_populations_from_files_are_looked_over(tmp_path: Path) -> None:
    path = tmp_path / "mine.toml"
    path.write_text('name = "mine"\nslope = { low = 2.0, high = 1.0 }\n')
    with pytest.raises(Refused, match=r"mine\.toml"):
        read_population(str(path))
    path.write_text('name = "mine"\nx_star = { low = 10, high = 12 }\n')
    assert read_population(str(path)).x_star.high == 12
    with pytest.raises(Refused, match=r"there is no population 'q'; there are: .*flat-tail"):
        read_population("q")


def test_a_prior_is_learnt_and_written_as_it_is_read(tmp_path: Path) -> None:
    prior = learnt(KINDS[0], range(2_000_000, 2_000_012), lambda _: None)
    assert prior is not None
    path = tmp_path / "data-rate.toml"
    path.write_text(as_toml(prior))
    assert read_prior(str(path)) == prior
    assert 5 < prior.slope.low < prior.slope.high < 400
