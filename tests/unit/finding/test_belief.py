"""Who may be at fault: exact, in the right direction, and never surer than what was seen."""

from itertools import pairwise
from math import exp, log

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import Mismatch
from tenaz.core.parts.fitting import Fitting
from tenaz.finding.causes import NOTHING, CauseKind, Part, Suspect
from tenaz.finding.evidence import STRAY_PER_H
from tenaz.finding.learnt import ENDS, WEIGHED, effective_h, learnt
from tenaz.finding.maps import side
from tenaz.finding.sightings import FaultSighting
from tenaz.finding.symptoms import Symptom
from tests.unit.finding.known import FOUR_SLOTS, LANES, PAIRS, after, belief, computed, failed, held, sensed

MODULE_41, MODULE_42 = Suspect(Part.MODULE, "41"), Suspect(Part.MODULE, "42")
ALONE_41, ALONE_42 = after(FOUR_SLOTS, "alone A2"), after(FOUR_SLOTS, "alone B2")
SWAPPED = after(FOUR_SLOTS, "move A2 B2")


def test_a_clean_march_weighs_each_cause_as_its_own_rates_say() -> None:
    """Recomputed from the learnt table for causes alone: prior × mean over severities of exp(-expected failures)."""
    hours = 2.0
    found = belief(held(FOUR_SLOTS, LoadKind.MARCH, hours))
    table = learnt()

    def weight(kind: CauseKind) -> float:
        one = table.kinds[kind]
        counted = effective_h(one, LoadKind.MARCH, hours * 3600)[0]
        clean = sum(
            p * exp(-exp(rate) * counted) for rate, p in zip(one.log_rates[LoadKind.MARCH], one.chances, strict=True)
        )
        return one.prior * (1.0 if kind is CauseKind.NOTHING else clean)

    single = found.by_pair[: len(found.causes)]
    ratio = sum(p for cause, p in zip(found.causes, single, strict=True) if cause.kind is CauseKind.LANE) / single[0]
    assert ratio == pytest.approx(weight(CauseKind.LANE) / weight(CauseKind.NOTHING), rel=1e-6)


@given(st.floats(0.05, 50), st.floats(0.05, 50))
@settings(max_examples=25)
def test_more_clean_time_never_makes_a_part_that_it_loads_more_suspect(one: float, other: float) -> None:
    short, long = sorted((one, other))
    before = belief(held(ALONE_41, LoadKind.MARCH, short))
    later = belief(held(ALONE_41, LoadKind.MARCH, long))
    assert later.sure_of(MODULE_41) <= before.sure_of(MODULE_41) + 1e-9
    assert later.weights.sum() == pytest.approx(1.0)
    assert 0 <= later.sure_of(MODULE_41) <= 1


def test_a_pass_is_weak_evidence_and_a_failure_is_strong() -> None:
    passed = belief(held(ALONE_41, LoadKind.MARCH, 0.25)).sure_of(MODULE_41)
    nothing_seen = belief().sure_of(MODULE_41)
    assert passed > 0.6 * nothing_seen
    erred = belief(failed(ALONE_41, LoadKind.MARCH, 0.25, LANES))
    assert erred.sure_of(MODULE_41) > 5 * nothing_seen
    assert erred.sure_of(MODULE_42) < erred.sure_of(MODULE_41) / 10


