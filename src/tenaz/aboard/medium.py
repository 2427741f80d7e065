"""The stick under one's feet: its partitions, what the next start is told, and how the machine is left."""

import os
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import Refused
from tenaz.core.machine.kept_free import kernel_words
from tenaz.core.machine.physical_memory import Spans

RUN = Path("/run")
RANGES = "tenaz/ranges"
BLOCK_BYTES = 1024
"""A block of GRUB's environment: always of this size, and written in place, so that it is one or the other."""
MOST_HUNG = 4
"""Ranges that hung are remembered as long as they fit."""
THEN = "tenaz-then"
"""Says to process 1 what is to happen when Tenaz ends: ``restart`` or ``off``."""


def environment_block(values: dict[str, str]) -> bytes:
    """A block of variables as GRUB reads and writes it.

    Raises:
        ValueError: they do not fit.
    """
    lines = "# GRUB Environment Block\n" + "".join(f"{name}={value}\n" for name, value in values.items())
    if len(lines) > BLOCK_BYTES:
        raise ValueError("too much for one block")
    return lines.ljust(BLOCK_BYTES, "#").encode("ascii")


KEYMAPS = Path("/usr/lib/tenaz/keymaps")
KEYBOARD = Path("/book/keyboard")
"""The layout that was chosen, for this start and all that follow."""


def keyboards(folder: Path = KEYMAPS, chosen: Path = KEYBOARD) -> tuple[str, ...]:
    """The layouts of keyboards that there are, the one in use first."""
    names = sorted(path.stem for path in folder.glob("*.map")) if folder.is_dir() else []
    try:
        now = chosen.read_text().strip() or "us"
    except OSError:
        now = "us"
    return tuple(sorted(names, key=lambda name: name != now))


def set_keyboard(name: str, folder: Path = KEYMAPS, chosen: Path = KEYBOARD) -> None:
    """Take a layout now, and at every start from this stick.

    Raises:
        Refused: there is none of that name, or the console does not take it.
    """
    known = keyboards(folder, chosen)
    if name not in known:
        raise Refused(f"there is no keyboard {name[:20]!r}; there are {', '.join(sorted(known)) or 'none'}.")
    done = subprocess.run(
        ["loadkeys", "-C", "/dev/tty1", "-u", str(folder / f"{name}.map")], capture_output=True, text=True, check=False
    )
    if done.returncode:
        raise Refused(f"the console does not take it: {done.stderr.strip() or 'no reason was given'}.")
    write_whole(chosen, name)


@contextmanager
def mounted(part: str, run: Path = RUN) -> Iterator[Path]:
    """A partition of the stick (``boot`` or ``reports``), mounted as long as it is written: whoever pulls the stick out
    a moment later finds it whole.

    Raises:
        Refused: the stick is not there any more, or cannot be written.
    """
    try:
        device = f"/dev/{(run / f'stick-{part}').read_text().strip()}"
    except OSError as error:
        raise Refused("This Tenaz was not started from a stick.") from error
    at = run / f"mounted-{part}"
    at.mkdir(exist_ok=True)
    done = subprocess.run(
        ["mount", "-t", "vfat", "-o", "sync,utf8", device, str(at)], capture_output=True, text=True, check=False
    )
    if done.returncode:
        raise Refused(
            f"The stick's partition {part} cannot be mounted: {done.stderr.strip() or 'no reason was given'}."
        )
    try:
        yield at
    finally:
        os.sync()
        subprocess.run(["umount", str(at)], capture_output=True, check=False)


def tell_next_start(ranges: Spans) -> None:
    """Have the next start keep these ranges from the kernel (none: nothing). It is tried once.

    Raises:
        Refused: an earlier start with them did not come up.
    """
    with mounted("boot") as boot:
        known = variables((boot / RANGES).read_bytes())
        words, hung = kernel_words(ranges) if ranges else "", known.get("hung", "")
        if words and words in hung.split(","):
            raise Refused("a start with this range kept free did not come up: it is not tried again")
        told = {"ranges": words, "trying": "0"} if words else {}
        _overwrite(boot / RANGES, environment_block({**told, **({"hung": hung} if hung else {})}))


def variables(block: bytes) -> dict[str, str]:
    """What a block of GRUB's environment holds."""
    lines = block.decode("ascii", "replace").splitlines()
    return dict(line.split("=", 1) for line in lines if "=" in line and not line.startswith("#"))


def came_up(cmdline: Path = Path("/proc/cmdline")) -> None:
    """This start came up: what it was told may be tried again. Where it was not told what is listed, the start before
    was, and hung: those ranges are put aside, so that no later start tries them either.
    """
    with suppress(Refused, OSError), mounted("boot") as boot:
        left = after_start(variables((boot / RANGES).read_bytes()), cmdline.read_text())
        if left is not None:
            _overwrite(boot / RANGES, environment_block(left))


def after_start(known: dict[str, str], cmdline: str) -> dict[str, str] | None:
    """What the next start is to find, after one that came up with this command line; None where nothing changes."""
    ranges = known.get("ranges", "")
    if known.get("trying") != "1" or not ranges:
        return None
    if all(word in cmdline.split() for word in ranges.split()):
        return {**known, "trying": "0"}
    hung = [one for one in known.get("hung", "").split(",") if one]
    return {"hung": ",".join([*hung, ranges][-MOST_HUNG:])}


def trouble(run: Path = RUN) -> str:
    """What went wrong with the stick's own book at this start; empty where nothing did."""
    try:
        return (run / "book-trouble").read_text().strip()
    except OSError:
        return ""


def leave_for(then: str, run: Path = RUN) -> None:
    """Say what process 1 does once Tenaz has ended: ``restart`` or ``off``."""
    (run / THEN).write_text(then)


def _overwrite(path: Path, block: bytes) -> None:
    handle = os.open(path, os.O_WRONLY)
    try:
        os.write(handle, block)
        os.fsync(handle)
    finally:
        os.close(handle)
