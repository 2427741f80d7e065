"""The Book picture: trials that were looked for, the newest first, and the one pointed at opened beneath."""

from dataclasses import dataclass

from tenaz.core.loads.plan import show_duration
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.trial import Trial
from tenaz.pictures.book.tallies import Tally
from tenaz.pictures.book.trial import TrialPage, draw_compared, draw_page, values_off_stock
from tenaz.pictures.drawing.cells import Cells, clipped
from tenaz.pictures.drawing.marks import Role, mark_of

NO_TRIALS = "No trial is in the book yet: t makes one at the dialled values, b›e enters one that was made elsewhere."
NOTHING = "Nothing in the book is like that. b›l looks for other words, b›l and an empty line shows all."
LIST_PART = 0.45
"""Of the height, for the list."""
AFTER = 8


@dataclass(frozen=True, slots=True)
class BookPicture:
    """Trials with their rigs, newest first; the place pointed at; ``page`` is that trial opened, ``beside`` the one it
    is compared with, ``marked`` that one's id.
    """

    query: str
    rows: tuple[tuple[Trial, Rig], ...]
    at: int = 0
    page: TrialPage | None = None
    beside: TrialPage | None = None
    marked: int | None = None
    more: int = 0
    several_rigs: bool = False
    tallies: tuple[Tally, ...] = ()


def draw_book(picture: BookPicture, width: int, height: int) -> Cells:
    """The list above, the opened trial or the comparison beneath."""
    cells = Cells(width, height)
    found = f"{len(picture.rows) + picture.more} trial{'s' if len(picture.rows) + picture.more != 1 else ''}"
    looked = f"like: {picture.query}" if picture.query else "in the book"
    cells.put(0, 0, clipped(f"{found} {looked}", width), Role.TEXT)
    if not picture.rows:
        cells.put(0, 2, clipped(NOTHING if picture.query else NO_TRIALS, width), Role.FAINT)
        return cells
    if picture.tallies:
        return _draw_tallies(cells, picture)
    room = max(3, round(height * LIST_PART)) if picture.page is not None else height - 2
    first = max(0, min(picture.at - room // 2, len(picture.rows) - room))
    for row, (trial, rig) in enumerate(picture.rows[first : first + room], 2):
        _row(cells, row, trial, rig, picture, first + row - 2 == picture.at)
        cells.aim(0, row, width, ("found", first + row - 2))
    hidden = len(picture.rows) + picture.more - room
    if hidden > 0:
        cells.put_right(width, 0, f" {hidden} more: ↑ ↓", Role.LIT)
    top = 3 + min(room, len(picture.rows))
    if picture.page is not None and height - top > 2:
        cells.put(0, top - 1, "─" * width, Role.FRAME)
        page, beside, left = picture.page, picture.beside, height - top
        drawn = draw_page(page, width, left) if beside is None else draw_compared(beside, page, width, left)
        cells.paste(0, top, drawn)
    return cells


def _draw_tallies(cells: Cells, picture: BookPicture) -> Cells:
    """What was found, counted: a bar of the interval in which the share that holds lies."""
    room = max(10, cells.width // 4)
    for row, one in enumerate(picture.tallies, 2):
        role = Role.FAILED if one.failed and not one.held else Role.HELD if not one.failed else Role.TEXT
        cells.put(0, row, "·" * room, Role.FRAME)
        left, right = round(one.low * (room - 1)), round(one.high * (room - 1))
        cells.put(left, row, "━" * (right - left + 1), role)
        cells.put(room + 2, row, clipped(one.show(), cells.width - room - 2), Role.TEXT)
    cells.put(0, len(picture.tallies) + 2, "0", Role.FAINT)
    cells.put_right(room, len(picture.tallies) + 2, "100 % hold", Role.FAINT)
    return cells


def _row(cells: Cells, row: int, trial: Trial, rig: Rig, picture: BookPicture, mine: bool) -> None:
    mark = mark_of(trial.outcome)
    cells.put(0, row, "▸" if mine else "=" if trial.id == picture.marked else " ", Role.LIT)
    column = 2
    if picture.several_rigs:
        cells.put(column, row, clipped(rig.name, 13), Role.TEXT)
        column += 14
    cells.put_right(column + 4, row, str(trial.number), Role.LIT if mine else Role.TEXT)
    cells.put(column + 6, row, f"{trial.begun_utc.astimezone():%d %b %H:%M}", Role.FAINT)
    cells.put(column + 20, row, f"{mark.sign} {mark.word}", mark.role)
    if trial.clean_s:
        cells.put_right(column + 31 + AFTER, row, show_duration(trial.clean_s), Role.TEXT)
    cells.put(column + 41, row, clipped(trial.plan.kind, 10), Role.TEXT)
    words = values_off_stock(trial.setpoint, rig) + (f" · {trial.note}" if trial.note else "")
    cells.put(column + 52, row, clipped(words, cells.width - column - 52), Role.TEXT if mine else Role.FAINT)
