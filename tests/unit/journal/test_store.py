from datetime import UTC
from pathlib import Path

import pytest

from tenaz.core.errors import Refused
from tenaz.core.goldens import Result, by_majority
from tenaz.core.guard import Alarm, Said
from tenaz.core.loading import LaneProgress, LoadKind, Mismatch, MismatchKind
from tenaz.core.loop import IllegalMove, Move, Station
from tenaz.core.notes import NoteKind, ValueNote
from tenaz.core.outcomes import Outcome, Verdict
from tenaz.core.ports import StationReport
from tenaz.core.rigs import BenchKind, Rig
from tenaz.core.searches import SearchPlan
from tenaz.core.setpoints import AUTO
from tenaz.core.trials import Heartbeat, Trial
from tenaz.journal.opening import open_book
from tenaz.journal.store import Store
from tests.conftest import HOUR, SteppedClock

WALK = (Move.ENTERED, Move.CAME_UP, Move.CONFIRMED, Move.LOAD_ENDED)


def walked(store: Store, trial: Trial, clock: SteppedClock) -> Trial:
    for move in WALK:
        trial = store.trials.move(trial, StationReport(move), clock)
    return trial


def test_values_come_back_as_they_went_in(store: Store, rig: Rig, open_trial: Trial, clock: SteppedClock) -> None:
    assert store.rigs.one("ridge") == rig
    assert open_trial.setpoint == rig.stock
    assert open_trial.plan == HOUR
    assert open_trial.plan.kind is LoadKind.MARCH
    assert (open_trial.number, open_trial.station, open_trial.outcome) == (1, Station.SET, None)
    assert open_trial.begun_utc.tzinfo is UTC
    found = Mismatch(
        worker=1,
        at_s=2.5,
        lap=3,
        address=0xFFFF_8000_0000_0010,
        expected=0xFFFF_FFFF_FFFF_FFFF,
        read=0x7FFF_FFFF_FFFF_FFFF,
        read_again=0xFFFF_FFFF_FFFF_FFFF,
        kind=MismatchKind.ON_THE_WAY,
        where="⇑(r,w)",
    )
    store.load.mismatches(open_trial.id, [found])
    assert store.load.mismatches_of(open_trial.id) == (found,)
    assert found.wrong_bits == (63,)
    knobs = ("data_rate_mts", "memory_vdd_mv")
    search = SearchPlan(0, "ridge", BenchKind.SIM, knobs, rig.stock, HOUR, parameters={"holds_to_show": 3})
    plan = store.searches.begin(search, clock)
    assert store.searches.of("ridge") == (plan,)
    assert store.searches.going("ridge", BenchKind.SIM) == plan
    store.searches.end(plan.id, "done", clock)
    assert store.searches.going("ridge", BenchKind.SIM) is None
    with pytest.raises(Refused, match="no rig 'sled'; it has: ridge"):
        store.rigs.one("sled")


def test_a_record_closes_and_undo_reopens_without_losing_it(
    store: Store, open_trial: Trial, clock: SteppedClock
) -> None:
    judged = walked(store, open_trial, clock)
    assert judged.entered
    closed = store.trials.record(judged, Outcome.FROZE, "technician", clock, 754.0, 754.0)
    assert (closed.outcome, closed.verdict, closed.open) == (Outcome.FROZE, Verdict.FAIL, False)
    with pytest.raises(IllegalMove):
        store.trials.record(closed, Outcome.HELD, "technician", clock)
    undone = store.trials.undo(closed, clock)
    assert (undone.outcome, undone.station, undone.verdict) == (None, Station.JUDGE, Verdict.VOID)
    assert undone.elapsed_s == 754.0, "the time that was measured stays"
    again = store.trials.record(undone, Outcome.RESTARTED, "technician", clock, undone.elapsed_s, undone.elapsed_s)
    assert again.outcome is Outcome.RESTARTED
    assert store.trials.unfinished() == ()


