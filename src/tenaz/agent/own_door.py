"""What of this machine's own settings may be written here, for who works on it from elsewhere."""

import subprocess
from pathlib import Path
from typing import Any

from tenaz.core.base.errors import Refused
from tenaz.doors.kernel.door import KernelDoor
from tenaz.wire.protocol import Stands

RESTARTED_WITHIN_S = 20.0


def at_the_door(do: str, value: Any, root: Path = Path("/")) -> Any:
    """Answer one question about it.

    Raises:
        Refused: it is not taken, or this is not root.
    """
    door = KernelDoor(root)
    match do:
        case "offers":
            return door.offers()
        case "stands":
            return Stands(dict(door.read()), dict(door.pending()))
        case "set":
            return door.write(value)
        case _:
            return _restart()


def _restart() -> None:
    """As its system does it: what is open is written first."""
    try:
        ran = subprocess.run(
            ["systemctl", "reboot"], capture_output=True, text=True, timeout=RESTARTED_WITHIN_S, check=False
        )
    except (OSError, subprocess.TimeoutExpired) as error:
        raise Refused(f"This system cannot be started anew from here: {error}. Restart it by hand.") from error
    if ran.returncode != 0:
        raise Refused(f"This system does not let itself be started anew: {ran.stderr.strip()[:200]}. Do it by hand.")
