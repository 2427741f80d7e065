"""Bytes written whole."""

import os


def write_all(handle: int, data: bytes) -> None:
    """Write all of it; blocks while the other side takes nothing.

    Raises:
        OSError: the other side is gone.
    """
    view = memoryview(data)
    while view:
        view = view[os.write(handle, view) :]
