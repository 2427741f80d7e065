"""A leaf as one page of HTML that needs nothing beside it, made to be read and to be printed."""

import base64
from functools import cache
from importlib import resources
from typing import TYPE_CHECKING, Any

from tenaz.core.base.plain_text import plain_lines
from tenaz.press.leaf import Leaf
from tenaz.press.size import PaperSize

if TYPE_CHECKING:
    from jinja2 import Template

TEMPLATE = "leaf.html"


def as_html(leaf: Leaf, size: PaperSize = PaperSize.A4) -> str:
    """All of it; text stays text, whatever signs it has."""
    mark = _embedded(leaf.head.mark, "image/svg+xml") if leaf.head.mark else ""
    attached = _embedded(leaf.attached[1], "application/toml") if leaf.attached else ""
    told: str = template(TEMPLATE).render(leaf=leaf, mark=mark, attached=attached, embedded=_embedded, paper=size.value)
    return told


def _embedded(text: str, media_type: str) -> str:
    """As an address that holds it all: a picture of it runs no script."""
    return f"data:{media_type};base64,{base64.b64encode(text.encode()).decode()}"


@cache
def template(name: str) -> "Template":
    """A form of the press by its name: what is set into it is text, and without what a reader would obey."""
    from jinja2 import Environment, StrictUndefined  # noqa: PLC0415 - only a page that is written pays for it

    forms = Environment(
        autoescape=True, trim_blocks=True, lstrip_blocks=True, undefined=StrictUndefined, finalize=_plain
    )
    return forms.from_string(resources.files("tenaz.press.templates").joinpath(name).read_text("utf-8"))


def _plain(value: Any) -> Any:
    """Without what a reader would obey."""
    return plain_lines(value) if type(value) is str else value
