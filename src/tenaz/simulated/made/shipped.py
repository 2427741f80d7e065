"""Files in TOML that come with Tenaz, by folder and name."""

from importlib import resources
from typing import TypeVar

from pydantic import BaseModel

from tenaz.catalogues.reading import parse_toml
from tenaz.core.base.errors import Refused

Model = TypeVar("Model", bound=BaseModel)


def names_in(folder: str) -> tuple[str, ...]:
    """What a folder holds."""
    files = (resources.files("tenaz.simulated") / folder).iterdir()
    return tuple(sorted(file.name.removesuffix(".toml") for file in files if file.name.endswith(".toml")))


def read_shipped(model: type[Model], folder: str, what: str, name: str) -> Model:
    """One of them.

    Raises:
        Refused: there is none of that name; tells those that there are.
    """
    known = names_in(folder)
    if name not in known:
        raise Refused(f"there is no {what} {name!r}; there are: {', '.join(known)}; or a file in .toml.")
    file = resources.files("tenaz.simulated") / folder / f"{name}.toml"
    return parse_toml(model, file.read_text(encoding="utf-8"), file.name)
