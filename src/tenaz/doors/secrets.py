"""A user and a password for a door: from a private file or the system's keyring; never kept, shown or passed on."""

import os
import stat
from dataclasses import dataclass, field
from importlib import import_module
from pathlib import Path

from tenaz.core.base.errors import Refused
from tenaz.core.base.systems import CLOEXEC

KEYRING = "keyring:"
MOST_BYTES = 4096


@dataclass(frozen=True, slots=True)
class Login:
    """Who logs in. The password is in no representation of it."""

    user: str
    password: str = field(repr=False)


def login_from(place: str) -> Login:
    """From ``FILE`` (two lines: user, password; readable by its owner only) or ``keyring:NAME/USER``.

    Raises:
        Refused: it is not there, others may read it, or it holds no two lines.
    """
    if place.startswith(KEYRING):
        return _from_keyring(place.removeprefix(KEYRING))
    path = Path(place).expanduser()
    try:
        handle = os.open(path, os.O_RDONLY | CLOEXEC)
    except OSError as error:
        raise Refused(f"{path}, with user and password of a door, cannot be read: {error.strerror}.") from error
    with os.fdopen(handle) as file:
        found = os.fstat(file.fileno())
        if not stat.S_ISREG(found.st_mode) or found.st_mode & 0o077:
            raise Refused(f"{path} holds a password and may be read by others: chmod 600 {path}.")
        lines = file.read(MOST_BYTES).splitlines()
    if len(lines) < 2 or not lines[0] or not lines[1]:
        raise Refused(f"{path} is to hold two lines: the user, and the password.")
    return Login(lines[0].strip(), lines[1])


def _from_keyring(name: str) -> Login:
    service, _, user = name.rpartition("/")
    if not service or not user:
        raise Refused(f"{KEYRING}{name[:40]}: name the entry and the user, like keyring:bench-3/operator.")
    try:
        keyring = import_module("keyring")
    except ImportError as error:
        raise Refused("The system's keyring needs the package keyring: pip install keyring, or name a file.") from error
    password = keyring.get_password(service, user)
    if not password:
        raise Refused(f"The keyring has no password for {user} at {service}.")
    return Login(user, str(password))
