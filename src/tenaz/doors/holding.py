"""One Tenaz a door: two that set through the same would undo each other's values."""

import os
import tempfile
from contextlib import suppress
from hashlib import sha256
from pathlib import Path

from platformdirs import user_state_path

from tenaz.core.base.errors import Refused
from tenaz.core.base.systems import CLOEXEC, NOFOLLOW, user_number

try:
    import fcntl
except ImportError:
    # A system without such locks.
    fcntl = None  # type: ignore[assignment]


class Held:
    """A door that is held, until it is released or its process is gone."""

    def __init__(self, handle: int) -> None:
        self._handle = handle

    def release(self) -> None:
        """Let go of it."""
        handle, self._handle = self._handle, -1
        if handle >= 0:
            os.close(handle)


def hold_door(text: str) -> Held:
    """Be the only one of this user's who sets through a door.

    Raises:
        Refused: somebody else is.
    """
    folder = user_state_path("tenaz", appauthor=False) / "doors"
    with suppress(OSError):
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    if not os.access(folder, os.W_OK):
        folder = Path(tempfile.gettempdir())
    name = f"door-{user_number()}-{sha256(text.encode()).hexdigest()[:24]}.lock"
    handle = os.open(folder / name, os.O_CREAT | os.O_RDWR | CLOEXEC | NOFOLLOW, 0o600)
    if fcntl is None:
        return Held(handle)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        os.close(handle)
        raise Refused(f"Another Tenaz sets through {text} now: let that end first.") from None
    except OSError:
        # A file system without such locks.
        return Held(handle)
    return Held(handle)
