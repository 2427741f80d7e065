"""A run that goes on when its workbench is left: whoever starts one on the same book again joins it here.

The socket lies in a folder of the user's own that nobody else may enter; what comes through it is as trusted as the
user's own keys.
"""

import os
import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from hashlib import sha256
from multiprocessing.connection import Connection, Listener
from pathlib import Path
from typing import Any

from platformdirs import user_runtime_path

from tenaz import __version__
from tenaz.core.errors import BookError, TenazError
from tenaz.core.ports import HowLong, Question
from tenaz.core.rigs import BenchKind
from tenaz.workshop.mishaps import told
from tenaz.workshop.shop import Workshop

HELLO = f"tenaz {__version__}"
"""Orders and views are those of one version."""
LOOKED_AT_S = 0.5


def socket_of(book: Path) -> Path:
    """Where the run on a book is joined.

    Raises:
        BookError: there is no folder that only the user may enter.
    """
    folder = user_runtime_path("tenaz", appauthor=False)
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        if folder.stat().st_uid != os.getuid() or folder.stat().st_mode & 0o077:
            raise BookError(f"{folder} may be entered by others; nothing can be left running: mend its rights.")
    except OSError as error:
        raise BookError(f"{folder} cannot be made: {error.strerror}. Nothing can be left running.") from error
    name = sha256(str(book.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]
    return folder / f"{name}.sock"


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


class Staying:
    """Serves the one who joins, one at a time, until nothing runs any more and nobody is there."""

    def __init__(self, workshop: Workshop, place: Path) -> None:
        self._workshop = workshop
        self._place = place
        self._guest: Connection[Any, Any] | None = None
        self._sending = threading.Lock()

    def serve(self) -> None:
        """Until the run has ended and the guest, if any, has gone."""
        self._workshop.publish_to(lambda event: self._send(("event", event)))
        with suppress(OSError):
            self._place.unlink()
        listener = Listener(str(self._place), family="AF_UNIX")
        threading.Thread(target=self._receive, args=(listener,), name="guests", daemon=True).start()
        try:
            idle = threading.Event()
            while self._workshop.running.now or self._guest is not None:
                idle.wait(LOOKED_AT_S)
        finally:
            with suppress(OSError):
                self._place.unlink()
            listener.close()

    def _send(self, message: object) -> None:
        guest = self._guest
        if guest is not None:
            with self._sending, suppress(OSError, ValueError):
                guest.send(message)

    def _receive(self, listener: Listener) -> None:
        while True:
            try:
                guest = listener.accept()
            except (OSError, EOFError):
                return
            self._guest = guest
            with suppress(OSError, EOFError):
                self._entertain(guest)
            self._guest = None
            guest.close()

    def _state(self) -> State:
        running = self._workshop.running
        return State(
            running.now, self._workshop.rig.name, self._workshop.bench, running.asking, self._workshop.next_back()
        )

    def _entertain(self, guest: "Connection[Any, Any]") -> None:
        """Carry out what one guest orders, until it goes."""
        workshop = self._workshop
        self._send((HELLO, workshop.rig.name, workshop.bench, os.getpid()))
        while True:
            number, what, order = guest.recv()
            try:
                came: object = self._state() if what == "state" else workshop.do(order)
                self._send(("came", number, came if _plain(came) else None))
            except TenazError as error:
                self._send(("refused", number, str(error)))
            except Exception as error:
                self._send(("refused", number, told(error, "What runs goes on.")))


def _plain(came: object) -> bool:
    """Whether it can be told through the socket."""
    return came is None or isinstance(came, str | tuple | int | float | State)


Serve = Callable[[Workshop], None]


def stay_on(book: Path) -> Serve:
    """What a desk does with its workshop to go on without a workbench."""
    place = socket_of(book)
    return lambda workshop: Staying(workshop, place).serve()
