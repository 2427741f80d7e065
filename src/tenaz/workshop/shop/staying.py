"""A run that goes on when its workbench is left: whoever works on its rig again joins it here.

The socket lies in a folder of the user's own that nobody else may enter. What goes through it is JSON, a message in
each piece; its form is that of :mod:`tenaz.orders.wire`.
"""

import json
import os
import socket
import struct
import tempfile
import threading
import warnings
from contextlib import suppress
from dataclasses import dataclass
from hashlib import sha256
from multiprocessing.connection import Connection, Listener
from pathlib import Path
from typing import Any

from platformdirs import user_runtime_path

from tenaz.core.base.errors import BookError, TenazError
from tenaz.core.base.systems import owns, user_number
from tenaz.core.ports.bench import HowLong, Question
from tenaz.core.rigs.rig import BenchKind
from tenaz.orders.wire import PROTOCOL, read_order, write_answer, write_event
from tenaz.wire.forms import dump
from tenaz.workshop.bench.mishaps import told
from tenaz.workshop.shop.shop import Workshop

MOST_MESSAGE_BYTES = 32 * 2**20
LOOKED_AT_S = 0.5
TAKEN = "somebody has joined it already"
WAITED_FOR_S, TAKES_WITHIN_S = 2.0, 5
"""How long one who comes waits for the one before to be gone, and how long one who is told something may take."""


MOST_PATH_BYTES = 100
"""The system takes no longer name for a socket."""


def socket_of(book: Path, rig: str) -> Path:
    """Where the run on a rig of a book is joined.

    Raises:
        BookError: there is no folder that only the user may enter.
    """
    what = f"{book.resolve()}\n{rig}"
    name = f"{sha256(what.encode('utf-8', 'surrogateescape')).hexdigest()[:24]}.sock"
    with warnings.catch_warnings():
        # Where the system's own folder cannot be used another one is, and nobody need be told.
        warnings.simplefilter("ignore")
        folder = user_runtime_path("tenaz", appauthor=False)
    if len(os.fsencode(folder / name)) > MOST_PATH_BYTES:
        folder = Path(tempfile.gettempdir()) / f"tenaz-{user_number()}"
    if len(os.fsencode(folder / name)) > MOST_PATH_BYTES:
        raise BookError(f"{folder} is too long a name to be joined through; nothing can be left running.")
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        found = folder.stat(follow_symlinks=False)
        if not owns(found.st_uid) or found.st_mode & 0o077:
            raise BookError(f"{folder} may be entered by others; nothing can be left running: mend its rights.")
    except OSError as error:
        raise BookError(f"{folder} cannot be made: {error.strerror}. Nothing can be left running.") from error
    return folder / name


def listen(book: Path, rig: str) -> Listener:
    """Open the door through which the run on a rig of a book is joined.

    Raises:
        BookError: it cannot be opened; says why.
    """
    place = socket_of(book, rig)
    with suppress(OSError):
        place.unlink()
    try:
        return Listener(str(place), family="AF_UNIX", backlog=8)
    except OSError as error:
        raise BookError(f"{place} cannot be made: {error.strerror}. Nothing can be left running.") from error


@dataclass(frozen=True, slots=True)
class State:
    """What a guest cannot read in the book: whether something runs, what is worked on, what is asked, what would be
    taken back next.
    """

    running: bool
    rig: str
    bench: BenchKind
    asking: Question | HowLong | None
    undo: str
    made: int


def send(end: "Connection[Any, Any]", message: dict[str, Any]) -> None:
    """One message."""
    end.send_bytes(json.dumps(message).encode())


def receive(end: "Connection[Any, Any]") -> dict[str, Any]:
    """The next message.

    Raises:
        OSError, EOFError, ValueError: the other end is gone, or sends what is none.
    """
    message = json.loads(end.recv_bytes(MOST_MESSAGE_BYTES))
    if not isinstance(message, dict):
        raise ValueError("no message")
    return message


