"""Frames: a JSON object a line, with a sum behind it. A line that never came whole, or came damaged, is none, and what
a login script says is passed over.
"""

import json
import zlib
from typing import Any

MOST_LINE_BYTES = 32 * 2**20
"""A line that is longer is no frame: whoever sends it is not an agent."""

Frame = dict[str, Any]


class NoFrames(ValueError):
    """What comes can be no conversation: it has no end of line."""


def to_bytes(frame: Frame) -> bytes:
    """A frame as it is sent: ASCII, so that no line on the way has to know of letters."""
    body = json.dumps(frame, separators=(",", ":")).encode("ascii")
    return b"%b#%08x\n" % (body, zlib.crc32(body))


class Framer:
    """Bytes in, in pieces of any size; frames out, whole ones only."""

    def __init__(self) -> None:
        self._begun = bytearray()
        self.passed_over: list[str] = []
        """The last lines that were no frames: a login script's words, or why there is no agent."""

    def take(self, data: bytes) -> list[Frame]:
        """The frames that are whole with these bytes.

        Raises:
            NoFrames: a line without an end.
        """
        self._begun += data
        if b"\n" not in data:
            if len(self._begun) > MOST_LINE_BYTES:
                raise NoFrames(f"a line of more than {MOST_LINE_BYTES} bytes")
            return []
        *lines, rest = bytes(self._begun).split(b"\n")
        self._begun = bytearray(rest)
        return [frame for frame in map(self._frame, lines) if frame is not None]

    def _frame(self, line: bytes) -> Frame | None:
        text = line.strip()
        if not text:
            return None
        body, _, told = text.rpartition(b"#")
        if told == b"%08x" % zlib.crc32(body):
            frame = json.loads(body)
            if isinstance(frame, dict):
                return frame
        self.passed_over = [*self.passed_over[-9:], text[:300].decode(errors="replace")]
        return None
