"""``tenaz measure`` and ``tenaz scores``, as they are typed."""

import json
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from typer.testing import CliRunner

from tenaz.cli.app import app
from tests.patience import PATIENCE_S


def test_a_simulated_rig_in_turn_and_a_figure_found_in_what_a_program_says(book: Path, tmp_path: Path) -> None:
    runner, on = CliRunner(), ["--book", str(book)]
    on_ridge = [*on, "measure", "--rig", "ridge", "--bench", "sim"]
    program = [sys.executable, "-c", "print('took 41 s')"]
    found = runner.invoke(
        app, [*on_ridge, "--find", r"took (\d+) s", "--name", "build", "--times", "2", "--", *program]
    )
    assert (found.exit_code, "kept: build: 41.0 s" in found.output) == (0, True), found.output
    measured = runner.invoke(app, [*on_ridge, "--only", "latency", "--json"])
    data = json.loads(measured.stdout)
    assert {one["unit"] for one in data["scores"]} == {"ns", "s"}
    assert runner.invoke(app, [*on, "scores", "--rig", "ridge", "--out", str(tmp_path / "s.pdf")]).exit_code == 0
    assert (tmp_path / "s.pdf").read_bytes().startswith(b"%PDF")


@pytest.mark.parametrize(
    ("arguments", "told"),
    [
        (("--for", "1s"), "between 5 s and a day"),
        (("--own", "render"), "a name and then its value"),
        (("--find", "x"), "after --"),
        (("--watts", "-3"), "is no power"),
        (("--in-turn", "winter", "--bench", "sim", "--rig", "ridge"), "no setpoint 'winter'"),
    ],
)
def test_what_cannot_be_measured_is_told(book: Path, arguments: tuple[str, ...], told: str) -> None:
    ran = CliRunner().invoke(app, ["--book", str(book), "measure", *arguments])
    assert ran.exit_code == 2
    assert told in " ".join(ran.output.split())


def test_an_interrupt_ends_it_and_what_was_measured_is_kept(book: Path) -> None:
    command = [sys.executable, "-m", "tenaz", "--book", str(book), "measure", "--only", "hash"]
    with subprocess.Popen(command, stderr=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as running:
        assert running.stderr is not None
        assert "measure 1 begun" in running.stderr.readline()
        running.send_signal(signal.SIGINT)
        told, _ = running.communicate(timeout=PATIENCE_S)
    assert running.returncode == 130
    assert "measure 1: stopped by hand" in told
