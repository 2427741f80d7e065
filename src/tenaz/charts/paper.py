"""Pictures on paper: the files they can become, and how one is saved."""

from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.charts.marks import Role
from tenaz.charts.roles import LIGHT as INK
from tenaz.core.errors import TenazError

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
    if not path.absolute().parent.is_dir():
        raise TenazError(f"there is no folder {path.absolute().parent}; name one that exists.")


@contextmanager
def figure_to(path: Path, width_in: float, height_in: float) -> "Iterator[Figure]":
    """A figure that is written to ``path`` when it is drawn; letters become outlines, so that no font is needed.

    Raises:
        TenazError: an ending that is not known, or a file that cannot be written.
    """
    check_path(path)
    import matplotlib as mpl  # noqa: PLC0415 - start-up must not pay for it
    from matplotlib.figure import Figure  # noqa: PLC0415

    with mpl.rc_context({"svg.fonttype": "path", "font.family": "DejaVu Sans", "svg.hashsalt": "tenaz"}):
        figure = Figure(figsize=(width_in, height_in), layout="constrained")
        yield figure
        try:
            figure.savefig(path, metadata={"Date": None} if path.suffix == ".svg" else {"CreationDate": None})
        except OSError as error:
            raise TenazError(f"{path} could not be written: {error.strerror}. Choose another place.") from error


def plain(axes: "Axes", grid: str = "y") -> None:
    """Take off what a picture does not need."""
    axes.grid(axis=grid, color=INK[Role.FRAME], lw=0.6)  # type: ignore[arg-type] # "x", "y" or "both"
    axes.set_axisbelow(True)
    for side in ("top", "right"):
        axes.spines[side].set_visible(False)
    axes.tick_params(colors=INK[Role.TEXT], labelsize=8)
