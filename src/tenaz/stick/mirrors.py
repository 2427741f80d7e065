"""Where Debian's packages come from: the mirrors that this machine already uses, or one that was named."""

import re
from collections.abc import Iterable
from pathlib import Path

from tenaz.core.base.errors import Refused

SOURCES = Path("/etc/apt")
MAIN, SECURITY = "debian", "debian-security"


def mirrors(named: str = "", sources: Path = SOURCES) -> dict[str, str]:
    """The address of each archive, without a slash at its end. A ``named`` mirror holds both side by side.

    Raises:
        Refused: none is named, and none is known here.
    """
    if named:
        base = named.rstrip("/").removesuffix(f"/{MAIN}")
        return {MAIN: f"{base}/{MAIN}", SECURITY: f"{base}/{SECURITY}"}
    found: dict[str, str] = {}
    for address in _addresses(sources):
        archive = address.rstrip("/").rsplit("/", 1)[-1]
        if archive in (MAIN, SECURITY):
            found.setdefault(archive, address.rstrip("/"))
    if MAIN not in found:
        raise Refused(
            f"No mirror of Debian is known here ({sources} names none): say which with --mirror URL, the address that "
            f"holds debian/ and debian-security/."
        )
    found.setdefault(SECURITY, found[MAIN].removesuffix(MAIN) + SECURITY)
    return found


def _addresses(sources: Path) -> Iterable[str]:
    files = [sources / "sources.list", *sorted((sources / "sources.list.d").glob("*"))]
    for file in files:
        if not file.is_file():
            continue
        for line in file.read_text(errors="replace").splitlines():
            if file.suffix == ".sources":
                if line.startswith("URIs:"):
                    yield from line.removeprefix("URIs:").split()
            elif plain := re.match(r"deb\s+(?:\[[^]]*\]\s+)?(\S+)", line):
                yield plain[1]