class Staying:
    """Serves the one who joins, one at a time, until nothing runs any more and nobody is there. Without a ``listener``
    nobody can; what runs is run to its end all the same.
    """

    def __init__(self, workshop: Workshop, listener: Listener | None) -> None:
        self._workshop = workshop
        self._listener = listener
        self._guest: Connection[Any, Any] | None = None
        self._sending = threading.Lock()
        self._room = threading.Lock()

    def serve(self) -> None:
        """Until the run has ended and the guest, if any, has gone."""
        self._workshop.publish_to(lambda event: self._send(write_event(event)))
        if self._listener is not None:
            threading.Thread(target=self._receive, args=(self._listener,), name="guests", daemon=True).start()
        try:
            idle = threading.Event()
            while self._workshop.at.runs or self._guest is not None:
                idle.wait(LOOKED_AT_S)
        finally:
            if self._listener is not None:
                with suppress(OSError):
                    # Its name goes with it.
                    self._listener.close()

    def _send(self, message: dict[str, Any]) -> None:
        guest = self._guest
        if guest is None:
            return
        try:
            with self._sending:
                send(guest, message)
        except (OSError, ValueError):
            # One that does not take what it is told would hold up what runs; half a message is no message. Shut, not
            # closed: whoever waits for its next order is to hear of it.
            with suppress(OSError), socket.fromfd(guest.fileno(), socket.AF_UNIX, socket.SOCK_STREAM) as end:
                end.shutdown(socket.SHUT_RDWR)

    def _receive(self, listener: Listener) -> None:
        while True:
            try:
                guest = listener.accept()
            except (OSError, EOFError):
                if self._over(listener):
                    return
                continue
            threading.Thread(target=self._let_in, args=(guest,), name="guest", daemon=True).start()

    def _over(self, listener: Listener) -> bool:
        """Whether the door is closed; a guest that went away before it was let in closes nothing."""
        return not Path(str(listener.address)).exists()

    def _let_in(self, guest: "Connection[Any, Any]") -> None:
        # Whoever was here may have been killed a moment ago.
        if not self._room.acquire(timeout=WAITED_FOR_S):
            with suppress(OSError):
                send(guest, {"taken": TAKEN})
            guest.close()
            return
        self._guest = guest
        try:
            with suppress(OSError, EOFError, ValueError):
                _impatient(guest)
                self._entertain(guest)
        finally:
            self._guest = None
            self._room.release()
            with suppress(OSError):
                guest.close()

    def _state(self) -> State:
        running = self._workshop.running
        return State(
            self._workshop.at.runs,
            self._workshop.rig.name,
            self._workshop.bench,
            running.asking,
            self._workshop.next_back(),
            self._workshop.at.undoing.made,
        )

    def _entertain(self, guest: "Connection[Any, Any]") -> None:
        """Carry out what one guest orders, until it goes."""
        workshop = self._workshop
        hello = {"protocol": PROTOCOL, "rig": workshop.rig.name, "bench": workshop.bench.value, "pid": os.getpid()}
        self._send(hello)
        while True:
            asked = receive(guest)
            number = asked.get("number")
            try:
                if "order" in asked:
                    order = read_order(asked)
                    came = write_answer(order, workshop.do(order))
                else:
                    came = dump(State, self._state())
                self._send({"number": number, "came": came})
            except TenazError as error:
                self._send({"number": number, "refused": str(error)})
            except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
                self._send({"number": number, "refused": told(error, "What runs goes on.")})


def _impatient(guest: "Connection[Any, Any]") -> None:
    """Do not wait for ever for one that no longer reads."""
    with socket.fromfd(guest.fileno(), socket.AF_UNIX, socket.SOCK_STREAM) as end:
        end.setsockopt(socket.SOL_SOCKET, socket.SO_SNDTIMEO, struct.pack("ll", TAKES_WITHIN_S, 0))
