"""Nothing that a test left running outlives it."""

from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import psutil
import pytest


@pytest.fixture(autouse=True)
def _left_running(book: Path) -> Iterator[None]:
    yield
    for process in psutil.process_iter(["cmdline"]):
        if str(book) in (process.info["cmdline"] or ()):
            with suppress(psutil.Error):
                process.kill()
