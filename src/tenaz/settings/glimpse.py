"""The few settings that the first picture needs, read without checking: what cannot be read is as usual, and is told
once everything is open.
"""

from typing import Any

from tenaz.settings.former import FORMER_THEMES
from tenaz.settings.place import settings_path

MOST_BYTES = 2**18


def glimpse() -> dict[str, dict[str, Any]]:
    """Settings by part, as they stand in the file; nothing where it cannot be read."""
    try:
        path = settings_path()
        if path.stat().st_size > MOST_BYTES:
            return {}
        import tomllib  # noqa: PLC0415 - who has no settings does not pay for it

        with path.open("rb") as file:
            parts = tomllib.load(file)
    except (OSError, ValueError, RecursionError):
        return {}
    found = {name: part for name, part in parts.items() if isinstance(part, dict)}
    screen = found.get("screen", {})
    if isinstance(screen.get("theme"), str):
        screen["theme"] = FORMER_THEMES.get(screen["theme"], screen["theme"])
    return found
