"""Debian's packages opened without Debian's tools: an archive of archives, its files written below a folder."""

import io
import tarfile
from collections.abc import Callable, Iterator
from pathlib import Path

from tenaz.core.base.errors import Refused

AR_MAGIC = b"!<arch>\n"
HEAD_BYTES = 60


def members(data: bytes) -> Iterator[tuple[str, bytes]]:
    """Name and content of each member of an ``ar`` archive.

    Raises:
        Refused: no archive of a package.
    """
    if not data.startswith(AR_MAGIC):
        raise Refused("This file is no Debian package.")
    at = len(AR_MAGIC)
    while at + HEAD_BYTES <= len(data):
        name = data[at : at + 16].decode("ascii", "replace").strip().rstrip("/")
        size = int(data[at + 48 : at + 58])
        start = at + HEAD_BYTES
        yield name, data[start : start + size]
        at = start + size + size % 2


def files_of(path: Path) -> tarfile.TarFile:
    """The files of a package, to be read.

    Raises:
        Refused: no archive of a package.
    """
    for name, data in members(path.read_bytes()):
        if name.startswith("data.tar"):
            return tarfile.open(fileobj=io.BytesIO(data))
    raise Refused(f"{path} holds no files: it is damaged; delete it, and it is fetched again.")


def unpack(path: Path, into: Path, wanted: Callable[[str], bool] = lambda _: True) -> None:
    """Write the files of a package (those that are ``wanted``, by names without a leading slash) below a folder."""
    with files_of(path) as archive:
        for one in archive:
            name = one.name.removeprefix("./").rstrip("/")
            if not name or not wanted(name) or not (one.isdir() or one.isreg() or one.issym() or one.islnk()):
                continue
            target = into / merged(name)
            if one.isdir():
                target.mkdir(parents=True, exist_ok=True)
                continue
            target.parent.mkdir(parents=True, exist_ok=True)
            target.unlink(missing_ok=True)
            if one.issym():
                target.symlink_to(one.linkname)
            elif one.islnk():
                target.hardlink_to(into / merged(one.linkname.removeprefix("./")))
            else:
                content = archive.extractfile(one)
                assert content is not None
                target.write_bytes(content.read())
                target.chmod(one.mode & 0o755 | 0o400)


def merged(name: str) -> str:
    """Where a file lies now that /bin, /sbin and /lib are links into /usr."""
    head = name.split("/", 1)[0]
    return f"usr/{name}" if head in ("bin", "sbin", "lib", "lib64") else name
