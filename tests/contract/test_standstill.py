"""Time in which everything stood still is no time under load; nothing of the present folder is run."""

import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import psutil
import pytest
from typer.testing import CliRunner

from tenaz.cli.app import app
from tests.patience import PATIENCE_S


def load(book: Path, *arguments: str, cwd: Path | None = None) -> "subprocess.Popen[str]":
    """A load in a process group of its own."""
    return subprocess.Popen(
        [sys.executable, "-P", "-m", "tenaz", "--book", str(book), "load", *arguments],
        stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, start_new_session=True, cwd=cwd,
    )  # fmt: skip


def workers_of(process: "subprocess.Popen[str]") -> list[psutil.Process]:
    deadline = time.monotonic() + PATIENCE_S
    while time.monotonic() < deadline:
        found = [c for c in psutil.Process(process.pid).children() if "tenaz.loads.worker" in c.cmdline()]
        if found:
            return found
        time.sleep(0.05)
    raise AssertionError("no worker came")


def test_a_load_that_was_stopped_and_goes_on_counts_only_what_it_worked(book: Path) -> None:
    began = time.monotonic()
    process = load(book, "transform", "--level", "l1", "--for", "3s", "--json")
    workers_of(process)
    time.sleep(1.0)
    os.killpg(process.pid, signal.SIGSTOP)
    time.sleep(4.0)
    os.killpg(process.pid, signal.SIGCONT)
    told, _ = process.communicate(timeout=PATIENCE_S)
    came = json.loads(told)
    assert (process.returncode, came["outcome"]) == (0, "held")
    assert came["elapsed_s"] == pytest.approx(3.0, abs=0.6)
    assert time.monotonic() - began > 7.0, "the four seconds in which it stood still were no load"
    lines = CliRunner().invoke(app, ["--book", str(book), "book", "--screen", "1"]).stdout
    assert "is no time under load" in lines


@pytest.mark.parametrize("number", [signal.SIGTERM, signal.SIGHUP])
def test_asked_to_end_it_stops_the_load_and_records_that(book: Path, number: int) -> None:
    process = load(book, "transform", "--level", "l1", "--for", "600s", "--json")
    workers = workers_of(process)
    time.sleep(2.0)
    process.send_signal(number)
    told, _ = process.communicate(timeout=PATIENCE_S)
    assert (process.returncode, json.loads(told)["outcome"]) == (130, "stopped")
    assert psutil.wait_procs(workers, timeout=PATIENCE_S)[1] == []


def test_no_file_of_the_present_folder_is_taken_for_a_module(book: Path, tmp_path: Path) -> None:
    trap = tmp_path / "trap"
    trap.mkdir()
    for module in ("json", "numpy", "psutil", "signal", "tenaz", "llvmlite"):
        (trap / f"{module}.py").write_text(f"open({str(tmp_path / 'sprung')!r}, 'w').write({module!r})\n")
    process = load(book, "digest", "--for", "3s", cwd=trap)
    assert process.wait(PATIENCE_S) == 0, process.stderr and process.stderr.read()
    assert not (tmp_path / "sprung").exists()
