"""An environment in which nothing is yet, and what Tenaz must do in one."""

import os
import shutil
import subprocess
from collections.abc import Iterable
from pathlib import Path

COMMANDS = (
    ("--version",),
    ("load", "march", "--for", "1s", "--share", "1%", "--no-book"),
    ("climb", "data-rate", "--rig", "ridge", "--for", "10m", "-q"),
    ("report", "--rig", "ridge", "--out", "report.pdf", "--out", "report.html"),
    ("chart", "climb.svg"),
    ("book", "--json"),
)
MAY_END_WITH = (0, 1, 3)
"""A report of what is not proven ends with 1, a load that was too short for its range with 3."""


def pythons(wanted: Iterable[str]) -> dict[str, Path]:
    """Interpreters by version: those on the path, else those that pyenv keeps; or those that are named by their path.

    Raises:
        SystemExit: one that was named is not there.
    """
    found = {}
    for one in wanted:
        here = shutil.which(one if "/" in one or one.startswith("python") else f"python{one}")
        kept = sorted(Path("~/.pyenv/versions").expanduser().glob(f"{one.removeprefix('python')}.*/bin/python"))
        for path in (*([Path(here)] if here else []), *reversed(kept)):
            told = subprocess.run(
                [path, "-c", "import sys; print('%d.%d' % sys.version_info[:2])"],
                capture_output=True, text=True, check=False,
            )  # fmt: skip
            if told.returncode == 0:
                found[told.stdout.strip()] = path
                break
    if not found:
        raise SystemExit("no Python that Tenaz is made for was found; name one: PYTHONS=/path/to/python3.11")
    return found


class Fresh:
    """A virtual environment, a folder to work in, and a book of its own."""

    def __init__(self, place: Path, python: Path) -> None:
        self.place, self.work = place, place / "work"
        subprocess.run([python, "-m", "venv", place / "env"], check=True)
        self.work.mkdir()
        self.python = place / "env/bin/python"

    def install(self, *what: object) -> None:
        """By pip."""
        self.run("-m", "pip", "install", "--quiet", "--disable-pip-version-check", *what)

    def run(self, *what: object) -> None:
        """Its Python."""
        subprocess.run([self.python, *map(str, what)], check=True, cwd=self.work)

    def works(self, what: str) -> None:
        """What it must do: all versions fit together, and a load, a climb, a report, a chart and a book come about."""
        self.run("-m", "pip", "check", "--disable-pip-version-check")
        folders = {name: str(self.work / name) for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME")}
        for command in COMMANDS:
            line = [str(self.place / "env/bin/tenaz"), "--book", "book.db", *command]
            ended = subprocess.run(
                line, cwd=self.work, env={**os.environ, **folders}, capture_output=True, text=True, check=False
            )
            if ended.returncode not in MAY_END_WITH:
                raise SystemExit(f"{what}: tenaz {' '.join(command)} ended with {ended.returncode}:\n{ended.stderr}")
        for name in ("report.pdf", "report.html", "climb.svg"):
            assert (self.work / name).stat().st_size > 1000, name
        print(f"  {what}: {len(COMMANDS)} commands came about")

    def remove(self) -> None:
        """All of it: a release takes several gigabytes of them otherwise."""
        shutil.rmtree(self.place)
