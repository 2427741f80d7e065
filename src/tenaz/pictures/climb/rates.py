"""How often each value fails, beside the climb: hours to a failure with their interval, and what is tolerated."""

import math
from typing import Protocol

from tenaz.pictures.climb.model import ClimbPicture
from tenaz.pictures.drawing.cells import Cells
from tenaz.pictures.drawing.marks import Role

FROM_DECADE, TO_DECADE = -2, 5
"""Hours between failures are drawn from a hundredth to a hundred thousand."""
NAMES = {0: "1 h", 3: "1k"}


class Rows(Protocol):
    """Where strains lie on the sheet."""

    top: int
    bottom: int

    def row(self, strain: float) -> int:
        """The row of a strain."""
        ...


def draw_rates(cells: Cells, picture: ClimbPicture, left: int, rows: Rows) -> None:
    """A lane from ``left`` to the sheet's right side: what fails seldom lies right."""
    width = cells.width - left
    cells.put(left, 0, "hours between errors"[:width], Role.MEASURED)

    def column(hours: float) -> int:
        decade = min(TO_DECADE, max(FROM_DECADE, math.log10(max(hours, 1e-9))))
        return left + round((decade - FROM_DECADE) / (TO_DECADE - FROM_DECADE) * (width - 1))

    drawn: set[int] = set()
    for rate in picture.rates:
        row = rows.row(rate.strain)
        if row in drawn or not rows.top <= row <= rows.bottom:
            continue
        drawn.add(row)
        worst, best = column(1 / rate.high), column(1 / rate.low)
        cells.put(worst, row, "─" * (best - worst + 1), Role.FAINT)
        cells.put(column(1 / rate.median), row, "•", Role.MEASURED)
    tolerated = picture.edge.tolerance.rate_per_h if picture.edge else 1.0
    for row in range(rows.top, rows.bottom + 1):
        cells.put(column(1 / tolerated), row, "┊", Role.LIT)
    for decade, name in NAMES.items():
        cells.put(column(10.0**decade), rows.bottom + 1, name, Role.FAINT)
