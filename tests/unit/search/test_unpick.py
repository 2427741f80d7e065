"""Which of many values moved together is it: found in few trials, also when failure is chance."""

from dataclasses import replace
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.knobs.timings.minima import check_timings
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.searches.search import Advice, Proposal, SearchGround, TrialFacts
from tenaz.core.trials.costs import costs_of
from tenaz.demo.ridge import ridge
from tenaz.orders.unpicking import unpick_between
from tenaz.search.positions import position
from tenaz.search.registry import strategy_of
from tenaz.search.strategies.unpick import spelled, targets
from tenaz.study.many.groups import Kind, unpicked
from tenaz.workshop.shop.shop import Workshop

COUNT = 16


@pytest.mark.parametrize(
    ("kind", "false_pass", "most"),
    [
        (Kind.ONE, 0.0, 6.5),
        (Kind.EITHER, 0.0, 10.0),
        (Kind.TOGETHER, 0.0, 12.0),
        (Kind.ONE, 0.1, 8.0),
        (Kind.EITHER, 0.1, 13.0),
        (Kind.TOGETHER, 0.1, 15.0),
    ],
)
def test_culprits_are_found_in_few_trials(kind: Kind, false_pass: float, most: float) -> None:
    found = [unpicked(kind, COUNT, false_pass, seed) for seed in range(40)]
    assert sum(one.trials for one in found) / 40 <= most
    assert sum(one.right for one in found) >= 38


RIG = ridge()
TO = {
    "t_cl_nck": 34, "t_rcd_nck": 33, "t_rp_nck": 33, "t_ras_nck": 66, "t_rc_nck": 99, "t_rtp_nck": 16, "t_cwl_nck": 32
}  # fmt: skip
HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)
KNOBS = tuple(RIG.knob(name) for name in TO)
GROUND = SearchGround(KNOBS, (0,) * len(KNOBS), RIG.stock, HOUR, costs_of(()), RIG.purpose)


def at(*moved: str) -> Setpoint:
    setpoint = RIG.stock
    for name in moved:
        setpoint = setpoint.replacing(name, TO[name])
    return setpoint


def seen(setpoint: Setpoint, failed: bool, seconds: float = 3600.0) -> TrialFacts:
    return TrialFacts(setpoint, HOUR, Verdict.FAIL if failed else Verdict.PASS, seconds, 60.0 if failed else None)


def stands(*trials: TrialFacts) -> Proposal | Advice:
    return position(strategy_of("unpick").begin(GROUND, {"to": spelled(TO)}), trials)


@pytest.mark.parametrize("culprit", ["t_rcd_nck", "t_rc_nck", "t_cl_nck"])
def test_every_sub_group_keeps_the_minima_and_any_trial_on_the_way_counts(culprit: str) -> None:
    usual = {one.name for setpoint in (at(), at(*TO)) for one in check_timings(setpoint.numbers(), Family.DDR5)}
    trials = [seen(at(*TO), True)]
    while isinstance(now := stands(*trials), Proposal):
        assert {one.name for one in check_timings(now.setpoint.numbers(), Family.DDR5)} <= usual
        trials.append(seen(now.setpoint, now.setpoint[culprit] == TO[culprit]))
        assert len(trials) < 14
    assert now.setpoint is not None
    assert now.setpoint[culprit] == RIG.stock[culprit]
    assert RIG.knob(culprit).label in now.reason
    # tCWL follows tCL by two clocks: no setpoint has the one without the other.
    assert ("one of tCL" in now.reason) is (culprit == "t_cl_nck")
    # Undone, or made by hand in another order: the same book, the same answer.
    again = stands(*reversed(trials))
    assert isinstance(again, Advice)
    assert again.setpoint == now.setpoint
    short = [replace(one, elapsed_s=60.0) if one.verdict is Verdict.PASS else one for one in trials]
    if culprit == "t_rcd_nck":
        assert isinstance(stands(*short), Proposal), "passes that were cut short show nothing"


def test_what_needs_no_unpicking_is_told() -> None:
    first = stands()
    assert isinstance(first, Proposal)
    assert first.setpoint == at(*TO)
    held = stands(seen(at(*TO), False))
    assert isinstance(held, Advice)
    assert "there is no culprit" in held.reason
    base = stands(seen(at(*TO), True), seen(at(), True))
    assert isinstance(base, Advice)
    assert base.setpoint is None
    again = [seen(at(*(name for name in TO if name != one)), False) for one in TO] * 3
    stray = stands(seen(at(*TO), True), *[seen(at(*TO), False)] * 4, *again)
    assert isinstance(stray, Advice)
    assert "stray failure" in stray.reason
    for text in ("t_cl_nck", "t_cl_nck=low"):
        with pytest.raises(Refused):
            targets(text)
    with pytest.raises(Refused, match="two or more"):
        unpick_between(at(), at("t_cl_nck"), HOUR, "", 0.1)


def test_on_a_simulated_rig_it_goes_from_a_failure_to_its_advice(book: Path) -> None:
    workshop = Workshop()
    workshop.open(book)
    workshop.store.rigs.put(ridge(7))
    workshop.do(o.ChooseRig("ridge"))
    moved = {"data_rate_mts": 7400, "t_wr_nck": 66, "t_rtp_nck": 16, "t_rrd_l_nck": 11, "t_wtr_l_nck": 20}
    failed = workshop.rig.stock
    for name, value in moved.items():
        failed = failed.replacing(name, value)
    workshop.do(o.StartTrial(failed, HOUR, "all at once"))
    workshop.running.wait()
    workshop.do(unpick_between(workshop.rig.stock, failed, HOUR, "as far as it goes", 0.1))
    workshop.running.wait()
    (search,) = workshop.store.searches.of("ridge")
    told = workshop.at.standing(search)
    workshop.close()
    assert isinstance(told, Advice)
    assert told.setpoint is not None
    assert told.setpoint["data_rate_mts"] == 4800
    assert told.setpoint["t_wr_nck"] == 66
    assert "data rate 7400 MT/s alone" in told.reason
