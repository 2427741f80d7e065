"""The debugger's door of the emulator: a bit of physical memory turned over, as a cell would."""

import re
import socket
import time
from pathlib import Path


class Debugger:
    """Speaks the remote protocol of GDB over a socket; stops the machine only for as long as a bit takes."""

    def __init__(self, path: Path) -> None:
        self._line = socket.socket(socket.AF_UNIX)
        self._line.settimeout(10)
        self._line.connect(str(path))
        self._heard = b""
        # Whoever connects stops the machine.
        self._ask("?")
        self._ask("Qqemu.PhyMemMode:1")

    def flip(self, address: int, bit: int) -> tuple[int, int]:
        """Turn a bit over in the 64-bit word at a physical address; gives what stood there and what does now."""
        said = self._ask(f"m{address:x},8")
        while not re.fullmatch("[0-9a-f]{16}", said):
            # Why it stopped may be told once more than it was asked for, and then every answer comes one later.
            said = self._answer()
        before = int.from_bytes(bytes.fromhex(said), "little")
        after = before ^ (1 << bit)
        assert self._ask(f"M{address:x},8:{after.to_bytes(8, 'little').hex()}") == "OK"
        return before, after

    def go_on(self) -> None:
        """Let the machine run."""
        self._send("c")

    def stop(self) -> None:
        """Stop it."""
        self._line.sendall(b"\x03")
        self._answer()

    def _ask(self, words: str) -> str:
        self._send(words)
        return self._answer()

    def _send(self, words: str) -> None:
        body = words.encode()
        self._line.sendall(b"$" + body + b"#%02x" % (sum(body) % 256))

    def _answer(self) -> str:
        until = time.monotonic() + 10
        while time.monotonic() < until:
            start = self._heard.find(b"$")
            end = self._heard.find(b"#", start)
            if start >= 0 and end >= 0 and len(self._heard) >= end + 3:
                said, self._heard = self._heard[start + 1 : end].decode(), self._heard[end + 3 :]
                self._line.sendall(b"+")
                return said
            self._heard += self._line.recv(1 << 16)
        raise AssertionError(f"the debugger's door does not answer: {self._heard!r}")
