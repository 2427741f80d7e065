"""What lies on an image of a stick, taken out without mounting anything."""

import shutil
import sqlite3
import struct
import subprocess
from contextlib import closing
from pathlib import Path

SECTOR = 512


def partition(image: Path, name: str) -> tuple[int, int]:
    """Offset and bytes of a partition by its name."""
    with image.open("rb") as file:
        file.seek(2 * SECTOR)
        for _ in range(16):
            entry = file.read(128)
            if entry[56:].decode("utf-16-le").rstrip("\0") == name:
                first, last = struct.unpack("<QQ", entry[32:48])
                return first * SECTOR, (last - first + 1) * SECTOR
    raise AssertionError(f"no partition {name}")


def taken_out(image: Path, part: str, name: str, into: Path) -> Path:
    """A file of one of the FAT partitions."""
    offset, _ = partition(image, part)
    subprocess.run(["mcopy", "-o", "-n", "-i", f"{image}@@{offset}", f"::/{name}", str(into)], check=True)
    return into


def put_in(image: Path, part: str, name: str, file: Path) -> None:
    """The opposite."""
    offset, _ = partition(image, part)
    subprocess.run(["mcopy", "-o", "-n", "-i", f"{image}@@{offset}", str(file), f"::/{name}"], check=True)


def with_words(image: Path, words: str, folder: Path) -> Path:
    """The same stick, whose kernel is told something more."""
    copy = folder / "stick.img"
    shutil.copy(image, copy)
    menu = taken_out(copy, "tenaz-boot", "grub/grub.cfg", folder / "grub.cfg")
    menu.write_text(menu.read_text().replace("panic=20", f"panic=20 {words}").replace("timeout=3", "timeout=0"))
    put_in(copy, "tenaz-boot", "grub/grub.cfg", menu)
    return copy


def book_of(image: Path, folder: Path) -> Path:
    """The book as it lies on its own partition, with what was not yet folded into it."""
    offset, size = partition(image, "tenaz-book")
    part = folder / "book.ext4"
    with image.open("rb") as file, part.open("wb") as out:
        file.seek(offset)
        out.write(file.read(size))
    subprocess.run(["e2fsck", "-fy", str(part)], capture_output=True, check=False)
    for name in ("book.db", "book.db-wal"):
        target = folder / name
        target.unlink(missing_ok=True)
        subprocess.run(["debugfs", "-R", f"dump /tenaz/{name} {target}", str(part)], capture_output=True, check=True)
        if target.is_file() and not target.stat().st_size:
            target.unlink()
    return folder / "book.db"


def records(book: Path) -> list[tuple[str, str, str]]:
    """Outcome, who saw it and what was said of each standing record, oldest first."""
    with closing(sqlite3.connect(book)) as connection:
        query = "SELECT outcome, seen_by, detail FROM records WHERE undone_utc IS NULL ORDER BY id"
        return list(connection.execute(query))
