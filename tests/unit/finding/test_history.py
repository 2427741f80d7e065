"""Where a part sat, which map was learnt: told where it is known, silent where it is not."""

from tenaz.core.loads.kinds import LoadKind
from tenaz.finding.causes import Part, Suspect
from tenaz.finding.history import history
from tenaz.finding.reasons import sighting_in_words
from tests.unit.finding.known import FOUR_SLOTS, LANES, after, belief, failed, held
from tests.unit.finding.test_belief import SWAPPED, on_side


def test_a_part_tells_where_it_sat_and_how_that_ended() -> None:
    alone = after(FOUR_SLOTS, "alone B2")
    seen = [
        failed(FOUR_SLOTS, LoadKind.MARCH, 0.1, LANES, number=1), held(FOUR_SLOTS, LoadKind.MARCH, 0.1, number=2),
        held(alone, LoadKind.MARCH, 0.5, number=3), held(after(alone, "off 2", "clean"), LoadKind.SOLO, 0.5, number=4),
    ]  # fmt: skip
    assert history(Suspect(Part.MODULE, "41"), seen) == "A2 in trials 1 to 2 (1 failed), aside in trials 3 to 4"
    assert history(Suspect(Part.MODULE, "42"), seen) == "B2 in trials 1 to 2 (1 failed), B2 alone in trials 3 to 4"
    assert history(Suspect(Part.SLOT, "A2"), seen) == "41 in trials 1 to 2 (1 failed), empty in trials 3 to 4"
    assert history(Suspect(Part.CORE, "2"), seen) == "on in trials 1 to 3 (1 failed), off in trial 4"
    assert history(Suspect(Part.COOLER), seen) == "as it came in trials 1 to 3 (1 failed), cleaned 1× in trial 4"
    assert history(Suspect(Part.SUPPLY), []) == ""


def test_a_trial_is_told_with_the_bits_that_were_wrong() -> None:
    told = sighting_in_words(failed(after(FOUR_SLOTS, "alone A2"), LoadKind.MARCH, 0.1, LANES, number=7))
    assert told == "trial 7: march, A2 alone, erred after 6m: wrong on the way, one lane, far apart (bit 17)"


def test_the_map_from_address_to_channel_is_told_once_it_is_learnt_and_not_before() -> None:
    few = belief(failed(FOUR_SLOTS, LoadKind.MARCH, 0.3, on_side(0, 2)))
    assert few.address_map == ""
    many = belief(
        *[failed(FOUR_SLOTS, LoadKind.MARCH, 0.3, on_side(0, 14))] * 3,
        *[failed(SWAPPED, LoadKind.MARCH, 0.3, on_side(1, 14))] * 3,
    )
    assert "the parity of address bits 8 and up" in many.address_map
