"""Setpoints, brackets, evidence, what is in force, and what people type."""

import math
import random
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.base.typed import parse_duration_s, parse_hours, parse_share
from tenaz.core.evidence.bracket import bracket_of
from tenaz.core.evidence.owing import still_owed
from tenaz.core.evidence.shown import KindEvidence, evidence_at, poisson_limit
from tenaz.core.knobs.setpoint import AUTO, Change, Setpoint
from tenaz.core.loads.fields import LoadFact
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import CacheLevel, DataKind, LoadKind, LoadPlan, MarchMode, show_clock, show_duration
from tenaz.core.loads.programs import parse_program, program_text
from tenaz.core.loads.reach import Reach
from tenaz.core.loads.routines import ROUTINES, parse_routine
from tenaz.core.rigs.rig import GUARANTEED, BenchKind
from tenaz.core.trials.costs import costs_of
from tenaz.core.trials.facts import LoadFacts, StationFact, facts_by_lanes
from tenaz.core.trials.in_force import counting_on, setpoint_in_force
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tests.make import HOUR, RATE, RIG, indexed, trial


def test_a_setpoint_never_changes_and_compares_by_values() -> None:
    faster = RIG.stock.replacing("data_rate_mts", 5000)
    assert RIG.stock["data_rate_mts"] == 4800
    assert faster.changes_from(RIG.stock) == (Change("data_rate_mts", 4800, 5000),)
    assert faster.replacing("data_rate_mts", 4800) == RIG.stock
    assert Setpoint.of(dict(reversed(RIG.stock.items_by_name))) == RIG.stock
    assert hash(Setpoint.of(dict(reversed(RIG.stock.items_by_name)))) == hash(RIG.stock)
    assert faster.line_key("data_rate_mts") == RIG.stock.line_key("data_rate_mts"), "on one line"
    assert faster.line_key("t_cl_nck") != RIG.stock.line_key("t_cl_nck")
    assert faster["t_no_such_nck"] is AUTO, "what is not named is automatic"
    assert faster.replacing("t_no_such_nck", AUTO) == faster
    assert faster.replacing("t_no_such_nck", 3) != faster
    with pytest.raises(Refused, match="on auto"):
        faster.number("t_no_such_nck")


def test_a_rig_names_its_knobs_when_asked_for_another() -> None:
    assert RIG.knob("data-rate") is RIG.knob("data rate") is RIG.knob("DATA_RATE_MTS") is RATE
    for spelled in ("t-cl", "tCL", "CL", "t_cl", "T_CL_NCK"):
        assert RIG.knob(spelled).name == "t_cl_nck"
    assert (RIG.knob("fabric clock").name, RIG.knob("faw").name) == ("fabric_mhz", "t_faw_nck")
    with pytest.raises(Refused, match=r"has no knob 't rdc nck'; near it: .*t_rcd_nck"):
        RIG.knob("t rdc nck")
    assert RIG.knob("trfc").name == "t_rfc1_nck", "the trade's word for it"
    with pytest.raises(Refused, match=r"no knob 'rfc'; near it: t_rfc1_nck, t_rfc2_nck, t_rfcsb_nck"):
        RIG.knob("rfc")


@given(st.lists(st.tuples(st.sampled_from(list(RATE.grid.values())), st.sampled_from(Verdict)), max_size=30))
def test_the_bracket_lies_between_what_held_and_what_failed(results: list[tuple[int, Verdict]]) -> None:
    bracket = bracket_of(RATE, results)
    failed = [RATE.strain(v) for v, verdict in results if verdict is Verdict.FAIL]
    passed = [RATE.strain(v) for v, verdict in results if verdict is Verdict.PASS]
    assert (bracket.failed is None) == (not failed)
    if bracket.failed is not None:
        assert RATE.strain(bracket.failed) == min(failed)
    if bracket.held is not None:
        assert RATE.strain(bracket.held) in passed
        assert not failed or RATE.strain(bracket.held) < min(failed)
    else:
        assert all(failed and p >= min(failed) for p in passed)


