"""What was fetched stays: a folder of packages and wheels by name, each checked by its sum before it is used."""

import hashlib
import subprocess
import sys
import threading
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path

from platformdirs import user_cache_path

from tenaz.core.base.errors import Refused
from tenaz.stick.lock import Lock, Package, Wheel

CHUNK_BYTES = 1 << 18
TIMEOUT_S = 60.0
TAGS = ("manylinux_2_28_x86_64", "manylinux_2_27_x86_64", "manylinux_2_17_x86_64", "manylinux2014_x86_64")
"""What the C library of the stick may be asked for, newest first."""


class Cancelled(Exception):
    """The maker was told to stop."""


def default_cache() -> Path:
    """The user's folder for such files."""
    return user_cache_path("tenaz", appauthor=False) / "stick"


class Cache:
    """A folder of fetched files. ``on_bytes`` is told bytes as they come; ``stop`` ends a fetch at once."""

    def __init__(self, folder: Path, stop: threading.Event, on_bytes: Callable[[int], None] = lambda _: None) -> None:
        self.folder = folder
        self._stop = stop
        self._on_bytes = on_bytes

    def file(self, name: str) -> Path:
        """Where a file is, or will be."""
        return self.folder / name

    def has(self, one: Package | Wheel) -> bool:
        """Whether it is there and whole."""
        path = self.file(one.file)
        return path.is_file() and _sha256(path) == one.sha256

    def missing(self, lock: Lock) -> tuple[tuple[Package, ...], tuple[Wheel, ...]]:
        """What must be fetched."""
        return (
            tuple(one for one in lock.packages if not self.has(one)),
            tuple(one for one in lock.wheels if not self.has(one)),
        )

    def fetch(self, package: Package, mirrors: dict[str, str]) -> None:
        """Fetch a package.

        Raises:
            Refused: it is not to be had, or not what the lock says.
            Cancelled: told to stop.
        """
        address = f"{mirrors[package.archive]}/{package.path}"
        self.folder.mkdir(parents=True, exist_ok=True)
        part = self.file(f".{package.file}.part")
        try:
            with urllib.request.urlopen(address, timeout=TIMEOUT_S) as source, part.open("wb") as into:
                while chunk := source.read(CHUNK_BYTES):
                    if self._stop.is_set():
                        raise Cancelled
                    into.write(chunk)
                    self._on_bytes(len(chunk))
        except urllib.error.HTTPError as error:
            gone = error.code == 404
            why = "no longer has it" if gone else f"answered {error.code}"
            remedy = "Debian has a newer one: tenaz stick renew" if gone else "try again, or name another with --mirror"
            raise Refused(
                f"{package.name} {package.version} could not be fetched: the mirror {why}. {remedy}."
            ) from error
        except OSError as error:
            reason = getattr(error, "reason", None) or error
            raise Refused(
                f"{package.name} {package.version} could not be fetched: {reason}. What was fetched is kept; try again "
                f"with a network, or name another mirror with --mirror."
            ) from error
        if _sha256(part) != package.sha256:
            part.unlink()
            raise Refused(f"{package.file} is not what the lock says (its sum differs); it was thrown away. Try again.")
        part.replace(self.file(package.file))

    def fetch_wheels(self, wheels: tuple[Wheel, ...]) -> None:
        """Fetch wheels as this user's pip is set up to.

        Raises:
            Refused: they are not to be had.
        """
        if not wheels:
            return
        self.folder.mkdir(parents=True, exist_ok=True)
        wanted = self.file(".wheels.txt")
        wanted.write_text("".join(f"{one.name}=={one.version} --hash=sha256:{one.sha256}\n" for one in wheels))
        command = [sys.executable, "-m", "pip", "download", "--quiet", "--disable-pip-version-check", "--no-deps"]
        command += ["--require-hashes", "--only-binary=:all:", "--python-version=3.11", "--implementation=cp"]
        command += [f"--platform={tag}" for tag in TAGS]
        command += ["--dest", str(self.folder), "--requirement", str(wanted)]
        run_stoppable(command, self._stop, "The wheels could not be fetched with pip")
        wanted.unlink()


def run_stoppable(
    command: list[str], stop: threading.Event, failed: str, env: dict[str, str] | None = None, feed: bytes = b""
) -> bytes:
    """Run a command to its end, and give what it said.

    Raises:
        Cancelled: told to stop; the command is gone then.
        Refused: ``failed``, with the last of what it said.
    """
    try:
        process = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, env=env
        )
    except OSError as error:
        raise Refused(f"{failed}: {command[0]} cannot be run: {error.strerror}.") from error
    first: bytes | None = feed
    while True:
        try:
            said, _ = process.communicate(first, timeout=0.2)
            break
        except subprocess.TimeoutExpired:
            first = None
            if stop.is_set():
                process.kill()
                process.communicate()
                raise Cancelled from None
    if process.returncode:
        last = said.decode(errors="replace").strip().splitlines()[-3:]
        raise Refused(f"{failed}: {' / '.join(last) or f'status {process.returncode}'}")
    return said


def _sha256(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