def test_an_open_trial_and_its_heartbeat_are_found_after_reopening(
    store: Store, book: Path, open_trial: Trial, clock: SteppedClock
) -> None:
    store.load.heartbeat(open_trial.id, Heartbeat(1.0, "boot-a", clock.utc()))
    lanes = (LaneProgress(0, 2, 1.5, 5.5, 1, 1.9, 4300.0, "march"), LaneProgress(1, 3))
    store.load.heartbeat(open_trial.id, Heartbeat(2.0, "boot-a", clock.utc()), lanes)
    other = open_book(book, read_only=True)
    (found,) = other.store.trials.unfinished()
    assert found.heartbeat is not None
    assert (found.heartbeat.elapsed_s, found.elapsed_s) == (2.0, 2.0)
    assert other.store.load.lanes_of(open_trial.id) == lanes
    other.close()


def test_numbers_count_within_a_rig_and_log_and_notes_are_kept(store: Store, rig: Rig, clock: SteppedClock) -> None:
    first = store.trials.begin(rig, BenchKind.SIM, rig.stock, HOUR, clock)
    second = store.trials.begin(rig, BenchKind.HAND, rig.stock, HOUR, clock, reason="above the advised ceiling")
    assert (first.number, second.number) == (1, 2)
    store.trials.note(first.id, "probably loose")
    assert store.trials.one(first.id).note == "probably loose"
    assert store.trials.one(second.id).reason == "above the advised ceiling"
    for number in range(5):
        store.log.write("ridge", first.id, "loop", f"line {number}", clock)
    hot = Said(61.5, Alarm.WARNING, "processor 86 °C")
    store.log.write("ridge", second.id, "sensors", hot.show(), clock, hot)
    assert [text for _, _, text in store.log.lines("ridge", most=2)] == ["line 4", "warning: processor 86 °C"]
    assert [text for _, _, text in store.log.lines("ridge", 9, second.id)] == ["warning: processor 86 °C"]
    (said,) = store.log.said_of(second.id)
    assert (said.at_s, said.alarm) == (61.5, Alarm.WARNING)
    assert store.log.said_of(first.id) == ()


def test_setpoints_by_name_and_notes_on_values_are_kept_until_taken_out(
    store: Store, rig: Rig, clock: SteppedClock
) -> None:
    store.rigs.put(rig)
    odd = rig.stock.replacing("t_cl_nck", AUTO).replacing("t_of_another_board_nck", 3)
    store.sheets.save("ridge", " winter ", odd, "after the thaw", clock)
    (kept,) = store.sheets.saved("ridge")
    assert (kept.name, kept.setpoint.items_by_name, kept.text) == ("winter", odd.items_by_name, "after the thaw")
    for name, told in (("winter", "already; choose another name"), ("  ", "needs a name")):
        with pytest.raises(Refused, match=told):
            store.sheets.save("ridge", name, odd, "", clock)
    for note in (ValueNote("t_cl_nck", AUTO, NoteKind.LOOSE, "try 36"), ValueNote("t_rp_nck", 39, NoteKind.FLOOR)):
        store.sheets.note("ridge", note, clock)
    loose, floor = store.sheets.notes("ridge")
    assert (loose.value, loose.open, floor.value, floor.open) == (AUTO, True, 39, False)
    store.sheets.settle(loose.id)
    assert not store.sheets.notes("ridge")[0].open
    store.sheets.drop("ridge", "winter")
    assert store.sheets.saved("ridge") == ()
    with pytest.raises(Refused, match="no setpoint 'winter'"):
        store.sheets.drop("ridge", "winter")


def test_goldens_are_kept_by_what_they_were_made_with(store: Store, rig: Rig, clock: SteppedClock) -> None:
    store.rigs.put(rig)
    runs = [Result("wide, 1.0", "transform", "aa")] * 4 + [Result("wide, 1.0", "transform", "bb")]
    runs += [Result("wide, 1.0", "sorted", "cc")] * 5 + [Result("narrow, 1.0", "sorted", "dd")] * 4
    goldens, unsure = by_majority(runs)
    assert goldens == {"wide, 1.0": {"transform": "aa", "sorted": "cc"}}, "four runs are too few for one"
    assert unsure == ("transform", "sorted")
    store.goldens.put("ridge", goldens, clock)
    store.goldens.put("ridge", {"wide, 2.0": {"sorted": "ee"}}, clock)
    store.goldens.put("ridge", {"wide, 1.0": {"sorted": "ff"}}, clock)
    assert store.goldens.of("ridge") == {"wide, 1.0": {"sorted": "ff"}, "wide, 2.0": {"sorted": "ee"}}
