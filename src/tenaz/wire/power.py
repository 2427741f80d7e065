"""A rig's power, switched from here: woken over the network, or by a switch that takes a web address."""

import re
import socket
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from urllib.parse import urlsplit

from tenaz.core.base.errors import Refused

EXAMPLES = "wake 02:00:5e:10:00:01, or http://switch.lan/3?turn={state}"
MAC = r"([0-9a-fA-F]{2})(?:[:-]([0-9a-fA-F]{2})){5}"
STATE = "{state}"
OFF_S = 6.0
"""So long supplies stay without power: less, and some do not lose it."""
SWITCHES_AFTER_S = 180.0
"""So long a rig is waited for that does not answer: it may train its memory, or the line be cut."""
MOST_TRIES = 2
LIMIT_S = 10.0


class Power:
    """How the power of one rig is switched. ``again`` says in words what came of it."""

    def __init__(self, act: Callable[[], str] | None = None, after_s: float = SWITCHES_AFTER_S) -> None:
        self._act = act
        self.after_s = after_s

    @property
    def known(self) -> bool:
        """Whether it can be switched at all."""
        return self._act is not None

    def again(self) -> str:
        """Off, where that can be, and on."""
        return self._act() if self._act is not None else ""


def power_of(text: str) -> Power:
    """As it is typed; nothing typed is no power to switch.

    Raises:
        Refused: it is neither of the two; gives examples.
    """
    kind, _, rest = text.strip().partition(" ")
    if not kind:
        return Power()
    if kind == "wake" and re.fullmatch(MAC, rest.strip()):
        mac = bytes.fromhex(re.sub(r"[:-]", "", rest.strip()))
        return Power(lambda: _wake(mac))
    try:
        parts = urlsplit(text.strip())
        whole = parts.scheme in ("http", "https") and bool(parts.hostname) and STATE in text and " " not in text.strip()
    except ValueError:
        whole = False
    if whole:
        return Power(lambda: _switch(text.strip()))
    raise Refused(f"{text!r} switches no power. Give {EXAMPLES}; {STATE} becomes off, then on.")


def _wake(mac: bytes) -> str:
    """The packet of wake on LAN: six bytes of ones, then the address sixteen times."""
    try:
        with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as end:
            end.setsockopt(socket.SOL_SOCKET, socket.SO_BROADCAST, 1)
            end.sendto(b"\xff" * 6 + mac * 16, ("255.255.255.255", 9))
    except OSError as error:
        return f"it could not be woken: {error.strerror}"
    return "it was woken over the network; that starts it if it is off, and does nothing to one that froze"


def _switch(template: str) -> str:
    for state, wait_s in (("off", OFF_S), ("on", 0.0)):
        try:
            with urllib.request.urlopen(template.replace(STATE, state), timeout=LIMIT_S):
                pass
        except (OSError, urllib.error.URLError, ValueError) as error:
            reason = getattr(error, "reason", error)
            return f"its power could not be switched {state}: {reason}"
        time.sleep(wait_s)
    return "its power was switched off and on"
