"""Hardware error records in the kernel's messages (``/dev/kmsg`` as the kernel documents it)."""

import os
import re
from collections.abc import Iterator
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


def messages(file: int, most: int) -> Iterator[str]:
    """The messages that can be read of an open ``/dev/kmsg`` now, so many records at the most."""
    for _ in range(most):
        try:
            record = os.read(file, 8192)
        except BrokenPipeError:
            # The kernel dropped records that we had not read yet; the next read goes on behind them.
            continue
        except OSError:
            return
        if not record:
            return
        yield message_of(record)


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
        for message in messages(self._file, MOST_RECORDS_A_READ):
            if is_hardware_error(message):
                self._count += 1
                self.last = message
        return self._count

    def close(self) -> None:
        """Close the messages."""
        os.close(self._file)
