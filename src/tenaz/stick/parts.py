"""What a stick is put together from, by name."""

import tomllib
from functools import cache
from pathlib import Path

FILES = Path(__file__).with_name("files")


@cache
def named(section: str, key: str) -> tuple[str, ...]:
    """A list of names of ``parts.toml``."""
    return tuple(tomllib.loads((FILES / "parts.toml").read_text())[section][key].split())
