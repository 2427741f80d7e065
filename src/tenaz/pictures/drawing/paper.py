"""Pictures on paper: the files they can become, and how one is saved."""

import io
import re
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import TenazError
from tenaz.core.base.plain_text import plain_lines
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.drawing.paper_head import PaperHead, headed_leaf
from tenaz.pictures.drawing.roles import LIGHT as INK
from tenaz.press.leaf import Figure as Drawn
from tenaz.press.size import PaperSize
from tenaz.press.typeset import as_pdf

if TYPE_CHECKING:
    from matplotlib.axes import Axes
    from matplotlib.figure import Figure

PICTURES = (".svg", ".pdf")


def check_path(path: Path, endings: Sequence[str] = PICTURES) -> None:
    """Refuse a file that cannot be an export, before anything is drawn.

    Raises:
        TenazError: an ending that is not known, or a folder that is not there.
    """
    if path.suffix.lower() not in endings:
        raise TenazError(f"{path.name!r} cannot be exported: name a file ending in {' or '.join(endings)}.")
    try:
        there = path.absolute().parent.is_dir()
    except (OSError, ValueError):
        there = False
    if not there:
        raise TenazError(f"there is no folder {str(path.absolute().parent)[:200]}; name one that exists.")


@contextmanager
def figure_to(
    path: Path, width_in: float, height_in: float, head: PaperHead, alt: str, size: PaperSize = PaperSize.A4
) -> "Iterator[Figure]":
    """A figure under its ``head`` that is written to ``path`` when it is drawn, on a sheet of paper: SVG with letters
    that stay letters, or PDF with tags. ``alt`` says what it shows to who cannot see it.

    Raises:
        TenazError: an ending that is not known, or a file that cannot be written.
    """
    check_path(path)
    import matplotlib as mpl  # noqa: PLC0415 - start-up must not pay for it
    from matplotlib.figure import Figure  # noqa: PLC0415

    letters = {
        "svg.fonttype": "none",
        "font.family": ["DejaVu Sans", "sans-serif"],
        "svg.hashsalt": "tenaz",
        "text.parse_math": False,
    }
    is_svg = path.suffix.lower() == ".svg"
    with mpl.rc_context(letters):  # type: ignore[arg-type] # names of its settings
        figure = Figure(figsize=(width_in, height_in), layout="constrained")
        if is_svg:
            figure.suptitle(
                plain_lines("\n".join(head.lines)), x=0.02, ha="left", size=9, color=INK[Role.TEXT], linespacing=1.5
            )
        yield figure
        drawn = io.StringIO()
        told = {"Date": None, "Title": head.lines[0], "Creator": "Tenaz", "Description": alt}
        figure.savefig(drawn, format="svg", metadata=told)
    if is_svg:
        write_whole(path, _on_paper(drawn.getvalue(), width_in > height_in, size))
    else:
        write_whole(path, as_pdf(headed_leaf(head, (Drawn("", drawn.getvalue(), alt),)), size))


def _on_paper(svg: str, across: bool, size: PaperSize) -> str:
    """As large as a sheet, the picture in its middle."""
    wide_mm, high_mm = size.mm[::-1] if across else size.mm
    return re.sub(
        r'(<svg\b[^>]*?) width="[^"]+" height="[^"]+"',
        rf'\1 width="{wide_mm:g}mm" height="{high_mm:g}mm" preserveAspectRatio="xMidYMin"',
        svg,
        count=1,
    )


def plain(axes: "Axes", grid: str = "y") -> None:
    """Take off what a picture does not need."""
    axes.grid(axis=grid, color=INK[Role.FRAME], lw=0.6)  # type: ignore[arg-type] # "x", "y" or "both"
    axes.set_axisbelow(True)
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)
    axes.tick_params(colors=INK[Role.TEXT], labelsize=8)
