"""What comes next, what is sure enough, and what is told beside it."""

from dataclasses import replace

import pytest

from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.parts.acts import work
from tenaz.core.parts.fitting import name_of
from tenaz.core.trials.costs import Costs
from tenaz.demo.ridge import ridge
from tenaz.demo.sled import sled
from tenaz.finding.around import ways_around
from tenaz.finding.causes import NOTHING, Part, Suspect
from tenaz.finding.easing import CORES, MEMORY, eased, eased_domains, harder_than_stock
from tenaz.finding.enough import SURE, Enough
from tenaz.finding.heat import patterns
from tenaz.finding.next_acts import next_acts
from tenaz.finding.reasons import reasons
from tenaz.finding.rescue import rescue
from tenaz.finding.sightings import FaultSighting, Ran
from tenaz.finding.staying import could_hide, must_stay_away
from tenaz.finding.symptoms import Symptom, symptoms_in
from tenaz.finding.verdicts import verdict
from tests.unit.finding.known import CORES as COUNT
from tests.unit.finding.known import FOUR_SLOTS, LANES, after, belief, computed, failed, held, sensed

ALONE_41 = after(FOUR_SLOTS, "alone A2")


def test_every_next_act_can_be_carried_out_and_is_worth_its_minutes() -> None:
    seen = belief(failed(FOUR_SLOTS, LoadKind.MARCH, 0.3, LANES), symptoms=(Symptom.ERRORS,))
    acts = next_acts(seen, FOUR_SLOTS, (), Costs())
    assert [one.worth for one in acts] == sorted((one.worth for one in acts), reverse=True)
    for act in acts:
        if act.work:
            assert work(FOUR_SLOTS, COUNT, act.work).fitting == act.fitting
        assert 0 <= act.bits <= 6
        assert act.minutes > 0
    assert {"move A2 B2", "alone A2", "reseat A2", "clean", "supply", "pull B2"} <= {one.work for one in acts}


def test_two_modules_of_which_one_errs_are_told_apart_by_running_them_apart() -> None:
    seen = belief(*[failed(FOUR_SLOTS, LoadKind.MARCH, 0.3, LANES)] * 2, symptoms=(Symptom.ERRORS,))
    best = next_acts(seen, FOUR_SLOTS)[0]
    assert len(best.fitting.fitted) == 1 or best.fitting.modules != FOUR_SLOTS.modules
    assert best.load.kind.strains is LoadKind.MARCH.strains


def test_a_spare_that_lies_aside_comes_back_and_a_bad_module_does_not() -> None:
    alone = after(FOUR_SLOTS, "alone A2")
    bad = belief(
        *[failed(alone, LoadKind.MARCH, 0.2, LANES)] * 3, held(after(alone, "pull A2; fit 42 A2"), LoadKind.MARCH, 4)
    )
    pulled = after(FOUR_SLOTS, "pull A2")
    assert not any("fit 41" in act.work for act in next_acts(bad, pulled))
    assert any("fit 42" in act.work for act in next_acts(belief(), after(FOUR_SLOTS, "pull B2")))


def test_one_module_alone_is_told_from_its_slot_by_a_spare() -> None:
    one = replace(FOUR_SLOTS, modules=FOUR_SLOTS.modules[:2])
    seen = belief(*[failed(one, LoadKind.MARCH, 0.3, LANES)] * 2, first=one)
    assert any(act.work == "spare A2" for act in next_acts(seen, one))


def test_a_core_that_is_suspect_is_run_alone() -> None:
    seen = belief(failed(FOUR_SLOTS, LoadKind.SOLO, 0.1, (computed(2),)))
    shown = [act.show() for act in next_acts(seen, FOUR_SLOTS)]
    assert any("solo on core 2" in words or "off 2" in words for words in shown)


def test_a_verdict_is_never_surer_than_the_chances_say_and_names_what_may_be_done() -> None:
    fresh = verdict(belief())
    assert fresh.enough is Enough.GO_ON
    elsewhere = failed(after(ALONE_41, "move A2 B2"), LoadKind.MARCH, 0.2, LANES)
    sure = belief(*[failed(ALONE_41, LoadKind.MARCH, 0.2, LANES)] * 3, elsewhere)
    found = verdict(sure)
    assert found.enough in (Enough.REPLACE, Enough.CLAIM)
    assert found.suspect == Suspect(Part.MODULE, "41")
    assert found.sure >= SURE[found.enough]
    off = held(after(FOUR_SLOTS, "off 2"), LoadKind.SOLO, 4)
    core = verdict(belief(*[failed(FOUR_SLOTS, LoadKind.SOLO, 0.1, (computed(2),))] * 4, off))
    assert (core.enough, core.suspect) == (Enough.WORK_AROUND, Suspect(Part.CORE, "2"))
    loads = (LoadKind.MARCH, LoadKind.RETAIN, LoadKind.PULSE, LoadKind.SOLO)
    unmeasured = belief(*(held(FOUR_SLOTS, kind, 40) for kind in loads))
    # Nobody measured the heat: the cooler may still be it.
    assert verdict(unmeasured).enough is Enough.GO_ON
    cool = sensed(0.28)
    told = (Symptom.CRASH, Symptom.ONE_PROGRAM)
    seen = [held(FOUR_SLOTS, kind, 40, sensed=cool) for kind in (*loads, LoadKind.TRANSFORM)]
    clean = belief(*seen, held(after(FOUR_SLOTS, "clean"), LoadKind.TRANSFORM, 1, sensed=cool), symptoms=told)
    assert verdict(clean).enough is Enough.HAND_BACK
    assert all(0 < chance < 0.1 for _, chance in could_hide(clean))


