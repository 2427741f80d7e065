"""A paper before it has a form: its head, and blocks from top to bottom. All text is as it will stand there."""

from dataclasses import dataclass, field
from datetime import datetime
from typing import Literal

Ink = tuple[str, str]
"""A run of text, and its colour like ``#2b2722``."""


@dataclass(frozen=True, slots=True)
class Letterhead:
    """Whose paper it is; ``mark`` is its sign, as SVG. Empty text: not said."""

    name: str = ""
    address: str = ""
    contact: str = ""
    technician: str = ""
    mark: str = ""


@dataclass(frozen=True, slots=True)
class Say:
    """Paragraphs under a heading (empty: they go on); ``red`` is what must not be overlooked."""

    heading: str
    text: str
    red: bool = False
    kind: Literal["say"] = "say"


@dataclass(frozen=True, slots=True)
class Table:
    """Rows under named columns; ``parts`` are the columns' widths against each other, ``figures`` the columns that are
    set to the right. Without names of columns the first column of a row names the rest. ``wide``: over the whole page.
    """

    heading: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    parts: tuple[float, ...] = ()
    figures: tuple[int, ...] = ()
    wide: bool = False
    kind: Literal["table"] = "table"


@dataclass(frozen=True, slots=True)
class Drawing:
    """A picture of cells: runs row by row, ``width`` cells wide; ``alt`` says what it shows to who cannot see it,
    ``breaks`` whether it may go on overleaf.
    """

    heading: str
    rows: tuple[tuple[Ink, ...], ...]
    width: int
    alt: str
    breaks: bool = False
    kind: Literal["drawing"] = "drawing"


@dataclass(frozen=True, slots=True)
class Figure:
    """A picture drawn elsewhere, as SVG."""

    heading: str
    svg: str
    alt: str
    kind: Literal["figure"] = "figure"


@dataclass(frozen=True, slots=True)
class Typed:
    """Lines as they are typed, in letters of one width."""

    heading: str
    lines: tuple[str, ...]
    kind: Literal["typed"] = "typed"


@dataclass(frozen=True, slots=True)
class Signing:
    """Places to sign, at the foot of the page."""

    places: tuple[str, ...]
    kind: Literal["signing"] = "signing"


Block = Say | Table | Drawing | Figure | Typed | Signing


@dataclass(frozen=True, slots=True)
class Leaf:
    """A whole paper. ``dated`` is the line under its title, ``note`` a line above everything (a simulated rig),
    ``verdict`` what it says first; ``page_words`` stand at the foot, with ``{at}`` and ``{of}`` in them. ``attached``
    is a file that goes with it: what it is, and its text. ``letter_pt``: how large its letters are.
    """

    title: str
    dated: str
    at_utc: datetime
    blocks: tuple[Block, ...]
    head: Letterhead = field(default_factory=Letterhead)
    note: str = ""
    verdict: str = ""
    proven: bool = True
    language: str = "en"
    page_words: str = "page {at} of {of}"
    author: str = ""
    subject: str = ""
    across: bool = False
    letter_pt: float = 8.6
    attached: tuple[str, str] | None = None
