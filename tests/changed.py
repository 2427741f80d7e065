"""Which unit tests belong to what changed since the last commit, for ``make check``: tests mirror the rooms."""

import subprocess
from pathlib import Path

SOURCE, TESTS = Path("src/tenaz"), Path("tests/unit")
ABOVE = {"pictures": ("charts",), "orders": ("workshop", "tui"), "advice": ("tui",)}
"""Rooms whose tests stand elsewhere, too."""


def changed() -> list[Path]:
    """Files that differ from the last commit, or that git does not know."""
    lines = subprocess.run(["git", "status", "--porcelain"], capture_output=True, text=True, check=True).stdout
    return [Path(line[3:].split(" -> ")[-1].strip('"')) for line in lines.splitlines()]


def tests_of(files: list[Path]) -> list[str]:
    """Folders and files of tests, each once."""
    found: dict[str, None] = {}
    for file in files:
        if file.is_relative_to(SOURCE) and len(file.parts) > len(SOURCE.parts) + 1:
            room = file.parts[len(SOURCE.parts)]
            for one in (room, *ABOVE.get(room, ())):
                if (TESTS / one).is_dir():
                    found[str(TESTS / one)] = None
        elif file.is_relative_to(TESTS) and file.suffix == ".py" and file.exists():
            found[str(file)] = None
    return list(found)


if __name__ == "__main__":
    print("\n".join(tests_of(changed())))
