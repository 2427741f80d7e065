"""Which of the kernel's modules go along, and in which order they can be loaded."""

import re
from collections.abc import Iterable
from pathlib import Path

from tenaz.core.base.errors import Refused


def load_order(folder: Path, wanted: Iterable[str]) -> tuple[Path, ...]:
    """The files of modules below a folder, each after those that it needs.

    Raises:
        Refused: the kernel has no such module.
    """
    files = {_plain(path.stem): path for path in sorted(folder.rglob("*.ko"))}
    ordered: dict[Path, None] = {}

    def take(name: str) -> None:
        path = files.get(_plain(name))
        if path is None:
            raise Refused(f"This kernel has no module {name}; the list of packages and this Tenaz do not fit.")
        if path in ordered:
            return
        for needed in _needs(path):
            take(needed)
        ordered[path] = None

    for name in wanted:
        take(name)
    return tuple(ordered)


def _plain(name: str) -> str:
    return name.replace("-", "_")


def _needs(path: Path) -> list[str]:
    """The modules that one names as needed (``depends`` and ``softdep`` before it), from its own description."""
    data = path.read_bytes()
    found = re.search(rb"\0depends=([^\0]*)\0", data)
    return [name for name in (found[1].decode() if found else "").split(",") if name]
