"""The debugger's door of the emulator: a bit of physical memory turned over, as a cell would."""

import socket
import time
from pathlib import Path


class Debugger:
    """Speaks the remote protocol of GDB over a socket; stops the machine only for as long as a bit takes."""

    def __init__(self, path: Path) -> None:
        self._line = socket.socket(socket.AF_UNIX)
        self._line.settimeout(10)
        self._line.connect(str(path))
        # Whoever connects stops the machine.
        self._ask("?")
        self._ask("Qqemu.PhyMemMode:1")

    def flip(self, address: int, bit: int) -> tuple[int, int]:
        """Turn a bit over in the 64-bit word at a physical address; gives what stood there and what does now."""
        before = int.from_bytes(bytes.fromhex(self._ask(f"m{address:x},8")), "little")
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
        data, until = b"", time.monotonic() + 10
        while time.monotonic() < until:
            data += self._line.recv(1 << 16)
            start = data.find(b"$")
            end = data.find(b"#", start)
            if start >= 0 and end >= 0 and len(data) >= end + 3:
                self._line.sendall(b"+")
                return data[start + 1 : end].decode()
        raise AssertionError(f"the debugger's door does not answer: {data!r}")
