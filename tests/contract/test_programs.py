"""A program of the technician's own as a load: judged by all that it says, and gone with all that it started."""

import os
import signal
import sys
import threading
import time
from pathlib import Path

import psutil
import pytest

from tenaz.benches.here import surroundings
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadKind, LoadPlan, LoadReport
from tenaz.loads.crews import Surroundings
from tenaz.loads.run import LoadRun
from tests.patience import PATIENCE_S


@pytest.fixture
def around() -> Surroundings:
    return surroundings()


def ran(around: Surroundings, script: str, duration_s: float | None = None, **judging: object) -> LoadReport:
    """A script for some time, or for one run."""
    plan = LoadPlan(
        LoadKind.PROGRAM, duration_s, None if duration_s else 1, command=(sys.executable, "-uc", script), **judging
    )  # type: ignore[arg-type]
    return LoadRun(plan, around).run()


def test_a_program_of_ones_own_is_judged_by_status_and_words(around: Surroundings) -> None:
    def told(script: str, **judging: str) -> LoadReport:
        command = (sys.executable, "-c", script)
        return LoadRun(LoadPlan(LoadKind.PROGRAM, laps=1, command=command, **judging), around).run()  # type: ignore[arg-type]

    assert told("print('fine')").outcome is Outcome.HELD
    assert "ended with status 3: it wrote nothing" in told("exit(3)").mismatches[0].where
    assert "wrote 'MISMATCH'" in told("print('a MISMATCH here')", bad_words="MISMATCH").mismatches[0].where
    assert "did not write 'done': half way" in told("print('half way')", good_words="done").mismatches[0].where
    assert "SIGSEGV" in told("import os, signal; os.kill(os.getpid(), signal.SIGSEGV)").mismatches[0].where
    kept: list[str] = []
    command = (sys.executable, "-c", "print('first\\nsecond')")
    LoadRun(LoadPlan(LoadKind.PROGRAM, laps=3, command=command), around, on_note=kept.append).run()
    assert kept == ["run 1: first", "run 1: second"], "what is the same again is kept once"
    with pytest.raises(Refused, match="'/no/such/program' is no program that can be run here"):
        LoadRun(LoadPlan(LoadKind.PROGRAM, 5.0, command=("/no/such/program",)), around)


FOREVER = "import time, sys\nprint({!r}, flush=True)\nwhile True: time.sleep(0.1)"


@pytest.mark.parametrize(
    ("script", "duration_s", "judging", "outcome", "words"),
    [
        # Cut off by time: the bad word was said, so it failed, and not only at its end.
        (FOREVER.format("a MISMATCH here"), 30.0, {"bad_words": "MISMATCH"}, Outcome.ERRED, "wrote 'MISMATCH'"),
        # Said long ago, under megabytes of other output, and across two writes.
        ("print('MISMATCH'); print('x' * 5_000_000)", None, {"bad_words": "MISMATCH"}, Outcome.ERRED, "MISMATCH"),
        (
            "import sys,time; sys.stdout.write('MIS'); sys.stdout.flush(); time.sleep(.3); print('MATCH')",
            None, {"bad_words": "MISMATCH"}, Outcome.ERRED, "MISMATCH",
        ),
        # No run came to its end: nothing was shown, whatever was or was not said.
        (FOREVER.format("all well"), 1.0, {}, Outcome.STOPPED, "no run came to its end"),
        (FOREVER.format("busy"), 1.0, {"good_words": "well"}, Outcome.STOPPED, "no run came to its end"),
        # Runs came to their ends, and the one that was cut off said nothing bad.
        ("import time; time.sleep(0.4); print('well')", 1.6, {"good_words": "well"}, Outcome.HELD, ""),
        ("import time; time.sleep(0.2)", 1.0, {"good_words": "well"}, Outcome.ERRED, "did not write 'well'"),
    ],
)  # fmt: skip
def test_it_is_judged_by_all_that_it_said_until_it_was_cut_off(
    around: Surroundings,
    script: str,
    duration_s: float | None,
    judging: dict[str, object],
    outcome: Outcome,
    words: str,
) -> None:
    report = ran(around, script, duration_s, **judging)
    assert report.outcome is outcome
    assert words in (report.mismatches[0].where if report.mismatches else report.detail)
    assert duration_s != 30.0 or report.elapsed_s < 20, "a bad word ends it at once"


FAMILY = """
import os, subprocess, sys, time
sleeper = [sys.executable, "-c", "import signal, time; signal.signal(signal.SIGTERM, signal.SIG_IGN); time.sleep(300)"]
child = subprocess.Popen(sleeper)
far = subprocess.Popen(sleeper, start_new_session=True)
if os.fork() == 0:
    os.setsid()
    if os.fork() == 0:
        print("daemon", os.getpid(), flush=True)
        time.sleep(300)
    os._exit(0)
print("child", child.pid, "far", far.pid, flush=True)
open(sys.argv[1], "w").write(f"{os.getpid()} {child.pid} {far.pid}")
time.sleep(300)
"""


@pytest.mark.parametrize("how", ["its time", "the worker is ended", "the worker is killed"])
def test_all_that_it_started_ends_with_it(around: Surroundings, tmp_path: Path, how: str) -> None:
    note = tmp_path / "pids"
    command = (sys.executable, "-uc", FAMILY, str(note))
    run = LoadRun(LoadPlan(LoadKind.PROGRAM, 2.0 if how == "its time" else 60.0, command=command), around)
    before = {process.pid for process in psutil.process_iter()}
    reports: list[LoadReport] = []
    running = threading.Thread(target=lambda: reports.append(run.run()))
    running.start()
    deadline = time.monotonic() + PATIENCE_S
    while not reports and not (note.exists() and len(note.read_text().split()) == 3) and time.monotonic() < deadline:
        time.sleep(0.05)
    time.sleep(0.3)
    mine = [process for process in psutil.process_iter() if process.pid not in before and _is_of(process, note)]
    assert len(mine) >= 4, f"the program, its children, and a daemon; {reports}"
    if how != "its time":
        os.kill(run.pids[0], signal.SIGTERM if how == "the worker is ended" else signal.SIGKILL)
    running.join(PATIENCE_S)
    if how == "the worker is killed":
        # Nobody is left to end the others; the program itself goes with its parent.
        gone, _ = psutil.wait_procs(mine[:1], timeout=PATIENCE_S)
        assert gone
        for process in mine[1:]:
            process.kill()
        return
    _, alive = psutil.wait_procs(mine, timeout=PATIENCE_S)
    assert alive == []


def _is_of(process: psutil.Process, note: Path) -> bool:
    try:
        line = " ".join(process.cmdline())
    except psutil.Error:
        return False
    return (str(note) in line and "tenaz.loads.worker" not in line) or "SIG_IGN); time.sleep(300)" in line
