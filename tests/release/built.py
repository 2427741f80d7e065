"""What is given out: source archive, wheel, pins with hashes, man pages, sums."""

import hashlib
import os
import shutil
import subprocess
import sys
import tarfile
from dataclasses import dataclass
from pathlib import Path

from tenaz.cli.app import app
from tenaz.cli.kit.man_pages import write_man_pages

PINS = ("constraints.txt", "requirements.txt", "requirements-server.txt")
IN_THE_SOURCES = (
    "tests/unit", "tests/release", "CHANGELOG.md", "LICENSE", "README.md", "docs/guide", "constraints.txt",
    "requirements-development.txt", "Makefile",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Built:
    """Where it lies; ``unpacked`` is the source archive, unpacked."""

    dist: Path
    wheel: Path
    unpacked: Path


def build(root: Path, place: Path) -> Built:
    """Build all of it from what is committed, and nothing that lies beside it."""
    dist, clean = root / "dist", place / "clean"
    dist.mkdir()
    subprocess.run(["git", "clone", "-q", str(root), str(clean)], check=True)
    pinned = {**os.environ, "PIP_CONSTRAINT": str(root / "constraints.txt")}
    command = [sys.executable, "-m", "build", "--outdir", str(dist), str(clean)]
    subprocess.run(command, check=True, env=pinned, stdout=subprocess.DEVNULL)
    (wheel,) = dist.glob("*.whl")
    (archive,) = dist.glob("*.tar.gz")
    with tarfile.open(archive) as file:
        file.extractall(place / "unpacked", filter="data")
    (unpacked,) = (place / "unpacked").iterdir()
    lacking = [name for name in IN_THE_SOURCES if not (unpacked / name).exists()]
    assert not lacking, f"the source archive lacks {', '.join(lacking)}"
    for name in PINS:
        shutil.copy(root / name, dist / name)
    (dist / "man").mkdir()
    write_man_pages(app, dist / "man")
    files = sorted(path for path in dist.rglob("*") if path.is_file())
    sums = [f"{hashlib.sha256(path.read_bytes()).hexdigest()}  {path.relative_to(dist)}" for path in files]
    (dist / "SHA256SUMS").write_text("\n".join(sums) + "\n", "utf-8")
    return Built(dist, wheel, unpacked)
