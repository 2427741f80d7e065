"""Where Unix's own modules are missing every room still loads, and a climb on the simulated bench is run."""

import subprocess
import sys
from pathlib import Path

from tests.patience import PATIENCE_S

HARNESS = [sys.executable, "-m", "tests.doors.other_system"]


def test_every_room_loads_there() -> None:
    done = subprocess.run(HARNESS, check=False, capture_output=True, text=True, timeout=PATIENCE_S)
    assert (done.returncode, done.stdout) == (0, "")


def test_a_technician_works_there_on_the_simulated_bench(tmp_path: Path) -> None:
    done = subprocess.run(
        [*HARNESS, "--works", str(tmp_path)], check=False, capture_output=True, text=True, timeout=2 * PATIENCE_S
    )
    assert done.returncode == 0, done.stderr[-2000:]


def test_what_is_taken_away_is_away() -> None:
    script = (
        "from tests.doors.other_system import as_if_elsewhere; as_if_elsewhere();"
        "from tenaz.journal.opening import locks; from tenaz.wire import serial;"
        "print(locks.fcntl, serial.termios, hasattr(locks.os, 'getuid'))"
    )
    done = subprocess.run([sys.executable, "-c", script], check=False, capture_output=True, text=True, timeout=60)
    assert done.stdout == "None None False\n"
