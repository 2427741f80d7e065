"""A temperature held on purpose: the load pauses, or what runs beside it heats; and what is said of the warmest day."""

from dataclasses import replace

import pytest

from tenaz.benches.here import surroundings
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.text import load_text
from tenaz.core.loads.thermostat import Thermostat
from tenaz.core.rigs.rig import CLIENT
from tenaz.core.sensors.part import part_c
from tenaz.core.sensors.telemetry import Guards, SensorKind
from tenaz.core.trials.facts import LoadFacts, SensorFact
from tenaz.core.trials.index import TrialIndex
from tenaz.demo.ridge import ridge
from tenaz.loads.run import LoadRun
from tenaz.margins.safety import safety_of
from tenaz.simulated.machine import LoadMix
from tenaz.simulated.physics.course import HeldAt, course_of
from tenaz.study.populations import RigsEntry
from tenaz.study.simulated_rigs import made
from tests.make import trial


@pytest.mark.parametrize("beside", [False, True])
def test_a_part_settles_where_it_is_held_and_what_runs_beside_pauses_first(beside: bool) -> None:
    held, celsius, own = Thermostat(50.0, beside), 25.0, list[float]()
    # Alone the load settles at 65 °C; with what heats beside it at 70, without that at 45.
    for _ in range(3600):
        duty = held.look(celsius, 1.0)
        own.append(duty.own)
        heat = 20.0 * duty.own + 25.0 * duty.beside if beside else 40.0 * duty.own
        celsius += (25.0 + heat - celsius) / 120.0
    assert celsius == pytest.approx(50.0, abs=1.0)
    assert "held at" in held.told
    assert (min(own[1200:]) == 1.0) is beside
    cold = Thermostat(60.0, False)
    for _ in range(60):
        assert cold.look(40.0, 1.0).own == 1.0
    assert "not reached: 40 °C" in cold.told


def test_it_is_typed_and_shown_and_what_heats_shows_nothing_of_its_own() -> None:
    plan = parse_load("march 1h at 60 °C beside transform 1 worker")
    assert plan.warm_c == 60.0
    assert plan == parse_load(load_text(plan)) == parse_load(plan.show())
    assert plan.kinds == (LoadKind.MARCH,)
    with pytest.raises(Refused, match="25 to 105"):
        parse_load("march 1h 300C")


@pytest.mark.loading
def test_pauses_are_no_time_under_load() -> None:
    notes: list[str] = []
    plan = parse_load("transform 1s 1 worker 50C")
    report = LoadRun(plan, surroundings(), on_note=notes.append, part_c=lambda: 90.0).run()
    assert report.outcome is Outcome.HELD
    assert 0.9 <= report.elapsed_s < 1.5
    assert notes == ["50 °C was asked for; it stayed warmer, 90 °C at the end"]


def test_the_part_that_is_strained_is_what_is_looked_at() -> None:
    read = [(Guards.PROCESSOR, 80.0), (Guards.MODULE, 50.0), (Guards.MODULE, 55.0), (Guards.BOARD, 35.0)]
    assert (part_c(read, Strains.MEMORY), part_c(read, Strains.CPU)) == (55.0, 80.0)
    assert part_c(read[:1], Strains.MEMORY) is None


def test_a_simulated_module_is_held() -> None:
    rig, machine = made(RigsEntry(like="ridge", knob=""), 5)
    both = LoadMix((LoadKind.MARCH, LoadKind.TRANSFORM), (0.5, None))
    free, held = (
        course_of(machine, machine.values(rig.stock), both, 3600.0, held=at)
        for at in (None, HeldAt(44.0, modules=True, beside=True))
    )
    assert free.modules_c[-1].max() > 45.0
    assert held.modules_c[-1].max() == pytest.approx(44.0, abs=0.2)
    assert held.expected[-1] <= free.expected[-1]


def test_a_day_that_is_warmer_than_any_trial_is_told_until_it_was_tried_as_warm() -> None:
    rig = replace(ridge(), purpose=replace(CLIENT, warmest_room_c=58.0, hours_asked=((LoadKind.MARCH, 1.0),)))

    def words(room_c: float | None) -> str:
        warm = SensorFact("spd5118/temp1", "spd5118 temp1", SensorKind.TEMPERATURE, 46.0, 45.0, Guards.MODULE)
        facts, tried = LoadFacts(sensors=(warm,), room_c=room_c), []
        for number, value in enumerate((40, 38, 36, 35, 34, 33), 1):
            held, at = value > 35, rig.stock.replacing("t_cl_nck", value)
            ran = {"elapsed_s": 72_000.0} if held else {"elapsed_s": 20.0, "failed_after_s": 20.0}
            outcome = Outcome.HELD if held else Outcome.ERRED
            tried.append(trial(outcome, at, id=number, number=number, facts=facts, **ran))
        return "; ".join(safety_of(rig, rig.stock, TrialIndex(tried)).not_shown)

    assert "a day of 58 °C, 48 K warmer" in words(10.0)
    assert "how warm the room is" in words(None)
    assert "a day of" not in words(58.0)
