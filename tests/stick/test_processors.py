"""Loads on processors of five generations, in the emulator's user mode: none lacks what a load needs."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

pytestmark = pytest.mark.stick

GENERATIONS = ("Opteron_G1", "Conroe", "Penryn", "Nehalem", "Haswell")
"""From 2004 to 2013: without and with SSSE3, SSE4 and AVX2."""
LOADS = ("march --laps 1 --size 16MiB", "copy --laps 1 --size 16MiB", "solve --laps 1", "digest --laps 1",
         "transform --laps 3 --level L1")  # fmt: skip
BEGIN = "import sys; sys.executable = {0!r}; sys.argv = {1!r}; from tenaz.__main__ import main; main()"


@pytest.fixture
def emulator() -> str:
    found = shutil.which("qemu-x86_64")
    if found is None:
        pytest.skip("the Debian package qemu-user is not there")
    return found


@pytest.mark.parametrize("processor", GENERATIONS)
def test_every_load_runs(processor: str, emulator: str, tmp_path: Path) -> None:
    python = Path(sys.executable).resolve()
    own = tmp_path / "python"
    # Workers are started by the same door.
    own.write_text(f'#!/bin/sh\nexec {emulator} -cpu {processor} {python} "$@"\n')
    own.chmod(0o755)
    paths = os.pathsep.join(path for path in sys.path if path)
    for load in LOADS:
        words = ["tenaz", "--book", str(tmp_path / "book.db"), "load", *load.split(), "--workers", "1"]
        done = subprocess.run(
            [own, "-c", BEGIN.format(str(own), words)],
            env={**os.environ, "PYTHONPATH": paths}, capture_output=True, text=True, check=False, timeout=900,
        )  # fmt: skip
        assert done.returncode == 0, (load, done.stdout, done.stderr)
        assert "held" in done.stdout
