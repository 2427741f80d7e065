"""Hardware error records in the kernel's messages (``/dev/kmsg`` as the kernel documents it)."""

import os
import re
from pathlib import Path

HARDWARE_ERROR = re.compile(
    r"\[Hardware Error\]|\bmce: .*(?:Machine check|error)|\bEDAC\b.*\b[CU]E\b|Memory failure|PCIe Bus Error",
    re.IGNORECASE,
)
MOST_RECORDS_A_READ = 1000
"""A storm of messages is read in pieces, so that one reading never takes long."""


def message_of(record: bytes) -> str:
    """The text of one record, ``level,sequence,time,flags;text`` with continuation lines; empty when it has none."""
    _, separator, text = record.decode(errors="replace").partition(";")
    return text.split("\n", 1)[0].strip() if separator else ""


def is_hardware_error(message: str) -> bool:
    """Whether a message tells of a hardware error."""
    return HARDWARE_ERROR.search(message) is not None


class KernelLog:
    """Counts hardware errors among the messages that came since it was opened.

    Raises:
        OSError: the messages cannot be read here (often: not allowed).
    """

    def __init__(self, path: Path = Path("/dev/kmsg")) -> None:
        self._file = os.open(path, os.O_RDONLY | os.O_NONBLOCK)
        os.lseek(self._file, 0, os.SEEK_END)
        self._count = 0
        self.last = ""

    def errors(self) -> int:
        """Hardware errors so far; ``last`` is the newest message."""
        for _ in range(MOST_RECORDS_A_READ):
            try:
                record = os.read(self._file, 8192)
            except BrokenPipeError:
                # The kernel dropped records that we had not read yet; the next read goes on behind them.
                continue
            except OSError:
                break
            if not record:
                break
            message = message_of(record)
            if is_hardware_error(message):
                self._count += 1
                self.last = message
        return self._count

    def close(self) -> None:
        """Close the messages."""
        os.close(self._file)
