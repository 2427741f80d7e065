"""The oldest versions that Tenaz says it works with: installed, and the tests of all that stands on them run beside."""

import subprocess
import sys
from pathlib import Path

from tests.release.built import Built
from tests.release.fresh import Fresh

ROOT = Path(__file__).parents[2]
TESTED = ("tests/unit/cli", "tests/unit/journal", "tests/unit/charts", "tests/unit/papers", "tests/unit/tui",
          "tests/unit/workshop", "tests/unit/settings")  # fmt: skip
WITH = ("pytest", "pytest-xdist", "pytest-timeout", "hypothesis", "jsonschema", "libtmux")
NOT_TRIED = ("guides_page_of_commands", "help_teaches")
"""Help is laid out by the library that prints it: these look at how the pinned one does."""


def try_lowest(built: Built, python: Path, place: Path) -> None:
    """The lowest of each that pyproject.toml allows, all else as the newest that fits.

    Raises:
        SystemExit: a test fails beside them.
    """
    pins = place / "lowest.txt"
    uv = Path(sys.executable).with_name("uv")
    command = [uv, "pip", "compile", "pyproject.toml", "--extra", "server", "--resolution", "lowest-direct",
               "--python", python, "--no-annotate", "--no-header", "--quiet", "--output-file", pins]  # fmt: skip
    subprocess.run(command, check=True, cwd=ROOT, stdout=subprocess.DEVNULL)
    fresh = Fresh(place / "lowest", python)
    fresh.install("-r", pins)
    fresh.install("--no-deps", built.wheel)
    fresh.works("the oldest versions")
    fresh.install("-r", pins, *WITH)
    tests = [built.unpacked / name for name in TESTED if (built.unpacked / name).is_dir()]
    marked = "not loading and not terminal and not stick"
    left_out = " and ".join(f"not {one}" for one in NOT_TRIED)
    line = [fresh.python, "-m", "pytest", "-q", "-n", "2", "--dist", "loadgroup", "-p", "no:cacheprovider",
            "-m", marked, "-k", left_out, *tests]  # fmt: skip
    if subprocess.run(line, check=False, cwd=built.unpacked).returncode:
        raise SystemExit("the oldest versions: a test fails beside them; raise its lower bound in pyproject.toml")
    fresh.remove()
