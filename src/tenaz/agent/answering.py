"""How a session is reached: through a socket of the user's own, by who was called over ssh; or over a serial line."""

import fcntl
import os
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from tenaz.agent.session import Session
from tenaz.core.base.errors import Refused
from tenaz.wire.spool import Spool, usual_place
from tenaz.wire.ways import opened_raw

LOOKED_AT_S = 1.0
STARTS_WITHIN_S = 20.0
PIECE = 1 << 16


def socket_place() -> Path:
    """Where the session of this machine is joined.

    Raises:
        Refused: there is no folder that only the user may enter.
    """
    named = os.environ.get("XDG_RUNTIME_DIR")
    folder = Path(named) / "tenaz-agent" if named and os.access(named, os.W_OK) else usual_place().parent
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        found = folder.stat(follow_symlinks=False)
    except OSError as error:
        raise Refused(f"{folder} on the rig cannot be made: {error.strerror}. Make room on its disk.") from error
    if found.st_uid != os.getuid() or found.st_mode & 0o077:
        raise Refused(f"{folder} on the rig may be entered by others: mend its rights (chmod 700).")
    return folder / "agent.sock"


def answer() -> int:
    """In front of a session: what comes goes in, what it says goes out. Begins the session where there is none."""
    place = socket_place()
    end = _joined(place)
    if end is None:
        # A session of its own in the background: it is not to end with this line.
        subprocess.Popen(
            [sys.executable, "-m", "tenaz", "agent", "--stay"],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
            cwd="/",
        )
        deadline = time.monotonic() + STARTS_WITHIN_S
        while end is None and time.monotonic() < deadline:
            time.sleep(0.05)
            end = _joined(place)
    if end is None:
        raise Refused(f"The agent's session does not start on the rig; try there: tenaz agent --stay. ({place})")
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
                view = memoryview(data)
                while view:
                    view = view[os.write(1, view) :]
        os._exit(0)

    threading.Thread(target=out, name="out", daemon=True).start()
    with suppress(OSError):
        while data := os.read(0, PIECE):
            end.sendall(data)
    os._exit(0)


def stay() -> int:
    """The session itself; one a user and machine. Ends when nobody is there and nothing runs.

    Raises:
        Refused: its notes cannot be kept.
    """
    place = socket_place()
    lock = os.open(place.with_name("agent.lock"), os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return 0
    spool = Spool(usual_place())
    with suppress(FileNotFoundError):
        place.unlink()
    door = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    door.bind(str(place))
    place.chmod(0o600)
    door.listen(8)
    session = Session(spool)
    _until_over(session, lambda: _let_in(session, door))
    with suppress(OSError):
        place.unlink()
    return 0


def _let_in(session: Session, door: socket.socket) -> None:
    while True:
        try:
            guest, _ = door.accept()
        except OSError:
            return

        def close(guest: socket.socket = guest) -> None:
            with suppress(OSError):
                guest.shutdown(socket.SHUT_RDWR)

        def hear(guest: socket.socket = guest) -> None:
            with guest:
                session.serve(lambda: guest.recv(PIECE), guest.sendall, close)

        threading.Thread(target=hear, name="guest", daemon=True).start()


def answer_on(device: Path) -> int:
    """Over a serial line, for as long as this runs: a line has no end, so its session has none either.

    Raises:
        Refused: no such line, or its notes cannot be kept.
    """
    session = Session(Spool(usual_place()))

    def hear() -> None:
        while True:
            handle = opened_raw(device)

            def send(data: bytes, handle: int = handle) -> None:
                view = memoryview(data)
                while view:
                    view = view[os.write(handle, view) :]

            session.serve(lambda handle=handle: os.read(handle, PIECE), send, lambda: None, lasts=True)  # type: ignore[misc]
            with suppress(OSError):
                os.close(handle)
            time.sleep(1.0)

    _until_over(session, hear, lasts=True)
    return 0


def _until_over(session: Session, hear: Callable[[], None], lasts: bool = False) -> None:
    """Until it is over, or told to end."""
    told = threading.Event()
    for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
        signal.signal(number, lambda *_: told.set())
    threading.Thread(target=hear, name="door", daemon=True).start()
    while not told.wait(LOOKED_AT_S):
        if session.over() and not lasts:
            break
    session.end()
