"""What a kernel kept of what was before this boot: records that survived a crash, and what hardware told of errors.

Source: the kernel's documentation of pstore, EDAC and of its messages.
"""

import os
import re
import time
from contextlib import suppress
from pathlib import Path

from tenaz.probe.kernel_log import is_hardware_error, messages
from tenaz.probe.tree import Tree
from tenaz.wire.protocol import Kept

PSTORE = "sys/fs/pstore"
MOST_RECORD_BYTES = 65536
MOST_LINES = 8
MOST_RECORDS = 100_000
PANIC = re.compile(
    r"Kernel panic|BUG:|Oops|general protection fault|Machine check|Fatal|watchdog: .*LOCKUP", re.IGNORECASE
)
STAMP = re.compile(r"^<\d+>|^\[[ 0-9.]+\]\s*")


def up_s() -> float:
    """Seconds since this boot began."""
    return time.clock_gettime(time.CLOCK_BOOTTIME)


def kept(boot_id: str, root: Path = Path("/"), fresh_s: float = 86400.0) -> Kept:
    """What there is to find now; records of a crash that are older than ``fresh_s`` are another's."""
    return Kept(boot_id, up_s(), _crash(root, fresh_s), _hardware(root))


def _crash(root: Path, fresh_s: float) -> str:
    """The words of the newest crash that the firmware's or the kernel's store kept; empty: none is there."""
    newest, told_s = "", 0.0
    for path in sorted((root / PSTORE).glob("dmesg-*")):
        with suppress(OSError):
            at_s = path.stat().st_mtime
            if time.time() - at_s > fresh_s or at_s < told_s:
                continue
            lines = [STAMP.sub("", line) for line in _start_of(path).splitlines()]
            found = next((line.strip() for line in lines if PANIC.search(line)), "")
            if found:
                newest, told_s = found[:200], at_s
    return newest


def _start_of(path: Path) -> str:
    with path.open("rb") as file:
        return file.read(MOST_RECORD_BYTES).decode(errors="replace")


def _hardware(root: Path) -> tuple[str, ...]:
    """Hardware errors in this boot's messages so far: those of the crash before are told first of all."""
    found = [message for message in _messages(root / "dev/kmsg") if is_hardware_error(message)]
    tree = Tree(root)
    for folder in tree.folders("sys/devices/system/edac/mc/mc[0-9]*"):
        for which, word in (("ce", "corrected"), ("ue", "uncorrected")):
            count = tree.whole(f"{folder}/{which}_count")
            if count:
                found.append(f"{count} {word} by {folder.rsplit('/', 1)[1]}")
    return tuple(found[:MOST_LINES])


def _messages(path: Path) -> list[str]:
    """The messages of this boot, oldest first; none where they cannot be read."""
    try:
        file = os.open(path, os.O_RDONLY | os.O_NONBLOCK)
    except OSError:
        return []
    try:
        return list(messages(file, MOST_RECORDS))
    finally:
        os.close(file)
