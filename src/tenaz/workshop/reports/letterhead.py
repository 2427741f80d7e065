"""The head of what a workshop gives out, from its settings."""

from xml.etree import ElementTree

from tenaz.catalogues.outside import read_text, typed_path
from tenaz.core.base.errors import Refused
from tenaz.press.leaf import Letterhead
from tenaz.press.size import PaperSize
from tenaz.settings.files import read_what_is_right
from tenaz.settings.model import WorkshopPart

MOST_MARK_BYTES = 256 * 1024


def letterhead_of(workshop: WorkshopPart) -> Letterhead:
    """Name, address, contact, who signs, and the mark, which goes with the report as it is now.

    Raises:
        Refused: a mark that cannot be read, or is no SVG.
    """
    return Letterhead(
        workshop.name, workshop.address.replace("\\n", "\n"), workshop.contact, workshop.technician,
        _mark(workshop.mark),
    )  # fmt: skip


def _mark(name: str) -> str:
    if not name:
        return ""
    text = read_text(typed_path(name), MOST_MARK_BYTES)
    try:
        # No file of entities that grow without end: a mark has none.
        root = None if "<!ENTITY" in text or "<!DOCTYPE" in text else ElementTree.fromstring(text)
    except ElementTree.ParseError as error:
        raise Refused(f"{name}: {error}; a mark must be SVG. Mend it, or leave workshop.mark empty.") from error
    if root is None or not root.tag.endswith("svg"):
        raise Refused(f"{name} is no plain SVG; save it as that, without a doctype, or leave workshop.mark empty.")
    return text


def our_head() -> Letterhead:
    """The head as it is set now.

    Raises:
        Refused: a mark that cannot be read, or is no SVG.
    """
    return letterhead_of(read_what_is_right()[0].workshop)


def our_paper(said: str = "") -> PaperSize:
    """The size of paper: as said here, else as set.

    Raises:
        Refused: none that is known.
    """
    size = said.lower() or read_what_is_right()[0].workshop.paper
    if size not in tuple(PaperSize):
        raise Refused(f"{size!r} is no paper that is known; give {' or '.join(PaperSize)}.")
    return PaperSize(size)
