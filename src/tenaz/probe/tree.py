"""Reads the system's files below a root, which is ``/`` or a fake one; keeps what cannot be read, and why."""

from pathlib import Path

from tenaz.core.machine.machine import Unread, Why


class Tree:
    """Reads below ``root``. ``unread`` collects what could not be read."""

    def __init__(self, root: Path = Path("/")) -> None:
        self.root = root
        self.unread: list[Unread] = []

    def text(self, path: str, expected: bool = False) -> str | None:
        """The text of a file, without white space around; None when there is none.

        What is ``expected`` is noted when it is missing; what is forbidden is always noted.
        """
        data = self.data(path, expected)
        return None if data is None else data.decode(errors="replace").strip()

    def data(self, path: str, expected: bool = False) -> bytes | None:
        """The bytes of a file; None when it cannot be read."""
        try:
            return (self.root / path).read_bytes()
        except PermissionError:
            self.unread.append(Unread(f"/{path}", Why.FORBIDDEN, "try as root"))
        except OSError:
            if expected:
                self.unread.append(Unread(f"/{path}", Why.MISSING))
        return None

    def whole(self, path: str) -> int | None:
        """The whole number in a file; what is there and is none is noted."""
        text = self.text(path)
        if text is None:
            return None
        try:
            return int(text, 0)
        except ValueError:
            self.unread.append(Unread(f"/{path}", Why.NONSENSE, f"{text[:40]!r} is no number"))
            return None

    def folders(self, pattern: str) -> list[str]:
        """Paths below the root that match, in order, without the root."""
        return sorted(str(found.relative_to(self.root)) for found in self.root.glob(pattern))

    def exists(self, path: str) -> bool:
        """Whether something is there."""
        return (self.root / path).exists()