def test_evidence_adds_up_by_kind_and_says_what_is_owed() -> None:
    trials = [
        trial(Outcome.HELD),
        trial(Outcome.HELD),
        trial(Outcome.HELD, plan=LoadPlan(LoadKind.TRANSFORM, duration_s=4 * 3600), elapsed_s=4 * 3600.0),
        trial(Outcome.STOPPED),
        trial(Outcome.LOST),
        trial(Outcome.FROZE, RIG.stock.replacing("data_rate_mts", 5000)),
        trial(None),
    ]
    index = indexed(trials)
    evidence = evidence_at(RIG.stock, index, RIG)
    march, transform = evidence.kinds
    assert (march.passed, march.failed, march.hours, march.hours_owed) == (2, 0, 3.0, 5.0), "with the one stopped"
    assert transform.hours_owed == 0.0
    assert evidence.voids == 1
    # No failure in T hours: below −ln(0.025)/T at 97.5 %; the rest of the doubt went to the failure at a harder value.
    assert march.hazard_bound_per_h() == pytest.approx(3.68888 / 3, rel=1e-4)
    assert KindEvidence(LoadKind.MARCH, 2, 0, 3.0, 8.0, exposed_hours=3.0).hazard_bound_per_h() == pytest.approx(
        2.9957 / 3, rel=1e-4
    ), "−ln(0.05)/T where nothing harder was tried"
    failed = evidence_at(RIG.stock.replacing("data_rate_mts", 5000), index, RIG)
    assert failed.failed == 1
    assert failed.kinds[0].hazard_bound_per_h() == pytest.approx(4.74386, rel=1e-4), (
        "χ²(.95; 4)/2 in the hour until it froze"
    )


@pytest.mark.parametrize(
    ("failures", "limit"), [(0, 2.99573), (1, 4.74386), (2, 6.29579), (10, 16.9622), (100, 118.079)]
)
def test_the_bound_after_failures_is_the_exact_one_of_poisson(failures: int, limit: float) -> None:
    # Half the χ² quantiles of the published tables.
    assert poisson_limit(failures) == pytest.approx(limit, rel=1e-4)


def facts(share: float, covered: float = 1.0, mode: MarchMode = MarchMode.CACHED) -> LoadFacts:
    return LoadFacts((LoadFact(LoadKind.MARCH, 3600.0, covered=covered, share=share, mode=mode),))


def test_hours_count_for_what_was_reached_and_less_is_told_with_its_reason() -> None:
    both = LoadPlan(LoadKind.MARCH, duration_s=3600, beside=(LoadPlan(LoadKind.TRANSFORM),))
    harder = RIG.stock.replacing("data_rate_mts", 5000)
    trials = [
        trial(Outcome.ERRED, plan=both, failed_after_s=360.0),
        trial(Outcome.HELD, facts=facts(0.9, 0.14)),
        trial(Outcome.HELD, facts=facts(0.02)),
        trial(Outcome.HELD, facts=facts(0.9)),
        trial(Outcome.HELD, harder, elapsed_s=7200.0, facts=facts(0.9)),
        trial(Outcome.HELD, harder, elapsed_s=7200.0, facts=facts(0.1)),
        trial(Outcome.HELD, fitted="A2 another module"),
    ]
    fitted = replace(RIG, purpose=replace(GUARANTEED, reach_asked=((LoadKind.MARCH, Reach(share=0.8)),)))
    index = indexed(trials, fitted.fitted)
    evidence = evidence_at(RIG.stock, index, fitted)
    march, transform = (one for one in evidence.kinds if one.kind in (LoadKind.MARCH, LoadKind.TRANSFORM))
    assert (evidence.failed, march.failed, transform.failed, evidence.before) == (1, 1, 1, 1)
    assert (march.hours, march.exposed_hours, march.harder_hours) == (1.0, 1.1, 2.0)
    assert [one.short_of for one in march.partial] == ["13% of memory, 80% asked", "2% of memory, 80% asked"]
    assert march.owed == LoadPlan(LoadKind.MARCH, duration_s=7 * 3600, share=0.8)
    # One failure in all that was exposed here and at harder values, with half the doubt: χ²(.975; 4)/2.
    assert march.hazard_bound_per_h() == pytest.approx(5.57164 / 3.1, rel=1e-4)
    assert not evidence.shown
    blocks = Reach(share=0.5, mode=MarchMode.BLOCKS)
    assert Reach(share=0.9, mode=MarchMode.FLUSHED).short_of(blocks) == "flushed, blocks asked"
    assert not Reach(share=0.5, mode=MarchMode.BLOCKS).short_of(blocks)


