"""A leaf as PDF, or as pictures of its pages: set by Typst, with tags, its own fonts, and nothing of this machine."""

import importlib.util
import json
import tempfile
from collections.abc import Sequence
from dataclasses import asdict
from functools import cache
from importlib import resources
from pathlib import Path
from typing import Any

from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.base.plain_text import plain_lines
from tenaz.press.leaf import Drawing, Figure, Leaf
from tenaz.press.size import PaperSize

TEMPLATE = "leaf.typ"


def as_pdf(leaf: Leaf, size: PaperSize = PaperSize.A4) -> bytes:
    """All pages: tagged for who has them read aloud (PDF/UA-1), text that can be searched, title and author in it.

    Raises:
        Refused: the typesetter is not installed.
    """
    found = _set(leaf, size, format="pdf", pdf_standards=["ua-1"], timestamp=leaf.at_utc.replace(microsecond=0))
    return found[0]


def as_png(leaf: Leaf, size: PaperSize = PaperSize.A4, dots_an_inch: int = 80) -> Sequence[bytes]:
    """Its pages as pictures, to be shown where no PDF is.

    Raises:
        Refused: the typesetter is not installed.
    """
    return _set(leaf, size, format="png", ppi=float(dots_an_inch))


def _set(leaf: Leaf, size: PaperSize, **how: Any) -> Sequence[bytes]:
    try:
        import typst  # noqa: PLC0415 - only what goes to paper pays for it
    except ImportError as error:
        raise Refused(
            "this needs the package typst, which is not installed here: write .html or .txt, or: pip install typst."
        ) from error
    data, pictures = _told(leaf, size)
    try:
        return _compiled(typst, data, pictures, how)
    except OSError as error:
        raise TenazError(f"nothing could be set on paper: {error.strerror} in {tempfile.gettempdir()}.") from error


def _compiled(typst: Any, data: dict[str, Any], pictures: dict[str, str], how: dict[str, Any]) -> Sequence[bytes]:
    with tempfile.TemporaryDirectory(prefix="tenaz-press-") as place:
        root = Path(place)
        (root / TEMPLATE).write_text(_template(), "utf-8")
        for name, content in pictures.items():
            (root / name).write_text(content, "utf-8")
        (root / "leaf.json").write_text(json.dumps(data, default=str), "utf-8")
        try:
            made = typst.compile(
                str(root / TEMPLATE), root=str(root), font_paths=_fonts(), ignore_system_fonts=True, **how
            )
        except typst.TypstError as error:
            raise Refused(f"this could not be set on paper: {str(error)[:300]}") from error
    return made if isinstance(made, list) else [made]


def _told(leaf: Leaf, size: PaperSize) -> tuple[dict[str, Any], dict[str, str]]:
    """What the template reads, and the pictures that it names."""
    data: Any = _plain(asdict(leaf))
    data["paper"] = "us-letter" if size is PaperSize.LETTER else "a4"
    pictures: dict[str, str] = {}
    for at, (block, told) in enumerate(zip(leaf.blocks, data["blocks"], strict=True)):
        if isinstance(block, Figure):
            told["svg"] = f"picture-{at}.svg"
            pictures[told["svg"]] = block.svg
        if isinstance(block, Drawing):
            told["rows"] = [_places(row) for row in block.rows]
    data["head"]["mark"] = ""
    if leaf.head.mark:
        data["head"]["mark"] = "mark.svg"
        pictures["mark.svg"] = leaf.head.mark
    if leaf.attached is not None:
        pictures["attached.txt"] = leaf.attached[1]
        data["attached"] = leaf.attached[0]
    when = leaf.at_utc
    data["day"] = {"year": when.year, "month": when.month, "day": when.day}
    return data, pictures


def _places(row: Sequence[tuple[str, str]]) -> list[dict[str, Any]]:
    """Runs with the column in which each begins; nothing of what is empty."""
    found, column = [], 0
    for text, ink in row:
        words = text.strip()
        if words:
            found.append({"at": column + len(text) - len(text.lstrip()), "text": words, "ink": ink})
        column += len(text)
    return found


def _plain(value: Any) -> Any:
    """Every text without what a reader would obey."""
    if isinstance(value, str):
        return plain_lines(value)
    if isinstance(value, dict):
        return {key: _plain(inner) for key, inner in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(inner) for inner in value]
    return value


@cache
def _template() -> str:
    return resources.files("tenaz.press.templates").joinpath(TEMPLATE).read_text("utf-8")


@cache
def _fonts() -> list[str]:
    """The folder of the fonts that come with matplotlib: they have every sign that Tenaz draws."""
    found = importlib.util.find_spec("matplotlib")
    if found is None or found.origin is None:
        return []
    return [str(Path(found.origin).parent / "mpl-data" / "fonts" / "ttf")]
