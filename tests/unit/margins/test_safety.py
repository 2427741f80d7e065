"""One verdict for a setpoint: the worst of all lines and loads, the same from everywhere; never tried is not known."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tenaz.core.base.outcomes import Outcome
from tenaz.core.base.tolerance import TOLERANCE
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import OWN
from tenaz.core.trials.trial import Trial
from tenaz.margins.safety import safety_of
from tenaz.pictures.margins.build import margins_picture
from tenaz.pictures.margins.cells import draw_margins
from tests.make import RIG, indexed, trial

MARCH, TRANSFORM = LoadKind.MARCH, LoadKind.TRANSFORM
MARCH_ONLY = replace(RIG, purpose=replace(OWN, hours_asked=((MARCH, 1.0),)))
BOTH = replace(RIG, purpose=replace(OWN, hours_asked=((MARCH, 1.0), (TRANSFORM, 0.5)), tolerance=TOLERANCE))


def ran(number: int, outcome: Outcome, kind: LoadKind = MARCH, hours: float = 1.0, **values: int) -> Trial:
    at = RIG.stock
    for knob, value in values.items():
        at = at.replacing(knob, value)
    plan = LoadPlan(kind, duration_s=hours * 3600)
    return trial(outcome, at, number=number, plan=plan, elapsed_s=hours * 3600 if outcome is Outcome.HELD else 200.0)


RATES = [ran(k, Outcome.HELD, data_rate_mts=rate) for k, rate in enumerate((4800, 5200, 5600, 6000), 1)]
FAILED = ran(9, Outcome.ERRED, data_rate_mts=6400)
LATENCIES = [ran(20 + k, Outcome.HELD, hours=4, data_rate_mts=5200, t_cl_nck=t_cl) for k, t_cl in enumerate((38, 36))]


def test_the_worst_line_holds_it_back_and_what_was_never_tried_is_not_known() -> None:
    trials = indexed([*RATES, FAILED, *LATENCIES, ran(30, Outcome.ERRED, data_rate_mts=5200, t_cl_nck=34)])
    at = RIG.stock.replacing("data_rate_mts", 5200)
    found = safety_of(MARCH_ONLY, at, trials)
    sures = {one.knob.name: one.sure for one in found.lines}
    assert set(sures) == {"data_rate_mts", "t_cl_nck"}
    assert len(set(sures.values())) == 2
    assert found.sure == min(sures.values())
    assert found.held_back is not None
    assert found.held_back.knob.name == min(sures, key=lambda name: sures[name])
    for untried in (
        at.replacing("memory_vdd_mv", 1350), RIG.stock.replacing("t_cl_nck", 30), at.replacing("data_rate_mts", 7200),
        at.replacing("t_cl_nck", 42),
    ):  # fmt: skip
        unknown = safety_of(MARCH_ONLY, untried, trials)
        past_a_failure = untried["data_rate_mts"] == 7200
        assert (unknown.sure is None) is not past_a_failure
        assert not unknown.safe
        assert not past_a_failure or (unknown.sure is not None and unknown.sure < 0.01)
    assert safety_of(MARCH_ONLY, at.replacing("memory_vdd_mv", 1350), trials).words == "not known: never tried"


def test_every_load_that_is_asked_for_is_judged_and_named() -> None:
    at = RIG.stock.replacing("data_rate_mts", 5000)
    under_march = [*RATES, FAILED, *(ran(10, Outcome.HELD, hours=8, data_rate_mts=rate) for rate in (5000, 5600, 6000))]
    alone = safety_of(BOTH, at, indexed(under_march))
    assert alone.sure is None
    assert alone.words == "not known: transform not tried as far"
    there = [*under_march, ran(11, Outcome.HELD, TRANSFORM, 0.5, data_rate_mts=5000)]
    proven = safety_of(BOTH, at, indexed(there))
    assert proven.sure is not None
    assert not proven.safe
    assert proven.why == "held back by data rate under transform"
    assert proven.held_back is not None
    assert proven.held_back.further(TRANSFORM) == (6000, 0.0)
    further = safety_of(BOTH, at, indexed([*there, ran(12, Outcome.HELD, TRANSFORM, 0.4, data_rate_mts=6000)]))
    assert further.sure is not None
    assert further.sure > proven.sure


@given(in_hand=st.sampled_from([knob.name for knob in RIG.knobs]))
@settings(max_examples=20)
def test_it_does_not_depend_on_what_is_in_hand_and_no_line_is_surer(in_hand: str) -> None:
    trials = indexed([*RATES, FAILED, *LATENCIES])
    at = RIG.stock.replacing("data_rate_mts", 5200)
    picture = margins_picture(MARCH_ONLY, at, trials)
    assert picture.safety is safety_of(MARCH_ONLY, at, trials), "judged once, for whoever asks"
    assert picture.safety.brief in draw_margins(picture, 120, 40, in_hand).text()
    assert all(row.sure is None or row.sure >= (picture.safety.sure or 0.0) for row in picture.rows)


@pytest.mark.parametrize("outcome", [Outcome.ERRED, Outcome.NO_BOOT])
def test_one_more_trial_is_seen_at_once(outcome: Outcome) -> None:
    trials, at = indexed([*RATES, FAILED]), RIG.stock.replacing("data_rate_mts", 4800)
    before = safety_of(MARCH_ONLY, at, trials)
    trials.put(ran(40, outcome, data_rate_mts=4800))
    after = safety_of(MARCH_ONLY, at, trials)
    assert after.failed
    assert not after.safe
    assert (after.sure or 0.0) < (before.sure or 0.0)
