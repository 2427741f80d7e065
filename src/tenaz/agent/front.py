"""What was called over ssh: in front of the machine's session, passing bytes both ways. It imports next to nothing."""

import os
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from tenaz.core.base.errors import Refused
from tenaz.wire.place import notes_folder
from tenaz.wire.writing import write_all

STARTS_WITHIN_S = 20.0
COULD_NOT_RUN = 2
PIECE = 1 << 16


def socket_place() -> Path:
    """Where the session of this machine is joined.

    Raises:
        Refused: there is no folder that only the user may enter.
    """
    named = os.environ.get("XDG_RUNTIME_DIR")
    folder = Path(named) / "tenaz-agent" if named and os.access(named, os.W_OK) else notes_folder()
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        found = folder.stat(follow_symlinks=False)
    except OSError as error:
        raise Refused(f"{folder} on the rig cannot be made: {error.strerror}. Make room on its disk.") from error
    if found.st_uid != os.getuid() or found.st_mode & 0o077:
        raise Refused(f"{folder} on the rig may be entered by others: mend its rights (chmod 700).")
    return folder / "agent.sock"


def as_program(run: Callable[[], int]) -> int:
    """Its exit status; why it could not run is said beside."""
    try:
        return run()
    except Refused as refused:
        sys.stderr.write(f"{refused}\n")
        return COULD_NOT_RUN


def main() -> int:
    """As a program: gives its exit status."""
    return as_program(answer)


def answer() -> int:
    """In front of a session: what comes goes in, what it says goes out. Begins the session where there is none.

    Raises:
        Refused: it does not begin; says why.
    """
    place = socket_place()
    end = _joined(place)
    if end is None:
        # A session of its own in the background: it is not to end with this line.
        session = subprocess.Popen(
            [sys.executable, "-P", "-m", "tenaz.agent"],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.PIPE,
            start_new_session=True,
            cwd="/",
        )
        deadline = time.monotonic() + STARTS_WITHIN_S
        while end is None and time.monotonic() < deadline:
            time.sleep(0.05)
            end = _joined(place)
            if end is None and session.poll():
                assert session.stderr is not None
                raise Refused(session.stderr.read().decode(errors="replace").strip() or "its session ends at once")
    if end is None:
        raise Refused(f"The agent's session does not start on the rig; try there: python3 -m tenaz.agent ({place}).")
    _relay(end)
    return 0


def _joined(place: Path) -> socket.socket | None:
    end = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    try:
        end.connect(str(place))
    except OSError:
        end.close()
        return None
    return end


def _relay(end: socket.socket) -> None:
    """Bytes both ways, until one side ends."""

    def out() -> None:
        with suppress(OSError):
            while data := end.recv(PIECE):
                write_all(1, data)
        os._exit(0)

    threading.Thread(target=out, name="out", daemon=True).start()
    with suppress(OSError):
        while data := os.read(0, PIECE):
            end.sendall(data)
    os._exit(0)
