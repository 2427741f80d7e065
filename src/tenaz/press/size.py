"""Sizes of paper."""

from enum import StrEnum

MM_AN_INCH = 25.4


class PaperSize(StrEnum):
    """A sheet as it lies in the printer."""

    A4 = "a4"
    LETTER = "letter"

    @property
    def mm(self) -> tuple[float, float]:
        """Width and height, upright."""
        return (210.0, 297.0) if self is PaperSize.A4 else (215.9, 279.4)

    @property
    def across_in(self) -> tuple[float, float]:
        """Width and height in inches, lying on its side, as pictures stand on it."""
        width, height = self.mm
        return height / MM_AN_INCH, width / MM_AN_INCH
