"""Scenarios, populations and addresses: what is read, what is refused, and that maps have a way back."""

import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.simulated.addresses import BANKS_A_GROUP, LINES_A_ROW, AddressMap, Rank
from tenaz.simulated.made.populations import population, population_names, read_population
from tenaz.simulated.made.scenarios import read_scenario, rig_of, scenario, scenario_names, state_of
from tenaz.simulated.physics.constants import TABLE
from tenaz.simulated.tables import constants_table, feeling_table, without_effect_table

SCENARIOS = Path(__file__).parents[3] / "src" / "tenaz" / "simulated" / "scenarios"
BLOCK = LINES_A_ROW * BANKS_A_GROUP * 8
ranks = st.lists(st.integers(1, 6), min_size=1, max_size=4)


@given(ranks, ranks, st.floats(0, 1, exclude_max=True), st.sampled_from([4, 8]))
def test_every_address_has_one_place_and_every_place_one_address(
    first: list[int], second: list[int], part: float, groups: int
) -> None:
    both = (*((0, size) for size in first), *((1, size) for size in second))
    mapped = AddressMap(tuple(Rank(m, 0, channel, size * BLOCK) for m, (channel, size) in enumerate(both)), groups)
    address = int(part * mapped.lines) * 64
    cell = mapped.cell(address)
    assert mapped.address(cell) == address
    assert cell.row < mapped.rows(cell.module)
    with pytest.raises(ValueError, match="no memory"):
        mapped.cell(mapped.lines * 64)


def test_neighbouring_lines_change_channels_and_banks() -> None:
    mapped = AddressMap((Rank(0, 0, 0, 64 * BLOCK), Rank(1, 0, 1, 64 * BLOCK)))
    cells = [mapped.cell(line * 64) for line in range(4096)]
    assert len({cell.module for cell in cells[:16]}) == 2
    assert len({(cell.group, cell.bank) for cell in cells}) > 4


def test_the_published_tables_are_those_of_the_model() -> None:
    page = (Path(__file__).parents[3] / "docs" / "simulated-rig.md").read_text()
    for table in (constants_table(), feeling_table(), without_effect_table()):
        assert table in page


def test_what_comes_along_is_whole_and_says_why() -> None:
    for name in population_names():
        one = population(name)
        assert one.whole
        assert one.about
        assert all(prior.why and prior.unit for prior in one.prior.values())
    for name in scenario_names():
        one = scenario(name)
        assert one.goal
        state = state_of(one, rig_of(one))
        assert state.population.family is rig_of(one).family
    assert all(one.unit and one.reason and one.source for one in TABLE.values())


@pytest.mark.parametrize(
    ("change", "told"),
    [
        (("cores = 6", "cores = 0"), r"line 32: Aguja A6: processor.cores: Input should be greater than or equal to 1"),
        (("base_mhz = 3200", "base_mhz = 9000"), r"highest_mhz 4400 lies below base_mhz 9000"),
        (('slot = "A2"', 'slot = "A1"'), r"slots: A1 is there twice"),
        (("gib = 16", "gib = 4096"), r"gib: Input should be less than or equal to 512"),
        (("t_cl_nck = 22", "t_cl_nck = 99"), r"sheet.t_cl_nck: tCL 99 nCK is not on its grid"),
        (("t_cl_nck = 22", "t_clx_nck = 22"), r"sheet.t_clx_nck: sled has no such knob"),
        (('"weak-region B1 x3"', '"weak-region Z1"'), r"faults: weak-region: no module sits in Z1"),
        (
            ('population = "field-ddr4"', 'population = "moon"'),
            r"there is no kind of rig 'moon'; there are: desktop-ddr5",
        ),
        (('population = "field-ddr4"', 'population = "desktop-ddr5"'), r"it is of DDR5, the rig has DDR4"),
        (("seed = 32", "seed = -1"), r"seed: Input should be greater than or equal to 0"),
        (('owner = "the', 'ower = "the'), r"ower: Extra inputs are not permitted"),
        (('adds = ["processor"]', 'adds = ["toaster"]'), r"adds"),
    ],
)
def test_an_impossible_scenario_names_file_field_range_and_reason(
    change: tuple[str, str], told: str, tmp_path: Path
) -> None:
    text = (SCENARIOS / "sled.toml").read_text()
    assert change[0] in text
    file = tmp_path / "bench.toml"
    file.write_text(text.replace(*change, 1))
    with pytest.raises(Refused) as refused:
        read_scenario(str(file))
    assert re.search(told, str(refused.value)), refused.value
    assert "bench.toml" in str(refused.value)


@pytest.mark.parametrize(
    ("text", "told"),
    [
        (
            "[prior.signal_mts]\nmean = 90000\nsd = 1\nunit = 'MT/s'\nwhy = 'x'",
            "mean 90000 MT/s is outside 1600 to 10000",
        ),
        ("[prior.core_mv]\nmean = 1000\nsd = 600\nunit = 'mV'\nwhy = 'x'", "sd 600 is too wide for a mean of 1000"),
        ("[prior.charm]\nmean = 1\nsd = 0\nunit = '1'\nwhy = 'x'", "prior charm is none; there are: access_floor_ns"),
        ("[manners]\ntail_slope = 0", "tail_slope: Input should be greater than 0"),
        ("[prior.core_mv]\nmean = nan\nsd = 1\nunit = 'mV'\nwhy = 'x'", "mean"),
    ],
)
def test_an_impossible_population_says_so(text: str, told: str, tmp_path: Path) -> None:
    file = tmp_path / "kind.toml"
    file.write_text(f"name = 'mine'\nbased_on = 'desktop-ddr5'\n{text}\n")
    with pytest.raises(Refused, match=told):
        read_population(str(file))
    file.write_text("name = 'mine'\nbased_on = 'desktop-ddr5'\n[manners]\nfrailty_folds = 0.5\n")
    mine = read_population(str(file))
    assert (mine.manners.frailty_folds, mine.prior) == (0.5, population("desktop-ddr5").prior)
    with pytest.raises(Refused, match="could not be read"):
        read_population(str(tmp_path / "none.toml"))
