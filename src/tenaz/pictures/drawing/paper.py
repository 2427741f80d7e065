"""Pictures on paper: the files they can become, and how one is saved."""

import io
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import TenazError
from tenaz.core.base.plain_text import plain_lines
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.drawing.paper_head import PaperHead
from tenaz.pictures.drawing.roles import LIGHT as INK

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
    path: Path, width_in: float, height_in: float, head: PaperHead | None = None, layout: str | None = "constrained"
) -> "Iterator[Figure]":
    """A figure that is written to ``path`` when it is drawn; letters become outlines, so that no font is needed. Under
    its ``head``, where it has one.

    Raises:
        TenazError: an ending that is not known, or a file that cannot be written.
    """
    check_path(path)
    import matplotlib as mpl  # noqa: PLC0415 - start-up must not pay for it
    from matplotlib.figure import Figure  # noqa: PLC0415

    letters = {
        "svg.fonttype": "path",
        "pdf.fonttype": 42,
        "font.family": "DejaVu Sans",
        "svg.hashsalt": "tenaz",
        "text.parse_math": False,
    }
    with mpl.rc_context(letters):  # type: ignore[arg-type] # names of its settings
        figure = Figure(figsize=(width_in, height_in), layout=layout)  # type: ignore[arg-type] # one of its names
        if head is not None:
            figure.suptitle(
                plain_lines("\n".join(head.lines)), x=0.02, ha="left", size=9, color=INK[Role.TEXT], linespacing=1.5
            )
        yield figure
        ending, drawn = path.suffix.lower(), io.BytesIO()
        figure.savefig(drawn, format=ending[1:], metadata={"Date" if ending == ".svg" else "CreationDate": None})
        write_whole(path, drawn.getvalue())


def plain(axes: "Axes", grid: str = "y") -> None:
    """Take off what a picture does not need."""
    axes.grid(axis=grid, color=INK[Role.FRAME], lw=0.6)  # type: ignore[arg-type] # "x", "y" or "both"
    axes.set_axisbelow(True)
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)
    axes.tick_params(colors=INK[Role.TEXT], labelsize=8)
