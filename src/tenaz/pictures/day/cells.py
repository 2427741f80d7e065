"""The Day picture in cells: the stages as a stair that one climbs, and beneath it where everything stands."""

from tenaz.pictures.day.model import DayPicture, StageState
from tenaz.pictures.day.rigs import RigsPicture, put_rigs
from tenaz.pictures.drawing.cells import Cells, clipped, wrapped
from tenaz.pictures.drawing.marks import Role

SIGNS = {
    StageState.DONE: ("●", Role.HELD),
    StageState.BEGUN: ("◐", Role.LIT),
    StageState.FAILED: ("✗", Role.FAILED),
    StageState.TO_COME: ("·", Role.FAINT),
}
LABEL = 18
STAIR = 2
"""Cells that each stage stands further to the right."""


def draw_day(picture: DayPicture, width: int, height: int, rigs: RigsPicture | None = None) -> Cells:
    """The rigs, a line each; of the one in hand its title and story, the stair, then heading by heading where things
    stand.
    """
    cells = Cells(width, height)
    row = 0
    if rigs is not None and len(rigs.lines) > 1:
        row = put_rigs(cells, 0, max(2, height // 3 - 1), rigs) + 1
    cells.put(0, row, clipped(picture.title, width), Role.LIT)
    for line in wrapped(picture.story, width)[:3]:
        row += 1
        cells.put(0, row, line, Role.FAINT)
    row += 2
    stair = STAIR if width >= 70 else 0
    for place, stage in enumerate(picture.stages):
        sign, role = SIGNS[stage.state]
        here = place == picture.now
        column = place * stair
        cells.put(column, row, "▸" if here else " ", Role.LIT)
        cells.put(column + 2, row, sign, role)
        cells.put(column + 4, row, stage.name, Role.LIT if here else Role.TEXT)
        at = len(picture.stages) * stair + LABEL + (2 if stair else STAIR * 3)
        words = f"{stage.state}: {stage.words}" if stage.words else stage.state.value
        cells.put(at, row, clipped(words, width - at), role if stage.state is not StageState.TO_COME else Role.FAINT)
        row += 1
    row += 1
    for heading, words, first in picture.stands:
        cells.put(0, row, heading, Role.LIT if first else Role.FAINT)
        for line in wrapped(words, max(1, width - LABEL)):
            cells.put(LABEL, row, line, Role.TEXT)
            row += 1
    return cells
