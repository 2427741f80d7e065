"""An image of a stick, made once for all tests that start a machine from it."""

import shutil
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from tenaz.stick.making import StickMaker
from tests.stick.parts import taken_out

NEEDED = ("qemu-system-x86_64", "mcopy", "debugfs", "e2fsck")


@pytest.fixture(scope="session")
def stick(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    missing = [name for name in NEEDED if shutil.which(name) is None]
    if missing:
        pytest.skip(f"not on this machine: {', '.join(missing)}")
    folder = tmp_path_factory.mktemp("stick")
    out = folder / "tenaz.img"
    began_s = time.monotonic()
    size = StickMaker().image(out)
    print(f"\nimage: {size / 2**20:.0f} MiB in {time.monotonic() - began_s:.0f} s")
    assert size <= 300 * 2**20
    return out


@pytest.fixture(scope="session")
def direct(stick: Path, tmp_path_factory: pytest.TempPathFactory) -> tuple[Path, Path]:
    folder = tmp_path_factory.mktemp("direct")
    return tuple(taken_out(stick, "tenaz-boot", f"tenaz/{name}", folder / name) for name in ("kernel", "initrd"))  # type: ignore[return-value]