def test_a_program_counts_for_what_it_is_said_to_strain_and_as_told() -> None:
    plan = parse_program("program 2h as=march,single-core: some memory test")
    assert parse_program(program_text(plan)) == plan
    assert plan.kinds == (LoadKind.PROGRAM, LoadKind.MARCH, LoadKind.SOLO)
    ran = LoadFacts(facts_by_lanes(plan, 7200.0, ()))
    evidence = evidence_at(RIG.stock, indexed([trial(Outcome.HELD, plan=plan, elapsed_s=7200.0, facts=ran)]), RIG)
    hours = {one.kind: (one.hours, one.told_hours) for one in evidence.kinds if one.hours}
    assert hours == {LoadKind.MARCH: (2.0, 2.0), LoadKind.SOLO: (2.0, 2.0)}
    with pytest.raises(Refused, match="Near it: checker"):
        parse_program("program as=chekker: x")


def test_trials_are_found_by_setpoint_and_line_and_move_when_it_is_known_where_they_ran() -> None:
    at = [4800, 5000, 5000, 5200]
    trials = [
        trial(Outcome.HELD, RIG.stock.replacing("data_rate_mts", rate), id=k, number=k) for k, rate in enumerate(at, 1)
    ]
    aside = trial(Outcome.HELD, RIG.stock.replacing("t_cl_nck", 38), id=9, number=9)
    index = TrialIndex([*trials, aside])
    assert [one.id for one in index.at(trials[1].setpoint)] == [2, 3]
    assert [one.id for one in index.along(RIG.stock, "data_rate_mts")] == [1, 2, 3, 4]
    assert [one.id for one in index.along(RIG.stock, "t_cl_nck")] == [1, 9]
    index.put(replace(trials[3], setpoint=RIG.stock))
    assert [one.id for one in index.at(RIG.stock)] == [1, 4]
    assert index.at(RIG.stock.replacing("data_rate_mts", 5200)) == ()
    assert (index.newest, len(index)) == (aside, 5)
    index.fitted = "another module"
    index.put(trial(Outcome.HELD, RIG.stock, id=10, number=10, fitted="the module before"))
    assert [one.id for one in index.at(RIG.stock)] == [1, 4]
    assert ([one.id for one in index.before], index.newest and index.newest.id) == ([10], 10)
    assert index.in_force(trials[1].setpoint) == RIG.stock, "the firmware does not forget with the module"


def test_costs_are_medians_of_what_was_measured_with_usual_ones_until_there_are_three() -> None:
    def booted(number: int, seconds: float, move: Move = Move.CAME_UP, **fields: object) -> Trial:
        return trial(
            Outcome.HELD, stations=(StationFact(Station.BOOT, move, seconds),), id=number, number=number, **fields
        )

    few = [booted(1, 60.0), booted(2, 70.0)]
    assert costs_of(few).measured == ()
    known = costs_of([*few, booted(3, 200.0), booted(4, 500.0, Move.STAYED_DOWN)])
    assert (known.boot_s, known.failed_boot_s, known.measured) == (70.0, 480.0, ("boot_s",))


def test_what_is_in_force_follows_the_trials() -> None:
    faster, slower = RIG.stock.replacing("data_rate_mts", 6000), RIG.stock.replacing("data_rate_mts", 5600)
    history = [trial(Outcome.HELD, slower), trial(Outcome.FROZE, faster)]
    assert setpoint_in_force([], RIG.stock) == RIG.stock
    assert setpoint_in_force(history, RIG.stock) == faster
    assert setpoint_in_force([*history, trial(Outcome.STOPPED, slower, entered=False)], RIG.stock) == faster
    assert setpoint_in_force([*history, trial(Outcome.NO_BOOT, slower)], RIG.stock) == RIG.stock
    mixed = [*history, trial(Outcome.HELD, bench=BenchKind.SIM)]
    assert counting_on(BenchKind.HERE, mixed) == tuple(history)
    assert counting_on(BenchKind.SIM, mixed) == (mixed[-1],)


