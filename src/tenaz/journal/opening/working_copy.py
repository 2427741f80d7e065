"""Opening the working copy of a book on a server: in step with it where it answers, alone where it does not."""

from pathlib import Path

from tenaz.core.base.errors import BookError
from tenaz.journal.opening.addresses import server_address
from tenaz.journal.opening.copies import CopyLock
from tenaz.journal.opening.feeding import Feeding
from tenaz.journal.opening.identity import AnotherBook, own_identity
from tenaz.journal.opening.locks import BookLock, BookLooked
from tenaz.journal.opening.opening import OpenBook, open_file
from tenaz.journal.opening.places import copy_at
from tenaz.journal.opening.server import open_on_server
from tenaz.journal.store import Store


def open_working_copy(place: str, read_only: bool = False) -> OpenBook:
    """Open this machine's copy of a book on a server, made where there is none yet.

    Raises:
        BookError: the address is none, the server has never been reached from here and does not answer, or the copy is
            of another book.
    """
    address = server_address(place)
    path = copy_at(place)
    known = path.exists()
    if not known:
        # Whether it answers, and lets us in, is known before anything is made here.
        open_on_server(address, read_only).close()
    copy = open_file(path, read_only=False)
    feeding = Feeding(address, copy.store)
    try:
        _meet_home(feeding, copy.store, path, known)
    except BaseException:
        feeding.close()
        copy.close()
        if not known:
            _forget(path)
        raise
    feeding.start()
    why = copy.store.read_only or feeding.looks_only or ("the book was opened for reading only." if read_only else "")
    if not why and isinstance(copy.lock, BookLock):
        return OpenBook(copy.store, CopyLock(copy.lock, feeding), feeding=feeding)
    if copy.lock is not None:
        copy.lock.release()
    return OpenBook(copy.store.looked_at(why), CopyLock(BookLooked(path), feeding), feeding=feeding)


def _meet_home(feeding: Feeding, copy: Store, path: Path, known: bool) -> None:
    """See that the copy is its own, and of the book that answers at that address; bring both in step.

    Raises:
        BookError: it is of another; or nothing answers, and there is no copy yet.
    """
    own_identity(copy.database, path)
    try:
        feeding.connect()
        feeding.catch_up()
    except AnotherBook:
        raise
    except BookError as error:
        if not known:
            raise
        feeding.is_away(str(error))


def _forget(path: Path) -> None:
    """A copy that was only just made, and holds nothing."""
    for end in ("", "-wal", "-shm"):
        path.with_name(path.name + end).unlink(missing_ok=True)
