"""An archive that the kernel unpacks as its first file system (``newc`` of cpio): the same entries, the same bytes."""

import stat
from collections.abc import Iterable
from dataclasses import dataclass

TRAILER = "TRAILER!!!"


@dataclass(frozen=True, slots=True)
class Entry:
    """A file, folder, link or device: ``name`` without a leading slash, ``mode`` with its type, ``data`` what a file
    holds or where a link points, ``device`` the numbers (major, minor) of a device.
    """

    name: str
    mode: int
    data: bytes = b""
    device: tuple[int, int] = (0, 0)


def folder(name: str) -> Entry:
    """A folder that all may enter."""
    return Entry(name, stat.S_IFDIR | 0o755)


def file(name: str, data: bytes, mode: int = 0o644) -> Entry:
    """A file."""
    return Entry(name, stat.S_IFREG | mode, data)


def console() -> Entry:
    """Where the first process speaks."""
    return Entry("dev/console", stat.S_IFCHR | 0o600, device=(5, 1))


def archive(entries: Iterable[Entry]) -> bytes:
    """All entries in their order, with the folders that they lie in before them; owned by root, at no time."""
    written: set[str] = set()
    parts: list[bytes] = []
    for entry in entries:
        at = entry.name.split("/")[:-1]
        for depth in range(1, len(at) + 1):
            above = "/".join(at[:depth])
            if above not in written:
                written.add(above)
                parts.append(_packed(folder(above), len(written)))
        if entry.name not in written:
            written.add(entry.name)
            parts.append(_packed(entry, len(written)))
    parts.append(_packed(Entry(TRAILER, 0), 0))
    return b"".join(parts)


def _packed(entry: Entry, inode: int) -> bytes:
    name = entry.name.encode() + b"\0"
    links = 2 if stat.S_ISDIR(entry.mode) else 1
    numbers = (
        inode, entry.mode, 0, 0, links, 0, len(entry.data), 0, 0, *entry.device, len(name), 0,
    )  # fmt: skip
    head = b"070701" + b"".join(b"%08X" % number for number in numbers) + name
    return _to_four(head) + _to_four(entry.data)


def _to_four(data: bytes) -> bytes:
    return data + b"\0" * (-len(data) % 4)
