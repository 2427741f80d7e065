"""Trials written to files and read again, and lists as people keep them."""

from dataclasses import replace
from pathlib import Path

import pytest

from tenaz import orders as o
from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.demo.ridge import ridge
from tenaz.papers.trial_files import Reading, TrialsPaper, read_trials
from tenaz.workshop.shop.shop import Workshop

RIG = ridge()
HOUR = LoadPlan(LoadKind.MARCH, duration_s=3600.0)


def _read(tmp_path: Path, name: str, text: str) -> "tuple[object, ...]":
    (tmp_path / name).write_text(text, encoding="utf-8")
    return read_trials(tmp_path / name, Reading({}, RIG, RIG.stock, HOUR)).trials


@pytest.mark.parametrize("ending", [".csv", ".jsonl"])
def test_what_is_exported_can_be_entered_elsewhere(tmp_path: Path, ending: str) -> None:
    here, there = Workshop(), Workshop()
    here.open(tmp_path / "here.db")
    here.do(o.ChooseRig("ridge"))
    for rate in (4800, 7000):
        here.do(o.StartTrial(RIG.stock.replacing("data_rate_mts", rate), HOUR))
        here.running.wait()
    here.do(o.NoteTrial(here.trials()[-1].id, '=1+1, "far" too far; ünd'))
    here.do(o.WritePaper(TrialsPaper(tuple((trial, RIG) for trial in here.trials())), tmp_path / f"out{ending}"))
    past = read_trials(tmp_path / f"out{ending}", Reading({}, RIG, RIG.stock, HOUR)).trials
    there.open(tmp_path / "there.db")
    there.do(o.ChooseRig("ridge"))
    assert there.do(o.EnterPast(past)) == "trials 1 to 2 entered"
    known = [
        (one.setpoint, one.plan, one.outcome, one.note, one.begun_utc.replace(microsecond=0)) for one in here.trials()
    ]
    assert [(one.setpoint, one.plan, one.outcome, one.note, one.begun_utc) for one in there.trials()] == known
    assert there.in_force() == RIG.stock, "what was tried elsewhere is not what stands here now"
    with pytest.raises(Refused, match="All 2 are in the book already"):
        there.do(o.EnterPast(past))
    with pytest.raises(Refused, match="All 2 are in the book already"):
        here.do(o.EnterPast(past))
    assert there.do(o.Undo()) == "taken back: trials 1 to 2 entered"
    assert there.trials() == ()
    here.close()
    there.close()


def test_a_book_with_several_rigs_is_entered_whole_or_said_to_be_of_others(tmp_path: Path) -> None:
    here, there = Workshop(), Workshop()
    for name, workshop in (("here", here), ("there", there)):
        workshop.open(tmp_path / f"{name}.db")
        workshop.do(o.KeepRig(replace(ridge(3), name="hut")))
    for rig in ("hut", "ridge"):
        here.do(o.ChooseRig(rig))
        here.do(o.StartTrial(here.rig.stock, HOUR))
        here.running.wait()
    rigs = {one.name: one for one in here.store.rigs.all()}
    every = [(trial, rigs[name]) for name in ("hut", "ridge") for trial in here.store.trials.of(name)]
    for ending in (".csv", ".jsonl"):
        path = tmp_path / f"both{ending}"
        here.do(o.WritePaper(TrialsPaper(tuple(every)), path))
        with pytest.raises(Refused, match=r"line [12]: it is of 'hut'"):
            read_trials(path, Reading({}, rigs["ridge"], RIG.stock, HOUR))
        there.do(o.ChooseRig("ridge"))
        read = read_trials(path, Reading(rigs, there.rig, there.rig.stock, HOUR))
        if ending == ".csv":
            assert there.do(o.EnterPast(read.trials)) == "trial 1 of hut, trial 1 entered"
        else:
            with pytest.raises(Refused, match="All 2 are in the book already"):
                there.do(o.EnterPast(read.trials))
    assert [len(there.store.trials.of(name)) for name in ("hut", "ridge")] == [1, 1]
    assert there.do(o.Undo()) == "taken back: trial 1 of hut, trial 1 entered"
    here.close()
    there.close()


def test_a_list_of_ones_own_is_understood(tmp_path: Path) -> None:
    first, second = _read(
        tmp_path,
        "list.csv",
        "Date;Data rate;CL;Program;Result;Time;Errors;Remark\n"
        "2026-11-20;6200 MT/s;38;march ss 30m;errors;12m;3;warm\n"
        ";;;;held;~1h;;\n",
    )
    assert (first.setpoint["data_rate_mts"], first.setpoint["t_cl_nck"], first.plan.test) == (6200, 38, "SS")
    assert (first.record.outcome, first.record.elapsed_s, first.record.errors) == (Outcome.ERRED, 720.0, 3)
    assert (first.day_only, first.note, first.uncertain) == (True, "warm", "of its time only the day is known")
    assert (second.setpoint, second.plan) == (RIG.stock, HOUR)
    assert second.uncertain == "when it was is not known, how long it ran is a guess"


def test_a_line_a_trial(tmp_path: Path) -> None:
    (one, two) = _read(
        tmp_path,
        "paper.txt",
        "6200, tCL 38 | program: descent in winter | froze about 2h | 2026-11-20 14:30 | on the way down\n\n"
        "no boot | 6400\n",
    )
    assert one.setpoint["data_rate_mts"] == 6200
    assert one.plan.command == ("descent", "in", "winter")
    assert (one.record.outcome, one.record.about, one.note) == (Outcome.FROZE, True, "on the way down")
    assert two.record.outcome is Outcome.NO_BOOT


@pytest.mark.parametrize(
    ("name", "text", "why"),
    [
        ("a.csv", "when,colour\n", "column 'colour' is neither a knob"),
        ("a.csv", "outcome\ngrand\n", "line 2: .*names no outcome"),
        ("a.csv", "outcome,data rate\nheld 1h,60500\n", "line 2: .*cannot have been"),
        ("a.csv", "outcome,when\nheld 1h,soon\n", "'soon' is no date"),
        ("a.csv", "outcome\n", "holds no trial"),
        ("a.jsonl", "{", "line 1: .*Nothing was changed"),
        ("a.jsonl", "[1]", "line 1 is no trial"),
        ("a.txt", "6200 | march 1h\n", "does not say how it ended"),
        ("a.txt", "colour 7 | held 1h\n", "no knob 'colour'"),
        ("a.pdf", "", "cannot be exported|ending in"),
    ],
)
def test_what_cannot_be_entered_is_told_with_its_line(tmp_path: Path, name: str, text: str, why: str) -> None:
    with pytest.raises(TenazError, match=why):
        _read(tmp_path, name, text)
