"""What cards run, in the library's shading language (WGSL): a file a program, or a part of one."""

from functools import cache
from importlib.resources import files
from string import Template


@cache
def _part(name: str) -> str:
    return files(__name__).joinpath(f"{name}.wgsl").read_text(encoding="utf-8")


def program(*parts: str, **numbers: object) -> str:
    """A program put together of its parts, with what stands in it for each name."""
    return Template("\n".join(map(_part, parts))).substitute({name: str(value) for name, value in numbers.items()})
