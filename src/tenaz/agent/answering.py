"""How a session is reached: through a socket of the user's own, or over a serial line."""

import os
import signal
import socket
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from tenaz.agent.front import PIECE, socket_place
from tenaz.agent.session import Session
from tenaz.core.base.errors import Refused
from tenaz.probe.system import boot_id
from tenaz.wire.place import usual_place
from tenaz.wire.spool import Spool
from tenaz.wire.ways import SerialEnds

LOOKED_AT_S = 1.0


def stay() -> int:
    """The session itself; one a user and machine. Ends when nobody is there and nothing runs.

    Raises:
        Refused: its notes cannot be kept.
    """
    import fcntl  # noqa: PLC0415 - an agent is at work on Linux only; what it says is read elsewhere too

    place = socket_place()
    lock = os.open(place.with_name("agent.lock"), os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return 0
    spool = Spool(usual_place(), boot_id())
    os.ftruncate(lock, 0)
    os.pwrite(lock, f"{os.getpid()} {boot_id()}\n".encode(), 0)
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
        os.ftruncate(lock, 0)
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
    # One that is not there is said before anything waits for it.
    lines = [SerialEnds(device)]
    session = Session(Spool(usual_place(), boot_id()))

    def hear() -> None:
        while True:
            if lines:
                line = lines.pop()
                session.serve(line.read, line.write, _nothing, lasts=True)
                line.close()
            time.sleep(LOOKED_AT_S)
            # A line that was pulled out may come back.
            with suppress(Refused):
                lines.append(SerialEnds(device))

    _until_over(session, hear, lasts=True)
    return 0


def _nothing() -> None:
    """A line is never hung up."""


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
