"""The kernel's tree as a real file system that answers as the kernel does: EINVAL, EACCES, a pending start, rounding.

``python -m tests.doors.firmware_tree BACKING MOUNT LOCKED…`` serves until it is stopped; it needs root and libfuse.
"""

import errno
import os
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from ctypes.util import find_library
from pathlib import Path
from typing import Any

ROUNDED_TO_UW = 125000
"""What a processor's power unit of an eighth of a watt makes of a limit."""


def servable() -> bool:
    """Whether such a tree can be mounted here."""
    return os.geteuid() == 0 and Path("/dev/fuse").exists() and bool(find_library("fuse3") or find_library("fuse"))


@contextmanager
def served(backing: Path, mount: Path, *locked: str) -> Iterator[Path]:
    """The tree mounted; names in ``locked`` ask for a password."""
    mount.mkdir()
    command = [sys.executable, "-m", "tests.doors.firmware_tree", str(backing), str(mount), *locked]
    process = subprocess.Popen(command)
    try:
        for _ in range(200):
            if mount.is_mount():
                break
            assert process.poll() is None, "the tree could not be mounted"
            time.sleep(0.05)
        yield mount
    finally:
        process.terminate()
        process.wait(10)
        if mount.is_mount():
            subprocess.run(["umount", "-l", str(mount)], check=False)


def refusal(attribute: Path, text: str, locked: tuple[str, ...]) -> int:
    """With which number the kernel would refuse it; 0 where it takes it."""

    def told(name: str) -> str:
        return (attribute / name).read_text().strip()

    if attribute.name in locked:
        return errno.EACCES
    if (attribute / "min_value").exists():
        low, high, step = (int(told(one)) for one in ("min_value", "max_value", "scalar_increment"))
        takes = low <= int(text) <= high and (int(text) - low) % step == 0
    else:
        takes = text in told("possible_values").split(";")
    return 0 if takes else errno.EINVAL


def main(backing: Path, mount: str, locked: tuple[str, ...]) -> None:
    """Serve it."""
    import mfusepy  # noqa: PLC0415 - without libfuse it cannot be imported, and the test that it serves is skipped

    class Kernel(mfusepy.Operations):  # type: ignore[misc]
        use_ns = True

        def _at(self, path: str) -> Path:
            return backing / path.lstrip("/")

        def getattr(self, path: str, fh: int | None = None) -> dict[str, Any]:
            try:
                told = self._at(path).stat()
            except OSError as error:
                raise mfusepy.FuseOSError(error.errno) from error
            return {"st_mode": told.st_mode, "st_size": told.st_size, "st_nlink": 1}

        def readdir(self, path: str, fh: int) -> list[str]:
            return [".", "..", *(one.name for one in self._at(path).iterdir())]

        def read(self, path: str, size: int, offset: int, fh: int) -> bytes:
            return self._at(path).read_bytes()[offset : offset + size]

        def truncate(self, path: str, length: int, fh: int | None = None) -> None:
            """A file of the kernel's keeps its length, whatever is asked."""

        def write(self, path: str, data: bytes, offset: int, fh: int) -> int:
            file, text = self._at(path), data.decode().strip()
            if file.name == "current_value":
                if wrong := refusal(file.parent, text, locked):
                    raise mfusepy.FuseOSError(wrong)
                (file.parents[1] / "pending_reboot").write_text("1\n")
            elif file.name.endswith("_power_limit_uw"):
                text = str(round(int(text) / ROUNDED_TO_UW) * ROUNDED_TO_UW)
            file.write_text(f"{text}\n")
            return len(data)

    mfusepy.FUSE(Kernel(), mount, foreground=True, nothreads=True, direct_io=True)


if __name__ == "__main__":
    main(Path(sys.argv[1]), sys.argv[2], tuple(sys.argv[3:]))