@pytest.mark.parametrize(
    ("text", "seconds"), [("90", 90), ("90s", 90), ("10m", 600), ("1h30m", 5400), ("1.5h", 5400), ("2 d", 172800)]
)
def test_durations(text: str, seconds: float) -> None:
    assert parse_duration_s(text) == seconds
    assert parse_hours(text) == pytest.approx(90 if text == "90" else seconds / 3600)


@pytest.mark.parametrize("text", ["", "soon", "h", "10x", "-5m", "0", "1h-3m"])
def test_no_durations(text: str) -> None:
    with pytest.raises(Refused):
        parse_duration_s(text)


@pytest.mark.parametrize(("text", "share"), [("50%", 0.5), ("0.5", 0.5), ("100 %", 1.0), ("12.5%", 0.125)])
def test_shares(text: str, share: float) -> None:
    assert parse_share(text) == share


@pytest.mark.parametrize("text", ["0", "120%", "half", "50", "-1%"])
def test_no_shares(text: str) -> None:
    with pytest.raises(Refused, match="like 50%"):
        parse_share(text)


def test_a_load_in_one_line() -> None:
    plan = parse_load("transform 10m L3 go on", HOUR)
    assert plan == LoadPlan(LoadKind.TRANSFORM, 600, level=CacheLevel.L3, stop_at_first_error=False)
    assert parse_load("but 2 laps 25%", HOUR) == LoadPlan(LoadKind.MARCH, None, 2, 0.25)
    assert parse_load("march until stopped", HOUR).duration_s is None
    assert parse_load("", HOUR) == HOUR
    crew = parse_load("march 1 lap 2 workers", HOUR)
    assert (crew.laps, crew.workers, crew.show()) == (1, 2, "march for 1 lap, 50% of memory, 2 workers")
    march = parse_load("march ss blocks hash 2 GiB cores 0,2-4 one thread 1h", HOUR)
    assert (march.test, march.mode, march.data, march.size_bytes) == ("SS", MarchMode.BLOCKS, DataKind.HASH, 2 << 30)
    assert (march.cores, march.siblings) == ((0, 2, 3, 4), False)
    assert march.show() == "march for 1h, 2 GiB, SS, hash, blocks, cores 0,2,3,4, one thread a core"
    own = parse_load("march {⇕(w0); ⇑(r0,w1)} 10m", HOUR)
    assert (own.test, own.duration_s) == ("{⇕(w0); ⇑(r0,w1)}", 600)
    walk = parse_load("transform L1-memory beside checker 25% 1 worker", HOUR)
    assert (walk.level, walk.level_to, walk.kinds) == (
        CacheLevel.L1, CacheLevel.MEMORY, (LoadKind.TRANSFORM, LoadKind.CHECKER)
    )  # fmt: skip
    assert walk.show() == "transform for 1h, in L1 to memory beside checker, 25% of memory, 1 worker"
    assert parse_load("retain wait 10m", HOUR).show() == "retain for 1h, 50% of memory, waiting 10m"
    assert parse_load("pulse 50 Hz", HOUR).pulse_hz == 50
    for anew in ("march 1h", "march 1h beside copy 5m"):
        assert replace(parse_load(anew, own), beside=()) == HOUR, "a load said anew begins from what is usual"
    assert parse_load("but 5m", own) == replace(own, duration_s=300)
    assert parse_load("but 5m", walk).beside == walk.beside
    for wrong, word in (
        ("25%", "names no load.*but 25%"),
        ("march 10m; permute 5m", "a routine. In the workbench T"),
        ("quick 10m", "'quick'"),
        ("march 0 laps", "0 laps"),
        ("march 0%", "0%"),
        ("solo cores x", "no cores"),
        ("copy 0 gib", "no amount"),
        ("copy ss", "a march test means nothing to copy: it takes a share of memory"),
        ("solve L2", "a cache level .L2. means nothing to solve: it takes nothing but how long"),
        ("digest wait 5m", "a wait means nothing to digest"),
    ):
        with pytest.raises(Refused, match=word):
            parse_load(wrong, HOUR)


