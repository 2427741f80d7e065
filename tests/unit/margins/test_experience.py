"""What past rigs say of a knob: learnt from what was seen of them, never too sure, and dropped where it misleads."""

import pytest

from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import OWN, Purpose
from tenaz.margins.background import Background
from tenaz.margins.doubts import doubts_of
from tenaz.margins.experience import PastLine, carried_unit, common_of
from tenaz.margins.posterior import posterior_of
from tenaz.margins.priors import EdgePrior, prior_in, prior_text
from tenaz.margins.sightings import EdgeSighting
from tenaz.study.cells import hidden_rig, past_of
from tenaz.study.hidden import DrawnRig
from tenaz.study.playing import play
from tenaz.study.populations import read_population

MARCH = LoadKind.MARCH
pytestmark = pytest.mark.xdist_group("experience")
PURPOSE = Purpose("a study", 0, ((MARCH, 8.0),), tolerance=OWN.tolerance)


@pytest.fixture(scope="module")
def past() -> tuple[PastLine, ...]:
    return past_of(read_population("p"), PURPOSE, 12)


def learnt_from(past: tuple[PastLine, ...], rig: DrawnRig) -> EdgePrior | None:
    known = common_of(past)
    unit = carried_unit(rig.knob, rig.base, rig.base, Family.UNKNOWN)
    return known.on(rig.knob, came(rig), unit.step, "the study") if known is not None else None


def came(rig: DrawnRig) -> int:
    return rig.knob.strain(rig.base.number(rig.knob.name))


def test_it_finds_what_the_population_is_made_of_and_keeps_a_share_for_one_unlike_it(
    past: tuple[PastLine, ...],
) -> None:
    rig = DrawnRig(read_population("p"), 1)
    learnt = learnt_from(past, rig)
    assert learnt is not None
    assert 0.25 < learnt.slope.low < 0.9
    assert 2.0 < learnt.slope.high < 6.0
    assert learnt.place is not None
    assert abs(learnt.place.middle - 45) < 6, "x* lies 20 to 46 steps past what it came with"
    assert learnt.place.unlike >= 0.05
    assert (learnt.rigs, prior_in(prior_text(learnt))) == (12, learnt)
    assert learnt_from(past[:2], rig) is None, "two that are alike by chance are no experience"


def test_with_experience_a_search_is_shorter_and_no_less_safe(past: tuple[PastLine, ...]) -> None:
    population = read_population("p")
    seeds = range(40, 48)
    plain = [play(hidden_rig(population, seed), "adapt", {}, PURPOSE) for seed in seeds]
    known = [play(hidden_rig(population, seed), "adapt", {}, PURPOSE, past=past) for seed in seeds]
    assert sum(one.trials for one in known) < sum(one.trials for one in plain)
    assert sum(one.short_steps for one in known) < sum(one.short_steps for one in plain)
    assert sum(one.safe for one in known) >= sum(one.safe for one in plain) - 1


def test_a_rig_that_is_unlike_the_others_is_told_so(past: tuple[PastLine, ...]) -> None:
    rig = DrawnRig(read_population("p"), 1)
    learnt = learnt_from(past, rig)
    assert learnt is not None
    seen = tuple(EdgeSighting(strain, clean_h=0.2, failed_by_h=0.2) for strain in (14, 15, 16, 17, 14, 15))
    doubts = doubts_of(posterior_of(learnt, rig.knob, {MARCH: seen}), learnt, MARCH, seen)
    assert any(one.startswith("unlike the others") for one in doubts)


def test_safe_is_said_of_what_is_shown_in_all_three_parts_only() -> None:
    rig = DrawnRig(read_population("p"), 3)
    assert not Background(12.0).shows(PURPOSE.tolerance)
    owed = Background(12.0).owed_h(PURPOSE.tolerance)
    assert Background(12.0 + owed + 1e-6).shows(PURPOSE.tolerance)
    assert Background(12.0, failures=1).owed_h(PURPOSE.tolerance) > owed
    facts = play(rig, "adapt", {}, PURPOSE)
    assert not facts.called_safe, "a dozen hours show no flatter weakness, and nothing of what no setting causes"
