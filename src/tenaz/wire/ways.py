"""How a rig is reached: the system's ``ssh``, a serial line, a command of one's own. As it stands in the rig's form."""

import os
import re
import select
import shlex
import shutil
import subprocess
import threading
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from tenaz.core.base.errors import Refused
from tenaz.wire.serial import forget_what_waits, opened_raw
from tenaz.wire.writing import write_all

EXAMPLE = "ssh bench-3"
SSH = "TENAZ_SSH"
"""Names another program in place of the system's ``ssh``."""

HOST = r"(?!-)[A-Za-z0-9._@:\[\]%-]{1,200}"
AGENT = "tenaz agent"
CARRIED = "$HOME/.local/share/tenaz-carried"
"""Where an agent stands that was carried over (``tenaz wire prepare``), as a shell there reads it."""

FAR_COMMAND = (
    f'PATH="$HOME/.local/bin:$PATH"; if [ -x "{CARRIED}/bin/tenaz" ]; then exec "{CARRIED}/bin/tenaz" agent; '
    f"else exec {AGENT}; fi"
)


class Ends(Protocol):
    """Both directions of an open way."""

    def read(self) -> bytes:
        """What came; empty at the end. Blocks."""
        ...

    def write(self, data: bytes) -> None:
        """Send all; blocks while the other side takes nothing."""
        ...

    def close(self) -> "Told":
        """End it at once; gives what was said beside the conversation, like why there was none."""
        ...


@dataclass(frozen=True, slots=True)
class Told:
    """What a way said at its end: its exit status (None: it did not end by itself), and its words."""

    status: int | None = None
    words: str = ""


class Way(Protocol):
    """A way to a rig."""

    @property
    def text(self) -> str:
        """As it is typed."""
        ...

    def open(self) -> Ends:
        """Begin to reach it.

        Raises:
            Refused: there is nothing to reach it with.
        """
        ...


class ChildEnds:
    """A child process; what it says beside the conversation is kept, the end of it."""

    def __init__(self, command: list[str]) -> None:
        self._process = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, start_new_session=True
        )

    def read(self) -> bytes:
        """What came."""
        assert self._process.stdout is not None
        return os.read(self._process.stdout.fileno(), 1 << 16)

    def write(self, data: bytes) -> None:
        """Send all."""
        assert self._process.stdin is not None
        write_all(self._process.stdin.fileno(), data)

    def close(self) -> Told:
        """End it at once."""
        process, told = self._process, b""
        with suppress(subprocess.TimeoutExpired):
            # One that ended by itself says why with its status; it is given a moment to do so.
            process.wait(0.1)
        status = process.poll()
        with suppress(OSError):
            process.kill()
        with suppress(subprocess.TimeoutExpired, ValueError, OSError):
            # Killed, it cannot be waited for long; who inherited its pipes might be.
            told = process.communicate(timeout=1)[1]
        return Told(status, told[-4000:].decode(errors="replace").strip())


class SerialEnds:
    """A serial line, raw."""

    def __init__(self, path: Path) -> None:
        self._handle = opened_raw(path)
        self._woken, self._wake = os.pipe()
        self._over = threading.Lock()

    def read(self) -> bytes:
        """What came; a line that is hung up has an end."""
        try:
            ready, _, _ = select.select([self._handle, self._woken], [], [])
            return b"" if self._woken in ready else os.read(self._handle, 1 << 16)
        except (OSError, ValueError):
            return b""

    def write(self, data: bytes) -> None:
        """Send all."""
        write_all(self._handle, data)

    def close(self) -> Told:
        """Let go of it."""
        if self._over.acquire(blocking=False):
            # Who reads is told first: the number of a closed handle may soon be another's.
            os.write(self._wake, b"x")
            with suppress(OSError):
                forget_what_waits(self._handle)
                os.close(self._handle)
        return Told()


@dataclass(frozen=True, slots=True)
class Ssh:
    """The system's ``ssh``, with the user's own keys, known hosts and configuration; nothing is ever asked."""

    host: str

    @property
    def text(self) -> str:
        """As it is typed."""
        return f"ssh {self.host}"

    def command(self, far: str) -> list[str]:
        """The whole command line; ``far`` is what the shell there runs.

        Raises:
            Refused: this machine has no ssh.
        """
        program = os.environ.get(SSH) or shutil.which("ssh")
        if program is None:
            raise Refused(f"{self.text}: this machine has no ssh; install it (Debian: openssh-client).")
        quiet = ("BatchMode=yes", "ConnectTimeout=5", "ServerAliveInterval=1", "ServerAliveCountMax=3")
        options = [word for one in quiet for word in ("-o", one)]
        return [*shlex.split(program), "-T", *options, "--", self.host, far]

    def open(self) -> ChildEnds:
        """Begin to reach it."""
        return ChildEnds(self.command(FAR_COMMAND))


@dataclass(frozen=True, slots=True)
class Serial:
    """A serial line, at whose other end an agent answers."""

    device: str

    @property
    def text(self) -> str:
        """As it is typed."""
        return f"serial {self.device}"

    def open(self) -> SerialEnds:
        """Open it."""
        return SerialEnds(Path(self.device))


@dataclass(frozen=True, slots=True)
class Command:
    """Any program whose input and output are the conversation."""

    words: tuple[str, ...]

    @property
    def text(self) -> str:
        """As it is typed."""
        return f"command {shlex.join(self.words)}"

    def open(self) -> ChildEnds:
        """Start it.

        Raises:
            Refused: it is not there.
        """
        try:
            return ChildEnds(list(self.words))
        except OSError as error:
            raise Refused(f"{self.text}: {error.strerror}. Name a program that is there.") from error


def way_of(text: str) -> Way:
    """A way as it is typed: ``ssh HOST``, ``serial /dev/ttyUSB0``, ``command WORDS``.

    Raises:
        Refused: it is none; says which there are.
    """
    kind, _, rest = text.strip().partition(" ")
    rest = rest.strip()
    if kind == "ssh" and re.fullmatch(HOST, rest):
        return Ssh(rest)
    if kind == "serial" and rest.startswith("/dev/") and " " not in rest:
        return Serial(rest)
    if kind == "command" and rest:
        try:
            words = tuple(shlex.split(rest))
        except ValueError as error:
            raise Refused(f"{text!r}: {error}; close the quotes.") from error
        if words:
            return Command(words)
    raise Refused(
        f"{text!r} is no way to a rig. Give ssh and a host as your ssh knows it ({EXAMPLE}), or serial and a device "
        f"(serial /dev/ttyUSB0)."
    )
