"""Signs as the terminal can show them."""

import locale
import os

from rich.segment import Segment
from textual.color import Color
from textual.filter import LineFilter

from tenaz.pictures.drawing.stand_ins import plain_signs
from tenaz.probe.alone import alone


class StandIns(LineFilter):
    """Puts stand-ins in the place of signs that the terminal's font does not have."""

    def apply(self, segments: list[Segment], background: Color) -> list[Segment]:
        """A line in signs that are there."""
        del background
        return [Segment(plain_signs(text), style, control) for text, style, control in segments]


def plain_meant(signs: object) -> bool:
    """Whether stand-ins are meant: where that was set, or on the Linux console or a terminal without UTF-8."""
    if signs in ("plain", "full"):
        return signs == "plain"
    # The stick's own font has all of them.
    return (os.environ.get("TERM", "") == "linux" and not alone()) or "utf" not in locale.getpreferredencoding(
        False
    ).lower()
