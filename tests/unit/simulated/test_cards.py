"""The simulated card: it fails where its own loads look, and its supply feels it."""

from dataclasses import replace

import numpy as np
import pytest

from tenaz.benches.simulated.bench import simulated_bench
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.parsing import parse_load
from tenaz.core.ports.bench import Bench
from tenaz.core.rigs.felt import asked_along, felt, kind_for
from tenaz.core.sensors.telemetry import Guards, SensorKind
from tenaz.demo.hut import hut
from tenaz.demo.ridge import ridge
from tenaz.finding.prints.suspicion import Circumstances
from tenaz.pictures.prints.cells import draw_prints
from tenaz.pictures.prints.model import prints_picture
from tenaz.simulated.machine import LoadMix
from tenaz.simulated.made.scenarios import scenario, state_of
from tests.unit.benches.test_simulated import Watch
from tests.unit.simulated.test_machine import machine

CORE, MEMORY = "graphics_core_offset_mhz", "graphics_memory_offset_mhz"
BEYOND = {CORE: 240, MEMORY: 1400}


def rate(at: Setpoint, *kinds: LoadKind, in_step: bool = False) -> float:
    """Failures an hour, as a natural logarithm."""
    one = machine()
    return float(one.log_rates(one.values(at), LoadMix(kinds, (None,) * len(kinds), in_step=in_step))[0])


@pytest.mark.parametrize(
    ("moved", "finds", "misses"),
    [
        (CORE, (LoadKind.PAINT, LoadKind.SHADE), (LoadKind.VRAM, LoadKind.TRANSFORM, LoadKind.MARCH)),
        (MEMORY, (LoadKind.PAINT, LoadKind.VRAM), (LoadKind.SHADE, LoadKind.TRANSFORM, LoadKind.MARCH)),
    ],
)
def test_a_card_beyond_its_edge_fails_under_what_looks_there(
    moved: str, finds: tuple[LoadKind, ...], misses: tuple[LoadKind, ...]
) -> None:
    at = ridge().stock.replacing(moved, BEYOND[moved])
    worst = {kind: rate(at, kind) for kind in (*finds, *misses)}
    assert min(worst[kind] for kind in finds) > max(worst[kind] for kind in misses) + 1.0
    assert max(rate(ridge().stock, kind) for kind in (*finds, *misses)) < np.log(1 / 100)
    knob = ridge().knob(moved)
    assert all(felt(knob, kind) is kind.declared.on_cards for kind in worst)
    assert kind_for(knob, ridge().purpose) is LoadKind.PAINT
    asked = dict(asked_along(knob, ridge().purpose).hours_asked)
    assert list(asked) == [LoadKind.PAINT]


def test_everything_at_once_and_in_step_draws_most_of_the_supply() -> None:
    stock, all_of_it = ridge().stock, (LoadKind.TRANSFORM, LoadKind.PAINT, LoadKind.SHADE)
    alone, steady, in_step = (
        rate(stock, LoadKind.TRANSFORM),
        rate(stock, *all_of_it),
        rate(stock, *all_of_it, in_step=True),
    )
    assert alone < steady < in_step


def bench_at(core_mhz: int, seed: int = 5) -> Bench:
    rig = replace(ridge(), seed=seed)
    state = state_of(scenario("ridge"), rig)
    return simulated_bench(rig, replace(state, in_force={**rig.stock.numbers(), CORE: core_mhz}))


def test_wrong_pictures_are_kept_and_drawn_with_their_shape() -> None:
    for seed in range(40):
        watch = Watch()
        report = bench_at(180, seed).loading.load(parse_load("paint 2h go on"), watch)
        if report.mismatches:
            break
    wrong = report.mismatches
    assert {one.card for one in wrong} == {0}
    assert {one.core for one in wrong} == {None}
    text = draw_prints(prints_picture("trial 1", wrong, Circumstances(60.0, (20.0, 80.0), 8)), 120, 40).text()
    assert "where in pictures of 2048²" in text
    assert "they look like a block" in text
    assert "█" in text
    assert "perhaps" not in text
    told = {sensor.guards: sensor.kind for sensor in watch.known}
    assert told[Guards.GRAPHICS] is SensorKind.TEMPERATURE


def test_a_card_that_goes_away_leaves_its_machine_standing() -> None:
    report = bench_at(330).loading.load(parse_load("shade 1h"), Watch())
    assert report.outcome in (Outcome.FROZE, Outcome.RESTARTED)
    assert report.detail.startswith("card 0 was lost")


def test_a_rig_without_a_card_says_how_it_gets_one() -> None:
    bench = simulated_bench(hut(), state_of(scenario("hut"), hut()))
    with pytest.raises(Refused, match="hut has no graphics card"):
        bench.loading.check(parse_load("transform 1h beside paint"))
    with pytest.raises(Refused, match="ridge has one graphics card, card 0"):
        bench_at(0).loading.check(parse_load("vram 1h card 1"))