@pytest.mark.parametrize(
    ("sightings", "culprit"),
    [
        # One module fails in two slots, the other holds in both: it is the module.
        ([failed(ALONE_41, LoadKind.MARCH, 0.3, LANES),
          failed(after(ALONE_41, "move A2 B2"), LoadKind.MARCH, 0.4, LANES),
          held(after(ALONE_42, "move B2 A2"), LoadKind.MARCH, 3)], MODULE_41),
        # Whichever module sits in B2 fails: it is the slot.
        ([failed(ALONE_42, LoadKind.MARCH, 0.3, PAIRS),
          failed(after(ALONE_41, "move A2 B2"), LoadKind.MARCH, 0.4, PAIRS),
          held(after(ALONE_42, "move B2 A2"), LoadKind.MARCH, 4),
          held(after(ALONE_42, "move B2 B1"), LoadKind.MARCH, 4)],
         Suspect(Part.SLOT, "B2")),
        # Wrong results always on core 2, with whatever load.
        ([failed(FOUR_SLOTS, LoadKind.SOLO, 0.1, (computed(2),)),
          failed(FOUR_SLOTS, LoadKind.SOLO, 0.2, (computed(2),)),
          held(FOUR_SLOTS, LoadKind.MARCH, 2)], Suspect(Part.CORE, "2")),
        # Restarts when the load steps up, gone with another supply.
        ([failed(FOUR_SLOTS, LoadKind.PULSE, 0.05, (), Outcome.RESTARTED),
          failed(FOUR_SLOTS, LoadKind.PULSE, 0.05, (), Outcome.RESTARTED),
          held(after(FOUR_SLOTS, "supply"), LoadKind.PULSE, 6)], Suspect(Part.SUPPLY)),
        # With another supply it goes on: the board.
        ([failed(FOUR_SLOTS, LoadKind.PULSE, 0.05, (), Outcome.RESTARTED),
          *[failed(after(FOUR_SLOTS, "supply"), LoadKind.PULSE, 0.05, (), Outcome.RESTARTED)] * 3],
         Suspect(Part.BOARD)),
    ],
)  # fmt: skip
def test_what_follows_a_part_is_that_part(sightings: list[FaultSighting], culprit: Suspect) -> None:
    found = belief(*sightings)
    assert found.suspects[0][0] == culprit
    assert found.suspects[0][1] > 0.8


@pytest.mark.parametrize(
    ("after_cleaning", "culprit"), [(0.24, Suspect(Part.COOLER)), (0.56, NOTHING)], ids=["that was it", "it was clean"]
)
def test_cleaning_tells_by_the_kelvins_a_watt_before_and_after(after_cleaning: float, culprit: Suspect) -> None:
    hot = held(FOUR_SLOTS, LoadKind.TRANSFORM, 0.3, sensed=sensed(0.58))
    cleaned = held(after(FOUR_SLOTS, "clean"), LoadKind.TRANSFORM, 0.3, sensed=sensed(after_cleaning))
    others = (
        held(FOUR_SLOTS, LoadKind.MARCH, 8),
        held(FOUR_SLOTS, LoadKind.PULSE, 8),
        held(FOUR_SLOTS, LoadKind.SOLO, 8),
    )
    found = belief(hot, cleaned, *others, symptoms=(Symptom.HOT,))
    before = belief(hot, *others, symptoms=(Symptom.HOT,))
    assert (found.sure_of(Suspect(Part.COOLER)) > before.sure_of(Suspect(Part.COOLER))) is (culprit != NOTHING)


def test_a_rail_that_falls_with_the_load_speaks_for_the_supply_and_one_that_stands_against_it() -> None:
    def rail(at_rest: float, under_load: float) -> float:
        return belief(
            held(FOUR_SLOTS, LoadKind.MARCH, 0.2, sensed=sensed(0.3, 40.0, at_rest)),
            held(FOUR_SLOTS, LoadKind.TRANSFORM, 0.2, sensed=sensed(0.3, 110.0, under_load)),
        ).sure_of(Suspect(Part.SUPPLY))

    assert rail(12.0, 11.84) > 5 * rail(12.06, 12.03)


def test_a_module_that_was_not_seen_points_to_slot_or_contact() -> None:
    one = held(FOUR_SLOTS, LoadKind.MARCH, 0.1, unseen=("B2",))
    found = belief(one)
    on_slot = found.sure_of(Suspect(Part.SLOT, "B2")) + found.sure_of(Suspect(Part.CONTACT, "B2"))
    assert on_slot > 0.9