def test_a_routine_by_name_or_of_ones_own() -> None:
    for name, routine in ROUTINES.items():
        assert parse_routine(name.upper()) is routine
        assert routine.length_s is not None
        assert all(
            parse_load(plan.show().split(",")[0].replace(" for ", " "), HOUR).kind is plan.kind
            for plan in routine.plans
        )
    braced = parse_routine("march {any(w0); up(r0,w1)} 10m; permute 5m")
    assert [plan.test for plan in braced.plans] == ["{any(w0); up(r0,w1)}", "C-"]
    own = parse_routine("march 10m; permute 5m; digest until stopped")
    assert [(plan.kind, plan.duration_s) for plan in own.plans] == [
        (LoadKind.MARCH, 600), (LoadKind.PERMUTE, 300), (LoadKind.DIGEST, None)
    ]  # fmt: skip
    for wrong, told in (
        ("", "name a routine"),
        ("march until stopped; copy 1m", "only be the last"),
        ("soke", "'soke'"),
    ):
        with pytest.raises(Refused, match=told):
            parse_routine(wrong)


def test_times_are_shown_short() -> None:
    assert [show_duration(s) for s in (0.4, 45, 60, 95, 3600, 5400)] == ["0s", "45s", "1m", "1m35s", "1h", "1h30m"]
    assert show_clock(760) == "00:12:40"


@pytest.mark.parametrize("rises", [0.0, 0.35])
def test_the_bound_that_is_shown_directly_is_one(rises: float) -> None:
    """Climbs of an hour a value until the first failure, over a constant and over a rising fault: two values below the
    hardest that was tried the bound holds in 95 of 100.
    """
    luck, knob = random.Random(f"bound:{rises}"), RATE
    values = [value for value in knob.grid.values() if value >= RIG.stock.number("data_rate_mts")][:21]
    holds = runs = 0
    for _ in range(600):
        rate = 10 ** luck.uniform(-2.5, 0.5)
        trials: list[Trial] = []
        for k, value in enumerate(values):
            failed_h = luck.expovariate(rate * math.exp(rises * k))
            setpoint = RIG.stock.replacing("data_rate_mts", value)
            clean = failed_h > 1.0
            after_s = None if clean else 3600 * failed_h
            trials.append(
                trial(Outcome.HELD if clean else Outcome.ERRED, setpoint, elapsed_s=3600.0 * min(1.0, failed_h),
                      failed_after_s=after_s)
            )  # fmt: skip
            if not clean and k >= 2:
                break
        k = max(0, len(trials) - 3)
        march = next(one for one in evidence_at(trials[k].setpoint, indexed(trials), RIG).kinds if one.exposed_hours)
        bound = march.hazard_bound_per_h()
        assert bound is not None
        runs += 1
        holds += rate * math.exp(rises * k) <= bound
    assert holds / runs >= 0.94, "as it says: at 95 %"


@pytest.mark.parametrize(
    ("asked_h", "parts_s"),
    [(1.0, [600.0] * 6), (4.0, [600.0] * 24), (8.0, [1200.0] * 24), (1.0, [3590.0]), (4.0, [3600.0 / 7] * 28)],
)
def test_what_adds_up_to_what_is_asked_owes_nothing(asked_h: float, parts_s: list[float]) -> None:
    rig = replace(RIG, purpose=replace(GUARANTEED, hours_asked=((LoadKind.MARCH, asked_h),)))
    parts = [trial(Outcome.HELD, elapsed_s=seconds) for seconds in parts_s]
    evidence = evidence_at(RIG.stock, indexed(parts), rig)
    assert (evidence.kinds[0].hours_owed, evidence.shown) == (0.0, True)
    assert still_owed(asked_h, 0.98 * asked_h) > 0
