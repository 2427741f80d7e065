"""A whole rig alone: from stock to its proof, within ceilings, whatever happens on the way."""

import json
import math
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest
from typer.testing import CliRunner

from tenaz import orders as o
from tenaz.cli.app import app
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import OWN, BenchKind, Rig
from tenaz.core.searches.plans import Planned
from tenaz.core.searches.search import NIGHT, Advice, Proposal, SearchPlan, TrialFacts, search_limit
from tenaz.core.trials.facts import LoadFacts, planned_fact
from tenaz.core.trials.trial import Trial
from tenaz.demo.ridge import ridge
from tenaz.engine.clock import RealClock
from tenaz.journal.opening.opening import open_book
from tenaz.orders.nights import order_for_night
from tenaz.pictures.night.build import night_picture
from tenaz.pictures.night.cells import draw_night
from tenaz.pictures.night.model import morning
from tenaz.search.night.ground import Aim
from tenaz.search.night.journey import Journey
from tenaz.search.night.knobs import ground_for, night_knobs, starts_for
from tenaz.search.night.rounding import RoundedByFirmware
from tenaz.search.positions import position
from tenaz.search.registry import strategy_of
from tenaz.search.strategies.night import Parameters, night_ground
from tenaz.study.night.playing import Outcome as Played
from tenaz.study.night.playing import practice_on
from tenaz.study.night.rigs import NightRig
from tenaz.study.night.table import Row, as_markdown, safe_practice
from tenaz.workshop.shop.shop import Workshop

MOST = 400
Happens = Callable[[Setpoint, LoadPlan], Outcome]


def journey_on(rig: Rig, hours: float = 0.0) -> Journey:
    return Journey(night_ground(ground_for(rig, rig.stock, ""), Parameters(hours, starts=starts_for(rig))))


def ended(setpoint: Setpoint, plan: LoadPlan, outcome: Outcome, part: float = 0.2) -> TrialFacts:
    """A trial as the book would tell it; a failure came after a part of its time."""
    seconds = (plan.duration_s or 0.0) * (1.0 if outcome is Outcome.HELD else part)
    if outcome is Outcome.NO_BOOT:
        seconds = 0.0
    rate = 10.0 * setpoint.numbers().get("data_rate_mts", 1) * setpoint.numbers().get("core_ratio", 43)
    fact = replace(planned_fact(plan, seconds, 8, 2**35), rate=rate)
    failed_after_s = seconds if outcome.verdict is Verdict.FAIL and seconds else None
    return TrialFacts(
        setpoint, plan, outcome.verdict, seconds, failed_after_s, outcome is not Outcome.NO_BOOT,
        facts=LoadFacts((fact,)), outcome=outcome,
    )  # fmt: skip


def seen_through(journey: Journey, happens: Happens) -> tuple[Advice, list[TrialFacts]]:
    """A night on a rig of which it is known what happens."""
    trials = list[TrialFacts]()
    while isinstance(stands := journey.stands, Proposal):
        trials.append(ended(stands.setpoint, stands.plan, happens(stands.setpoint, stands.plan)))
        journey.take(trials[-1])
        assert len(trials) < MOST, "it never ends"
    return stands, trials


# -- on simulated rigs ----------------------------------------


