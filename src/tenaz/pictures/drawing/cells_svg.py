"""A sheet of cells as SVG on white paper: what a terminal showed, in the inks that a light ground needs."""

from xml.etree import ElementTree as Xml

from tenaz.core.base.plain_text import plain
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.roles import LIGHT
from tenaz.press.size import PaperSize

CELL_WIDTH_PX, CELL_HEIGHT_PX, LETTER_PX = 8.4, 18.0, 14.0
BORDER_PX = 16.0


def cells_to_svg(cells: Cells, title: str, size: PaperSize = PaperSize.A4) -> str:
    """One text element a run of cells, stretched to its cells, so that columns stand whatever font there is; as large
    as a sheet of paper, lying or upright as its cells are.
    """
    width = cells.width * CELL_WIDTH_PX + 2 * BORDER_PX
    height = cells.height * CELL_HEIGHT_PX + 2 * BORDER_PX
    across, upright = size.mm[::-1], size.mm
    wide_mm, high_mm = across if width > height else upright
    root = Xml.Element(
        "svg", xmlns="http://www.w3.org/2000/svg", viewBox=f"0 0 {width:.0f} {height:.0f}", role="img",
        width=f"{wide_mm:g}mm", height=f"{high_mm:g}mm", preserveAspectRatio="xMidYMin",
    )  # fmt: skip
    Xml.SubElement(root, "title").text = plain(title)
    Xml.SubElement(root, "rect", width="100%", height="100%", fill="#ffffff")
    sheet = Xml.SubElement(root, "g", {"font-family": "monospace", "font-size": f"{LETTER_PX:g}"})
    for row, runs in enumerate(cells.rows()):
        column = 0
        for run in runs:
            words = run.text.strip()
            if words:
                at = column + len(run.text) - len(run.text.lstrip())
                Xml.SubElement(
                    sheet,
                    "text",
                    {
                        "x": f"{BORDER_PX + at * CELL_WIDTH_PX:.1f}",
                        "y": f"{BORDER_PX + row * CELL_HEIGHT_PX + LETTER_PX:.1f}",
                        "textLength": f"{len(words) * CELL_WIDTH_PX:.1f}",
                        "lengthAdjust": "spacingAndGlyphs",
                        "fill": LIGHT[run.role],
                        "xml:space": "preserve",
                    },
                ).text = words
            column += len(run.text)
    return Xml.tostring(root, encoding="unicode")
