"""The programs that make file systems: those of the locked packages, whatever this machine has itself."""

import os
import threading
from pathlib import Path

from tenaz.stick.cache import run_stoppable

LOADER = "usr/lib64/ld-linux-x86-64.so.2"
LIBRARIES = ("usr/lib/x86_64-linux-gnu",)


class Tools:
    """Runs programs from a folder of unpacked packages with the libraries unpacked beside them."""

    def __init__(self, root: Path, epoch_s: int, stop: threading.Event) -> None:
        self._root = root
        self._stop = stop
        self.epoch_s = epoch_s
        self._env = {
            "PATH": os.environ.get("PATH", ""),
            "LC_ALL": "C.UTF-8",
            "TZ": "UTC",
            "SOURCE_DATE_EPOCH": str(epoch_s),
            "E2FSPROGS_FAKE_TIME": str(epoch_s),
            "MKE2FS_CONFIG": str(root / "etc/mke2fs.conf"),
            "MTOOLS_SKIP_CHECK": "1",
            "PYTHONHASHSEED": "0",
            "PYTHONHOME": str(root / "usr"),
        }

    def run(self, program: str, *arguments: str | Path, failed: str, feed: bytes = b"") -> bytes:
        """Run a program (``usr/bin/…``) and give what it said.

        Raises:
            Refused: ``failed``, and why.
            Cancelled: told to stop.
        """
        libraries = ":".join(str(self._root / part) for part in LIBRARIES)
        command = [str(self._root / LOADER), "--library-path", libraries, "--argv0", program.rsplit("/", 1)[-1]]
        command += [str(self._root / program), *map(str, arguments)]
        return run_stoppable(command, self._stop, failed, self._env, feed)