@pytest.mark.parametrize(("like", "seed"), [("ridge", 900), ("ridge", 901), ("hut", 902), ("hut", 903)])
def test_a_whole_rig_is_tuned_within_its_ceilings_and_proven(like: str, seed: int) -> None:
    rig = NightRig(like, seed)
    journey, trials = journey_on(rig.rig), list[TrialFacts]()
    knobs = {name: rig.rig.knob(name) for name in night_knobs(rig.rig, rig.rig.stock)}
    while isinstance(stands := journey.stands, Proposal):
        rig.rig.check(stands.setpoint)
        for change in stands.setpoint.changes_from(rig.rig.stock):
            knob = knobs[change.knob]
            assert knob.strain(stands.setpoint.number(knob.name)) <= knob.strain(search_limit(knob, ""))
        trials.append(rig.try_at(stands.setpoint, stands.plan))
        journey.take(trials[-1])
    assert stands.setpoint is not None, stands.reason
    assert rig.tolerated(stands.setpoint)
    assert rig.speeds(stands.setpoint).over(rig.speeds(rig.rig.stock)) > 0.05
    assert rig.hours < 35
    shown = {kind: 0.0 for kind, _ in rig.rig.purpose.hours_asked}
    for one in trials:
        if one.setpoint == stands.setpoint and one.plan.kind in shown:
            assert one.verdict is Verdict.PASS
            shown[one.plan.kind] += one.elapsed_s / 3600
    assert all(shown[kind] >= 0.99 * hours for kind, hours in rig.rig.purpose.hours_asked)
    # Taken up in the middle of it, all at once, it stands where it stood.
    ground, parameters = ground_for(rig.rig, rig.rig.stock, ""), {"starts": starts_for(rig.rig)}
    for many in (0, 7, len(trials) // 2, len(trials) - 1):
        again = position(strategy_of("night").begin(ground, parameters), trials[:many])
        assert isinstance(again, Proposal)
        assert again.setpoint == trials[many].setpoint
        assert again.plan == trials[many].plan
    assert position(strategy_of("night").begin(ground, parameters), trials) == stands


@pytest.mark.parametrize(("like", "seed", "search_h"), [("ridge", 2, 2), ("hut", 2, 2), ("ridge", 3, 4), ("hut", 3, 4)])
def test_a_short_night_does_what_pays_most_and_leaves_the_rest_as_it_was(like: str, seed: int, search_h: int) -> None:
    rig = NightRig(like, seed)
    proof_h = rig.rig.purpose.proof_h
    journey = journey_on(rig.rig, search_h + proof_h)
    while isinstance(stands := journey.stands, Proposal):
        journey.take(rig.try_at(stands.setpoint, stands.plan))
    assert stands.setpoint is not None
    assert rig.tolerated(stands.setpoint)
    expected, true = journey.gained, rig.speeds(stands.setpoint).over(rig.speeds(rig.rig.stock))
    assert 0.008 < expected < 1.5 * true, "and it is about as much as it says"
    assert rig.hours < search_h + proof_h + 0.5
    assert all(story.budget_h >= 0 for story in journey.stories)
    assert {"io_mv", "controller_mv"} <= set(journey.left_out)
    assert not {story.key for story in journey.stories} & set(journey.left_out)


def test_what_was_given_up_for_a_rate_that_cannot_be_had_is_given_back() -> None:
    raised = {"memory_vdd_mv", "memory_vddq_mv", "controller_mv", "io_mv"}

    def happens(setpoint: Setpoint, plan: LoadPlan) -> Outcome:
        del plan
        return Outcome.ERRED if {c.knob for c in setpoint.changes_from(RIDGE.stock)} - raised else Outcome.HELD

    journey = journey_on(RIDGE)
    stands, _ = seen_through(journey, happens)
    assert stands.setpoint == RIDGE.stock
    assert journey.gained == pytest.approx(0.0)
    lost, back = (next(one for one in journey.stories if one.key == key) for key in ("voltages up", "given back"))
    assert lost.gained < 0 < back.gained
    assert back.after == RIDGE.stock


def test_cores_that_run_faster_are_worth_what_was_measured() -> None:
    rig = NightRig("hut", 400)
    journey = journey_on(rig.rig)
    while isinstance(stands := journey.stands, Proposal) and journey.stories[-1].key in {"stock", "cores"}:
        journey.take(rig.try_at(stands.setpoint, stands.plan))
    cores = journey.stories[1]
    assert cores.after is not None
    assert rig.tolerated(cores.after)
    assert cores.gained == pytest.approx(rig.speeds(cores.after).over(rig.speeds(rig.rig.stock)), abs=0.01)
    assert cores.gained > 0.03


def test_a_firmware_that_keeps_multiples_is_learnt_and_asked_for_what_it_takes() -> None:
    rig, voids = NightRig("hut", 905), list[Setpoint]()
    journey = journey_on(rig.rig)
    while isinstance(stands := journey.stands, Proposal):
        asked = stands.setpoint
        cycles = asked.number("t_rfc1_nck")
        kept = cycles if cycles == rig.rig.stock["t_rfc1_nck"] else cycles // 16 * 16
        if kept != cycles:
            voids.append(asked.replacing("t_rfc1_nck", kept))
            void = TrialFacts(voids[-1], stands.plan, Verdict.VOID, 0.0, None, True, outcome=Outcome.STOPPED)
            journey.take(void)
        else:
            journey.take(rig.try_at(asked, stands.plan))
    assert 1 <= len(voids) <= 4
    assert stands.setpoint is not None
    assert rig.tolerated(stands.setpoint)
    assert stands.setpoint.number("data_rate_mts") > rig.rig.stock.number("data_rate_mts")


@pytest.mark.parametrize(
    ("made", "wanted"),
    [
        ({}, {654: 654}),
        ({666: 656}, {654: 656, 656: 656, 420: 420}),
        ({258: 256}, {258: 260}),
        ({258: 256, 260: 256, 264: 256}, {258: 272}),
        ({654: 640, 526: 512}, {700: 704, 4000: 4000}),
        ({655: 656}, {655: 656}),
    ],
)
def test_instead_of_a_value_the_next_easier_one_that_is_taken_is_asked_for(
    made: dict[int, int], wanted: dict[int, int]
) -> None:
    knob, rounding = RIDGE.knob("t_rfc1_nck"), RoundedByFirmware()
    at = RIDGE.stock.replacing
    rounding.took(at(knob.name, 420))
    for asked, got in made.items():
        assert rounding.learn(at(knob.name, asked), at(knob.name, got))
        assert not rounding.learn(at(knob.name, asked), at(knob.name, got)), "known by now"
    assert {value: rounding.asked(knob, value) for value in wanted} == wanted


def test_a_quiet_rig_gets_lower_voltages_and_nothing_else() -> None:
    rig = NightRig("hut", 904)
    parameters = Parameters(starts=starts_for(rig.rig), aim="quiet")
    journey = Journey(night_ground(ground_for(rig.rig, rig.rig.stock, "", Aim.QUIET), parameters))
    while isinstance(stands := journey.stands, Proposal):
        journey.take(rig.try_at(stands.setpoint, stands.plan))
    assert stands.setpoint is not None
    assert rig.tolerated(stands.setpoint)
    assert "less heat" in stands.reason
    moved = stands.setpoint.changes_from(rig.rig.stock)
    assert moved
    assert all(isinstance(c.after, int) and c.knob.endswith("_mv") for c in moved)
    assert all(stands.setpoint.number(c.knob) < rig.rig.stock.number(c.knob) for c in moved)
    assert stands.setpoint.number("core_offset_mv") <= -40


def test_practice_is_safe_with_a_wide_guard_only_and_the_table_compares_with_that() -> None:
    found = practice_on("hut", 900, 2), practice_on("hut", 900, 20)
    assert [one.safe for one in found] == [False, True]
    assert found[0].gain > found[1].gain
    assert all(one.hours > 100 and one.proven for one in found)

    def row(what: str, one: Played) -> Row:
        return Row(what, "all", 1, one.gain, float(one.safe), 0, 1, one.hours, one.hours, one.trials, 1.0)

    rows = [row("night", Played(0.2, True, 24, 80, True)), row("practice, guard of 2", found[0])]
    assert safe_practice(rows) is None
    assert "None of these ways" in as_markdown(rows)
    rows.append(row("practice, guard of 20", found[1]))
    assert safe_practice(rows) == rows[2]
    assert "guard" in as_markdown(rows).splitlines()[-1]


def test_cores_that_weaken_with_memory_are_asked_again_and_what_gave_way_stays_given() -> None:
    rig = NightRig("hut", 7004, "cores weaken with the data rate")
    journey = journey_on(rig.rig)
    while isinstance(stands := journey.stands, Proposal):
        journey.take(rig.try_at(stands.setpoint, stands.plan))
    again = next(one for one in journey.stories if one.key == "cores again")
    assert "harder, with" in again.why
    assert journey.at == again.after or journey.stories[-1].name == "proof"
    assert all(story.key != "given back" for story in journey.stories[journey.stories.index(again) :])


# -- whatever happens ----------------------------------------

RIDGE = ridge()


def test_a_rig_that_fails_as_it_came_is_not_tuned() -> None:
    stands, trials = seen_through(journey_on(RIDGE), lambda setpoint, plan: Outcome.ERRED)
    assert stands.setpoint is None
    assert "fault" in stands.reason
    assert len(trials) == 1


def test_where_everything_harder_fails_it_ends_as_it_came_with_the_proof() -> None:
    def happens(setpoint: Setpoint, plan: LoadPlan) -> Outcome:
        del plan
        raised = {"memory_vdd_mv", "memory_vddq_mv", "controller_mv", "io_mv"}
        harder = [c.knob for c in setpoint.changes_from(RIDGE.stock) if c.knob not in raised]
        return Outcome.NO_BOOT if harder else Outcome.HELD

    stands, _ = seen_through(journey_on(RIDGE), happens)
    assert stands.setpoint is not None
    assert "proven" in stands.reason
    assert stands.setpoint["data_rate_mts"] == 4800
    assert stands.setpoint["t_cl_nck"] == 40


def test_who_fails_in_a_group_is_left_behind_and_the_others_go_on_with_a_guard() -> None:
    def happens(setpoint: Setpoint, plan: LoadPlan) -> Outcome:
        del plan
        least = 0.93 * RIDGE.stock.number("t_wr_nck") * setpoint.number("data_rate_mts") / 4800
        return Outcome.ERRED if setpoint.number("t_wr_nck") < least else Outcome.HELD

    journey = journey_on(RIDGE)
    stands, _ = seen_through(journey, happens)
    group = next(one for one in journey.stories if one.key == "other timings")
    assert group.after is not None
    assert "tWR fails" in group.why
    before, after = group.before, group.after
    assert after.number("t_wr_nck") == before.number("t_wr_nck")
    assert after.number("t_rtp_nck") < before.number("t_rtp_nck")
    for name in ("t_wtr_l_nck", "t_ccd_l_wr_nck", "t_ras_nck"):
        assert 0.6 * before.number(name) < after.number(name) < before.number(name)
    assert stands.setpoint is not None


def test_a_failed_proof_is_followed_by_steps_back_down_to_what_it_came_with() -> None:
    def happens(setpoint: Setpoint, plan: LoadPlan) -> Outcome:
        long = (plan.duration_s or 0.0) > 4 * 3600
        return Outcome.FROZE if long and setpoint["data_rate_mts"] != 4800 else Outcome.HELD

    journey = journey_on(RIDGE)
    stands, trials = seen_through(journey, happens)
    rates = [one.setpoint.number("data_rate_mts") for one in trials if one.verdict is Verdict.FAIL]
    assert len(rates) >= 3
    assert rates == sorted(rates, reverse=True)
    assert stands.setpoint is not None
    assert stands.setpoint["data_rate_mts"] == 4800
    never = replace(RIDGE, purpose=replace(OWN, hours_asked=((LoadKind.MARCH, 8.0),)))
    lost, _ = seen_through(
        journey_on(never), lambda at, plan: Outcome.ERRED if (plan.duration_s or 0) > 4 * 3600 else Outcome.HELD
    )
    assert lost.setpoint is None
    assert "nothing easier" in lost.reason


def test_what_the_rig_makes_another_value_of_is_not_asked_again() -> None:
    journey, asked, total = journey_on(RIDGE), list[int](), 0
    while isinstance(stands := journey.stands, Proposal):
        got, total = stands.setpoint, total + 1
        value = got.number("t_rcd_nck")
        if value % 3 and got["data_rate_mts"] == 4800:
            asked.append(value)
            got = got.replacing("t_rcd_nck", value + 3 - value % 3)
        hard = got["data_rate_mts"] != 4800 or got.number("t_rcd_nck") < 30
        journey.take(ended(got, stands.plan, Outcome.ERRED if hard else Outcome.HELD))
        assert total < MOST
    assert len(asked) == len(set(asked)) <= 8
    assert asked
    assert stands.setpoint is not None
    assert stands.setpoint.number("t_rcd_nck") in (33, 36, 39)


def test_what_got_too_hot_is_not_asked_again() -> None:
    hot: list[int] = []

    def happens(setpoint: Setpoint, plan: LoadPlan) -> Outcome:
        rate = setpoint.number("data_rate_mts")
        if plan.kind is LoadKind.MARCH and rate > 6000:
            hot.append(rate)
            return Outcome.TOO_HOT
        return Outcome.HELD

    stands, _ = seen_through(journey_on(RIDGE), happens)
    assert hot == sorted(set(hot), reverse=True)
    assert stands.setpoint is not None
    assert stands.setpoint.number("data_rate_mts") <= 6000


def test_a_night_too_short_for_its_proof_or_on_hardly_anything_known_is_refused() -> None:
    with pytest.raises(Refused, match="14 h or more"):
        order_for_night(RIDGE, RIDGE.stock, hours=3.0)
    with pytest.raises(Refused, match="hardly a value"):
        order_for_night(RIDGE, Setpoint.of({}))
    for wrong in ({"hours": -1.0}, {"aim": "loud"}, {"starts": "core_ratio"}):
        with pytest.raises(Refused):
            Parameters(**wrong)  # type: ignore[arg-type]


# -- on a bench, with a book ----------------------------------------


def test_stopped_it_goes_back_to_what_was_proven_and_taken_up_it_ends_with_the_proof(book: Path) -> None:
    quick = replace(ridge(), purpose=replace(OWN, hours_asked=((LoadKind.MARCH, 0.5), (LoadKind.TRANSFORM, 0.25))))
    workshop = Workshop()
    workshop.open(book)
    workshop.store.rigs.put(quick)
    workshop.do(o.ChooseRig("ridge"))
    heard: list[object] = []

    def stop_in_the_refresh_leg(event: object) -> None:
        heard.append(event)
        trials = workshop.store.trials.of("ridge") if len(heard) % 50 == 0 else ()
        if any(one.setpoint["t_refi_nck"] != 9360 for one in trials):
            workshop.publish_to(heard.append)
            workshop.running.stop()

    workshop.publish_to(stop_in_the_refresh_leg)
    workshop.do(order_for_night(workshop.rig, workshop.rig.stock, hours=6.0))
    workshop.running.wait()
    newest = workshop.trials()[-1]
    assert newest.setpoint == workshop.rig.stock
    assert newest.reason == "back to what was proven"
    (search,) = workshop.store.searches.of("ridge")
    begun = workshop.do(o.BringNight(search.id))
    with pytest.raises(Refused, match="its own hours"):
        workshop.do(o.AddPlanned((Planned(0, search.base, search.load, "", search_id=search.id),)))
    workshop.do(o.GoOn(o.Steps(measured=True)))
    workshop.running.wait()
    (search,) = workshop.store.searches.of("ridge")
    stands, trials = workshop.at.standing(search), workshop.view().index
    assert search.ended
    assert isinstance(stands, Advice)
    assert stands.setpoint == workshop.in_force()
    assert evidence_at(stands.setpoint, trials, workshop.rig).shown
    picture = workshop.do(o.BringNight(search.id))
    measures = workshop.store.measures.of("ridge", workshop.bench)
    assert picture == night_picture(workshop.rig, search, trials, measures), "followed or played anew, it is the same"
    assert picture.measured, "what it gained is measured, not only reckoned"
    assert workshop.view().searches.ended is not None, "and being measured is nothing that was tried since"
    (line,) = [one for one in workshop.do(o.BringRigs()) if one.name == "ridge"]
    assert line.found.startswith("night: proven")
    workshop.close()
    assert (picture.proven, picture.over, begun.over) == (True, True, False)
    assert begun.to_come
    assert [picture.legs[at].name for at in (0, 1, -1)] == ["stock", "cores", "proof"]
    assert picture.gained == pytest.approx(sum(leg.gained for leg in picture.legs))
    told = dict(morning(picture))
    assert "the night was too short for them" in told["left"]
    assert "of 0.5 h" in told["tested"]
    assert dict(morning(replace(picture, proven=False)))["left"] == picture.words, "what went wrong comes first"
    for width, height in ((118, 46), (80, 20), (60, 8), (20, 3)):
        cells = draw_night(picture, width, height)
        assert (cells.width, cells.height) == (width, height)
    assert "proven" in draw_night(picture, 118, 46).text()
    assert "No night was begun" in draw_night(None, 80, 9).text()


def test_from_the_command_line_one_page_and_the_same_as_data(book: Path, tmp_path: Path) -> None:
    runner, on = CliRunner(), ["--book", str(book), "night", "--rig", "ridge"]
    none = runner.invoke(app, [*on, "--look"])
    assert none.exit_code == 2
    assert "No night was begun" in none.output
    page = tmp_path / "morning.svg"
    short = runner.invoke(app, [*on, "--hours", "3"])
    assert short.exit_code == 2
    assert "3 h are too short: the proof alone takes 12 h" in short.output
    made = runner.invoke(app, [*on, "--hours", "14", "--no-measure", "--json", "--out", str(page)])
    assert made.exit_code == 0, made.output
    data = json.loads(made.stdout[made.stdout.index("{") : made.stdout.rindex("}") + 1])
    assert data["proven"]
    assert math.isclose(data["hours"], sum(leg["hours"] for leg in data["legs"]))
    assert data["hours"] < 15
    assert "proof" in page.read_text()
    looked = runner.invoke(app, [*on, "--look"])
    assert looked.exit_code == 0
    assert "proven" in looked.output
    assert "tRCD" in looked.output


def test_a_night_under_way_goes_on_as_it_was_begun_or_is_ended(book: Path) -> None:
    with closing(open_book(book)) as opened:
        opened.store.rigs.put(ridge())
        order = order_for_night(ridge(), ridge().stock, hours=20.0)
        plan = SearchPlan(
            0, "ridge", BenchKind.SIM, order.knobs, order.base, order.load, NIGHT, order.parameters, order.reason
        )
        opened.store.searches.begin(plan, RealClock())
    runner, on = CliRunner(), ["--book", str(book)]
    for asked in (["--aim", "quiet"], ["--hours", "14"], ["--worth", "3"], ["--reason", "cold"]):
        other = runner.invoke(app, [*on, "night", *asked])
        assert other.exit_code == 2
        assert f"it goes on without {asked[0]}" in other.output, other.output
    assert "night over" in runner.invoke(app, [*on, "end"]).output
    assert runner.invoke(app, [*on, "end"]).exit_code == 2


def test_what_was_proven_before_the_night_costs_it_nothing(book: Path) -> None:
    gains = []
    for name, proven in (("plain", False), ("proven", True)):
        workshop = Workshop()
        workshop.open(book.with_name(f"{name}.db"))
        workshop.do(o.ChooseRig("ridge"))
        rig = workshop.rig
        if proven:
            loads = [LoadPlan(kind, duration_s=hours * 3600) for kind, hours in rig.purpose.hours_asked]
            workshop.do(o.StartRoutine(rig.stock, tuple(loads)))
            workshop.running.wait()
        workshop.do(order_for_night(rig, rig.stock, hours=18.0))
        workshop.running.wait()
        (plan,) = workshop.store.searches.of("ridge")
        picture = night_picture(rig, plan, workshop.view().index)
        workshop.close()
        assert picture.over
        assert all(leg.hours >= 0 for leg in picture.legs)
        assert not [leg for leg in picture.legs if not leg.trials and "h are over" in leg.why]
        assert not [leg.why for leg in picture.legs if "-" in leg.why]
        assert sum(len(leg.trials) for leg in picture.legs) == sum(
            trial.search_id == plan.id for trial in workshop_trials(book.with_name(f"{name}.db"))
        )
        gains.append(picture.gained)
    assert gains[1] >= gains[0] - 0.01


def workshop_trials(place: Path) -> tuple[Trial, ...]:
    workshop = Workshop()
    workshop.open(place, read_only=True)
    workshop.do(o.ChooseRig("ridge"))
    found = workshop.trials()
    workshop.close()
    return tuple(found)
