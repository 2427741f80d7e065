"""A program's own figure is found within limits, and nothing that it started is left."""

import sys
import time

import psutil
import pytest

from tenaz.core.base.errors import Refused
from tenaz.measuring.programs import run_for

PATTERN = "took ([0-9.]+) s"


def python(code: str) -> list[str]:
    return [sys.executable, "-c", code]


def test_its_figure_is_found_on_either_output_and_it_has_no_input() -> None:
    assert (
        run_for(python("import sys; sys.stderr.write('took 3.5 s'); sys.exit(len(sys.stdin.read()))"), PATTERN) == 3.5
    )


@pytest.mark.parametrize(
    ("code", "why"),
    [
        ("import time; time.sleep(60)", "was not done within 2s and was ended; --limit gives it more"),
        ("import os\nwhile True: os.write(1, b'x' * 65536)", "wrote more than 256 MiB and was ended|was not done"),
        ("raise SystemExit(3)", "ended with status 3"),
        ("print('nothing')", "is nowhere in what the program said"),
    ],
)
def test_what_has_no_figure_says_why(code: str, why: str) -> None:
    began = time.monotonic()
    with pytest.raises(Refused, match=why):
        run_for(python(code), PATTERN, 2.0)
    assert time.monotonic() - began < 60


def test_a_search_that_runs_away_is_ended(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("tenaz.measuring.programs.SEARCH_S", 2)
    with pytest.raises(Refused, match="a pattern in which one repeat stands inside another runs away"):
        run_for(python("print('a' * 60)"), "(a+)+X")
    with pytest.raises(Refused, match="cannot be run"):
        run_for(["/no/such/program"], PATTERN)


def test_what_it_left_running_is_ended_with_it() -> None:
    mark = "import time; time.sleep(98765)"
    child = f"subprocess.Popen([sys.executable, '-c', {mark!r}], start_new_session=True)"
    assert run_for(python(f"import subprocess, sys; {child}; print('took 1 s')"), PATTERN) == 1.0
    assert not [one for one in psutil.process_iter(["cmdline"]) if mark in (one.info["cmdline"] or ())]
