"""Drawn faults: a seed draws the same rig again; the path is played by a technician's doors; what is counted."""

import pytest

from tenaz.core.loads.kinds import LoadKind
from tenaz.finding.causes import NOTHING, CauseKind, Part, Suspect
from tenaz.finding.enough import Enough
from tenaz.finding.learnt import learnt
from tenaz.study.faulty.drawing import PRIOR, draw
from tenaz.study.faulty.learning import learn
from tenaz.study.faulty.playing import Played, play, practice, truth_of
from tenaz.study.faulty.table import as_markdown, deciles, table_of
from tenaz.study.faulty.writing import as_json, table_as_json


def test_a_seed_draws_the_same_rig_fault_and_complaint() -> None:
    one, other = draw(77), draw(77)
    assert (one.rig, one.state, one.causes, one.symptoms) == (other.rig, other.state, other.causes, other.symptoms)
    drawn = [draw(seed) for seed in range(60)]
    assert 2 <= sum(not one.causes for one in drawn) <= 14
    assert 1 <= sum(len(one.causes) == 2 for one in drawn) <= 14
    assert all(one.symptoms for one in drawn)
    assert sum(PRIOR.values()) == pytest.approx(1.0)


@pytest.mark.parametrize(
    ("seed", "kind"), [(4, CauseKind.ROW), (9, CauseKind.CONTACT), (12, CauseKind.SUPPLY), (3, CauseKind.HARD_MEMORY)]
)
def test_a_fault_is_found_in_a_part_of_the_usual_time(seed: int, kind: CauseKind) -> None:
    drawn = draw(seed, (kind,))
    found, usual = play(drawn), practice(draw(seed, (kind,)))
    assert found.right, (found.named, found.truth)
    assert not found.wrong
    assert found.enough is not Enough.GO_ON
    assert found.minutes < usual.minutes
    assert truth_of(drawn)[0] == found.named


def made_up(sure: float, right: bool, seed: int) -> Played:
    module = Suspect(Part.MODULE, "1")
    truth = (module,) if right else (NOTHING,)
    return Played(seed, 60.0, 3, module, sure, Enough.REPLACE, right, not right, truth, ((module, sure),))


def test_calibration_is_counted_by_tenths() -> None:
    found = [made_up(0.75, number < 6, number) for number in range(8)] + [made_up(0.95, True, 9)]
    by_low = {round(one.low, 1): one for one in deciles(found)}
    assert (by_low[0.7].count, by_low[0.7].said, by_low[0.7].true) == (8, 0.75, 0.75)
    table = table_of(found, found)
    assert table.right_first == pytest.approx(7 / 9)
    assert table.wrong_bad == pytest.approx(2 / 9)
    assert table.part_of_practice == 1.0
    assert "| right suspect first | 0.778 |" in as_markdown(table)
    assert '"part_of_practice": 1.0' in table_as_json(table)


def test_what_is_learnt_is_learnt_again_alike() -> None:
    """Few rigs only: a fault is about as fast as it was learnt to be from many."""
    few = learn(lambda _: None, specimens=8, kinds=(CauseKind.LANE, CauseKind.CONTACT))
    assert type(few).model_validate_json(as_json(few)) == few
    now, before = few.kinds[CauseKind.LANE], learnt().kinds[CauseKind.LANE]
    middle_now, middle_before = (sorted(one.log_rates[LoadKind.MARCH])[4] for one in (now, before))
    assert middle_now == pytest.approx(middle_before, abs=1.2)
    assert few.kinds[CauseKind.CONTACT].reliefs["reseat"] == pytest.approx((2.0,) * 8, abs=0.5)