def test_what_speaks_for_a_part_is_told_strongest_first_and_adds_up() -> None:
    seen = belief(failed(ALONE_41, LoadKind.MARCH, 0.2, LANES), symptoms=(Symptom.ERRORS,))
    told = reasons(seen, Suspect(Part.MODULE, "41"), most=9)
    assert [abs(one.folds) for one in told] == sorted((abs(one.folds) for one in told), reverse=True)
    assert "A2 alone" in told[0].text
    assert "one lane, far apart" in told[0].text
    against = reasons(seen, Suspect(Part.MODULE, "42"))
    assert against[0].folds < 0


def test_how_long_a_fault_must_stay_away_after_seating_anew_is_said() -> None:
    byte = tuple(one.__class__(**{**{n: getattr(one, n) for n in one.__slots__}, "read": 0x1F}) for one in LANES)
    before = [failed(FOUR_SLOTS, LoadKind.COPY, 0.5, byte), failed(FOUR_SLOTS, LoadKind.COPY, 0.5, byte)]
    seated = after(FOUR_SLOTS, "reseat A2")
    told = must_stay_away(belief(*before, held(seated, LoadKind.COPY, 0.2)), seated)
    # Twice in an hour: three mean times, 1.5 h, to be 95 % sure of fewer.
    assert "not yet a contact fault" in told
    assert "1.5 h under load, 0.2 h are shown" in told
    assert must_stay_away(belief(*before), FOUR_SLOTS) == ""


@pytest.mark.parametrize(
    ("sightings", "words"),
    [
        ([held(FOUR_SLOTS, LoadKind.TRANSFORM, 0.3, sensed=sensed(1.4))], "dust, or paste that dried"),
        ([held(FOUR_SLOTS, LoadKind.TRANSFORM, 0.3, sensed=sensed(0.01))], "sensor tells too little"),
        ([held(FOUR_SLOTS, LoadKind.TRANSFORM, 0.3, sensed=sensed(0.6)),
          held(after(FOUR_SLOTS, "clean"), LoadKind.TRANSFORM, 0.3, sensed=sensed(0.25))], "that was the cooler"),
        ([held(FOUR_SLOTS, LoadKind.MARCH, 0.3, sensed=sensed(0.25, 40.0, 12.0)),
          held(FOUR_SLOTS, LoadKind.TRANSFORM, 0.3, sensed=sensed(0.25, 120.0, 11.8))], "2.5 mV a watt"),
        ([held(FOUR_SLOTS, LoadKind.TRANSFORM, 0.3, sensed=sensed(0.25))], ""),
    ],
)  # fmt: skip
def test_heat_and_supply_have_patterns_of_their_own(sightings: list[object], words: str) -> None:
    told = patterns(sightings, sled())  # type: ignore[arg-type]
    assert (words in " ".join(told)) if words else not told


@pytest.mark.parametrize(
    ("complaint", "told"),
    [
        ("it goes black once or twice a day, most often on the way down", (Symptom.CRASH,)),
        ("freezes after some hours, only in one program", (Symptom.FREEZE, Symptom.WHEN_HOT, Symptom.ONE_PROGRAM)),
        ("does not start at times; sees less memory then", (Symptom.NO_START, Symptom.LESS_MEMORY)),
        ("files are corrupt, it stutters, dots on the screen", (Symptom.ERRORS, Symptom.STUTTER, Symptom.ARTEFACTS)),
        ("the forecast run takes eleven minutes; it should take nine", ()),
    ],
)
def test_symptoms_are_read_out_of_a_complaint(complaint: str, told: tuple[Symptom, ...]) -> None:
    assert symptoms_in(complaint) == told


def test_one_large_cut_is_known_again_and_what_is_harder_than_stock_is_told_apart() -> None:
    rig = ridge()
    memory, cores = eased(rig, rig.stock, MEMORY), eased(rig, rig.stock, CORES)
    assert memory is not None
    assert cores is not None
    assert memory.number("data_rate_mts") <= 0.85 * rig.stock.number("data_rate_mts")
    assert eased_domains(rig, memory) == (MEMORY,)
    assert eased_domains(rig, cores) == (CORES,)
    assert eased_domains(rig, rig.stock) == ()
    assert harder_than_stock(rig, rig.stock.replacing("t_cl_nck", 30))
    assert not harder_than_stock(rig, memory)


def test_a_core_is_worked_around_and_what_it_costs_is_told() -> None:
    told = ways_around(sled(), Suspect(Part.CORE, "3"), 6)
    assert any(one.startswith("off 3: the core off; costs 17%") for one in told)
    assert any("core ratio" in one and "creep back" in one for one in told)
    assert ways_around(sled(), NOTHING, 6) == ()


def test_a_rig_that_does_not_hold_its_stock_is_rescued_from_there() -> None:
    rig = sled()
    seen = belief(*[failed(FOUR_SLOTS, LoadKind.MARCH, 0.02, LANES)] * 3)
    how = rescue(seen, rig, Suspect(Part.SETTING))
    assert how is not None
    assert how.base[how.knob] == rig.stock[how.knob] or how.knob == "core_ratio"
    assert rescue(seen, rig, Suspect(Part.MODULE, "41")) is None


def test_a_start_that_fails_speaks_for_what_hinders_starts() -> None:
    no_boot = FaultSighting(FOUR_SLOTS, (Ran(LoadKind.MARCH),), Outcome.NO_BOOT, 0.0)
    on_setting = belief(no_boot).sure_of(Suspect(Part.SETTING)) / belief().sure_of(Suspect(Part.SETTING))
    assert on_setting > 2
    assert belief(no_boot).sure_of(Suspect(Part.COOLER)) < belief().sure_of(Suspect(Part.COOLER))
    assert {name_of(one) for one in FOUR_SLOTS.fitted} == {"41", "42"}
