"""The measurements are not run with the tests, but they must be there to be run."""

import subprocess
import sys


def test_the_bench_can_be_begun() -> None:
    done = subprocess.run(
        [sys.executable, "-c", "import tests.bench.report"], capture_output=True, text=True, check=False
    )
    assert (done.returncode, done.stderr) == (0, "")
