import pytest

from tenaz.core.base.loop import LEGAL_MOVES, RAIL, IllegalMove, Move, Station, after, legal_moves
from tenaz.core.base.outcomes import Outcome, Verdict


def test_every_station_is_reached_and_every_open_one_left() -> None:
    reached = set(LEGAL_MOVES.values())
    assert reached >= set(Station)
    for station in Station:
        assert legal_moves(station)


def test_a_trial_can_be_stopped_and_the_machine_go_down_anywhere_before_judge() -> None:
    for station in RAIL[:-1]:
        assert after(station, Move.STOP) is Station.JUDGE
        assert after(station, Move.MACHINE_WENT_DOWN) is Station.JUDGE


@pytest.mark.parametrize("station", list(Station))
@pytest.mark.parametrize("move", list(Move))
def test_what_the_table_does_not_hold_cannot_happen(station: Station, move: Move) -> None:
    if (station, move) in LEGAL_MOVES:
        assert after(station, move) is LEGAL_MOVES[station, move]
        return
    with pytest.raises(IllegalMove) as refused:
        after(station, move)
    assert str(station) in str(refused.value)
    assert all(str(possible) in str(refused.value) for possible in legal_moves(station))


def test_verdicts() -> None:
    verdicts = {outcome: outcome.verdict for outcome in Outcome}
    assert verdicts.pop(Outcome.HELD) is Verdict.PASS
    for void in (Outcome.STOPPED, Outcome.LOST, Outcome.STARVED, Outcome.UNCHECKED):
        assert verdicts.pop(void) is Verdict.VOID
    assert set(verdicts.values()) == {Verdict.FAIL}
