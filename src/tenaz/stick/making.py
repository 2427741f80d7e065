"""A stick made, from nothing to an image that is whole: fetch what is missing, build, write beside, put in place."""

import os
import re
import shutil
import tempfile
import threading
from collections.abc import Callable
from pathlib import Path

from tenaz.core.base.amounts import show_bytes
from tenaz.core.base.errors import Refused
from tenaz.stick.cache import Cache, Cancelled, default_cache
from tenaz.stick.image import BOOK_BYTES, Maker, Plan, Step, chunks
from tenaz.stick.lock import Lock, read_lock
from tenaz.stick.mirrors import mirrors

FETCHING_PART = 0.3
"""Of the time, where anything is to be fetched at all."""
NEEDED_BYTES = 3 << 30
"""Free where it is made: unpacked layers are large."""


SERIAL_LINE = r"tty(S|USB|ACM)\d{1,2}"


class StickMaker:
    """Makes images. ``stop`` may be set from any thread; nothing half done is left then. ``answers`` is the serial line
    on which the machine answers a workbench; none: it works by itself.

    Raises:
        Refused: no serial line.
    """

    def __init__(
        self,
        lock: Lock | None = None,
        cache: Path | None = None,
        mirror: str = "",
        on_step: Callable[[Step], None] = lambda _: None,
        answers: str = "",
    ) -> None:
        if answers and not re.fullmatch(SERIAL_LINE, answers):
            raise Refused(f"{answers!r} is no serial line of a machine; give one as its kernel names it, like ttyS0.")
        self._answers = answers
        self.stop = threading.Event()
        self._lock = lock or read_lock()
        self._on_step = on_step
        self._mirror = mirror
        self._fetched = 0
        self._to_fetch = 1
        self._from = 0.0
        self._cache = Cache(cache or default_cache(), self.stop, self._got)

    def make(self, use: Callable[[Plan], None], book_bytes: int = BOOK_BYTES) -> None:
        """Make all parts and hand them to ``use``; they are thrown away afterwards.

        Raises:
            Refused: something is not to be had, or there is no room; says what and where.
            Cancelled: told to stop.
        """
        self._fetch()
        with tempfile.TemporaryDirectory(prefix="tenaz-stick-") as name:
            free = shutil.disk_usage(name).free
            if free < NEEDED_BYTES:
                raise Refused(
                    f"Making a stick needs {show_bytes(NEEDED_BYTES)} free in {Path(name).parent} for a while, and "
                    f"there are {show_bytes(free)}; make room, or set TMPDIR to a folder that has it."
                )
            maker = Maker(self._lock, self._cache, Path(name), self.stop, self._scaled, self._answers)
            plan = maker.plan(book_bytes)
            if self.stop.is_set():
                raise Cancelled
            use(plan)

    def image(self, out: Path, book_bytes: int = BOOK_BYTES, replace: bool = False) -> int:
        """Make an image file, whole or not at all, and give its bytes. A file that is there already and is no image is
        written over only if that is meant (``replace``).

        Raises:
            Refused: it cannot be written there, or would take the place of something else.
        """
        out = out.absolute()
        if out.is_dir() or not out.parent.is_dir():
            raise Refused(
                f"{out} cannot be an image: {'it is a folder' if out.is_dir() else 'there is no such folder'}."
            )
        if out.exists() and not out.is_file():
            raise Refused(f"{out} is no file; for a device name it as tenaz stick list shows it.")
        if not replace and out.exists() and not _is_image(out):
            raise Refused(
                f"{out} is there already and is no image of a stick: name another file, or say that it is to be lost "
                f"(tenaz stick make --replace)."
            )
        written = 0

        def use(plan: Plan) -> None:
            nonlocal written
            written = self._write_file(plan, out)

        self.make(use, book_bytes)
        return written

    def _write_file(self, plan: Plan, out: Path) -> int:
        handle, beside = tempfile.mkstemp(dir=out.parent, prefix=f".{out.name[:40]}.new-")
        try:
            with os.fdopen(handle, "wb") as file:
                file.truncate(plan.bytes)
                for offset, data in chunks(plan):
                    if self.stop.is_set():
                        raise Cancelled
                    if data.count(0) != len(data):
                        file.seek(offset)
                        file.write(data)
                    self._on_step(Step("writing the image", 0.97 + 0.03 * offset / plan.bytes))
                file.flush()
                os.fsync(file.fileno())
            umask = os.umask(0)
            os.umask(umask)
            Path(beside).chmod(0o666 & ~umask)
            Path(beside).replace(out)
        except OSError as error:
            raise Refused(f"{out} cannot be written: {error.strerror}. Nothing is left of it.") from error
        finally:
            Path(beside).unlink(missing_ok=True)
        return plan.bytes

    def _fetch(self) -> None:
        packages, wheels = self._cache.missing(self._lock)
        if not packages and not wheels:
            return
        self._from = FETCHING_PART
        self._to_fetch = sum(one.size_bytes for one in packages) or 1
        known = mirrors(self._mirror) if packages else {}
        for package in packages:
            self._on_step(Step(f"fetching {package.name}", self._part_fetched()))
            self._cache.fetch(package, known)
        self._on_step(Step(f"fetching {len(wheels)} packages for Python", FETCHING_PART * 0.7))
        self._cache.fetch_wheels(wheels)
        if left := [one.file for one in self._cache.missing(self._lock)[1]]:
            raise Refused(f"Not all wheels could be fetched; there is no {left[0]}. Try again, or: tenaz stick renew.")

    def _got(self, size: int) -> None:
        self._fetched += size
        self._on_step(Step("fetching packages", self._part_fetched()))

    def _part_fetched(self) -> float:
        return FETCHING_PART * 0.7 * self._fetched / self._to_fetch

    def _scaled(self, step: Step) -> None:
        self._on_step(Step(step.doing, self._from + (1 - self._from) * step.part, step.left_s))


def _is_image(path: Path) -> bool:
    """Whether a file is empty, or begins as a disk does: what is lost then can be made again."""
    with path.open("rb") as file:
        start = file.read(520)
    return not start or (start[510:512] == b"\x55\xaa" and start[512:] == b"EFI PART")
