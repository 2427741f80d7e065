"""A door as it is typed, and opened: ``redfish https://HOST login=FILE [ca=FILE] [system=NAME]``, or ``kernel``."""

import shlex
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit

from tenaz.core.base.errors import Refused
from tenaz.core.ports.door import Door
from tenaz.doors.kernel.door import KernelDoor
from tenaz.doors.redfish.door import RedfishDoor
from tenaz.doors.redfish.service import Service
from tenaz.doors.secrets import login_from

EXAMPLE = "redfish https://bmc-3 login=~/.config/tenaz/bmc-3"
STAND_IN = "stand-in"
"""In place of an address: a service of our own on loopback, in front of a simulated machine."""
WORDS = ("login", "ca", "system")


@dataclass(frozen=True, slots=True)
class DoorText:
    """What was typed: ``kind``, the address, and what is said beside it."""

    kind: str
    address: str = ""
    login: str = ""
    ca: str = ""
    system: str = ""

    @property
    def text(self) -> str:
        """As it is kept: places of secrets, never secrets."""
        said = [f"{name}={shlex.quote(getattr(self, name))}" for name in WORDS if getattr(self, name)]
        return " ".join(filter(None, (self.kind, self.address, *said)))


def door_text(typed: str) -> DoorText:
    """Read what was typed.

    Raises:
        Refused: it names no door; a password stands in it.
    """
    try:
        kind, *words = shlex.split(typed)
    except ValueError as error:
        raise Refused(f"{typed[:60]!r} names no door: {error}. It goes {EXAMPLE}, or kernel.") from error
    said = dict(word.split("=", 1) for word in words if "=" in word and "://" not in word.split("=", 1)[0])
    bare = [word for word in words if "=" not in word or "://" in word.split("=", 1)[0]]
    strange = [name for name in said if name not in WORDS]
    if kind == "kernel" and not words:
        return DoorText("kernel")
    if kind == "redfish" and len(bare) == 1 and not strange:
        if urlsplit(bare[0]).password is not None:
            raise Refused(
                "A password has no place in an address: put it into a file of its own, and name that: login=FILE."
            )
        return DoorText("redfish", bare[0], said.get("login", ""), said.get("ca", ""), said.get("system", ""))
    raise Refused(f"{typed[:60]!r} names no door. It goes {EXAMPLE}, or kernel.")


def open_door(told: DoorText) -> Door:
    """Open it; nothing is asked of it yet.

    Raises:
        Refused: its login cannot be read, or its address is none.
    """
    if told.kind == "kernel":
        return KernelDoor()
    if not told.login:
        raise Refused(f"{told.text}: name the file that holds its user and password: login=FILE.")
    login = login_from(told.login)
    ca = Path(told.ca).expanduser() if told.ca else None
    return RedfishDoor(Service(told.address, login.user, login.password, ca), told.system)