def test_what_was_not_there_when_it_failed_has_not_brought_the_rig_here() -> None:
    found = belief(symptoms=(Symptom.ERRORS, Symptom.LESS_MEMORY))
    assert found.sure_of(Suspect(Part.SLOT, "A1")) < found.sure_of(Suspect(Part.SLOT, "A2")) / 50
    spare = after(FOUR_SLOTS, "spare A2 77")
    known_good = belief(held(spare, LoadKind.MARCH, 0.1), symptoms=(Symptom.ERRORS,))
    assert known_good.sure_of(Suspect(Part.MODULE, "77")) < known_good.sure_of(MODULE_41) / 50


def on_side(number: int, count: int = 6) -> tuple[Mismatch, ...]:
    """Wrong values whose addresses all lie on one side of a hashed map."""
    luck = np.random.default_rng(number)
    found: list[Mismatch] = []
    while len(found) < count:
        address = int(luck.integers(2**34)) // 64 * 64
        if side(address, 8, hashed=True) == number:
            found.append(LANES[0].__class__(**{**_fields(LANES[0]), "address": address, "physical": address}))
    return tuple(found)


def _fields(one: Mismatch) -> dict[str, object]:
    return {name: getattr(one, name) for name in one.__slots__}


def test_where_wrong_values_lie_tells_whether_a_fault_moved_with_the_modules() -> None:
    """Nobody says which side is which channel: that both sides are used, one after the other, is enough."""

    def module_against_slot(second_side: int) -> float:
        first, second = on_side(0), on_side(second_side)
        found = belief(failed(FOUR_SLOTS, LoadKind.MARCH, 0.3, first), failed(SWAPPED, LoadKind.MARCH, 0.3, second))
        single = dict.fromkeys(CauseKind, 0.0)
        for cause, sure in zip(found.causes, found.by_pair.tolist(), strict=False):
            single[cause.kind] += sure
        return single[CauseKind.LANE] / single[CauseKind.SLOT]

    assert module_against_slot(1) > 20 * module_against_slot(0)


def test_seating_anew_is_no_proof_before_it_stayed_away() -> None:
    seated = after(FOUR_SLOTS, "reseat A2")
    contact = Suspect(Part.CONTACT, "A2")
    byte = tuple(LANES[0].__class__(**{**_fields(one), "read": 0x1F}) for one in LANES)
    before = [failed(FOUR_SLOTS, LoadKind.COPY, 0.5, byte), failed(FOUR_SLOTS, LoadKind.COPY, 0.3, byte)]
    short = belief(*before, held(seated, LoadKind.COPY, 0.1)).sure_of(contact)
    long = belief(*before, held(seated, LoadKind.COPY, 4.0)).sure_of(contact)
    assert long > short


@pytest.mark.parametrize("cores", [1, 4, 64, 256])
def test_it_can_be_weighed_however_many_cores_there_are(cores: int) -> None:
    found = belief(held(FOUR_SLOTS, LoadKind.SOLO, 1.0), cores=cores)
    assert found.weights.sum() == pytest.approx(1.0)
    assert len(found.suspects) >= cores


def test_what_was_learnt_is_whole_and_says_where_it_is_from() -> None:
    table = learnt()
    assert set(table.kinds) == set(CauseKind)
    assert sum(one.prior for one in table.kinds.values()) == pytest.approx(1.0, abs=0.01)
    for kind, one in table.kinds.items():
        assert sum(one.chances) == pytest.approx(1.0, abs=0.01), kind
        assert set(one.log_rates) == set(WEIGHED)
        assert all(sum(ends) == pytest.approx(1.0, abs=0.01) and len(ends) == len(ENDS) for ends in one.ends.values())
        assert all(a <= b for ends in one.effective.values() for a, b in pairwise(ends))
    assert "simulated rigs" in table.about
    assert log(STRAY_PER_H) < min(max(table.kinds[CauseKind.LANE].log_rates[LoadKind.MARCH]), 0)


def test_an_odd_rig_of_one_module_without_a_serial_is_weighed_too() -> None:
    bare = Fitting(tuple(one.__class__("DIMM 0", 8 * 2**30, "DDR4") for one in FOUR_SLOTS.modules[:1]))
    found = belief(failed(bare, LoadKind.MARCH, 0.1, LANES), first=bare, cores=1)
    assert found.suspects[0][0].part in (Part.MODULE, Part.SETTING)
