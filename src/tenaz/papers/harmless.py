"""Text that goes into a spreadsheet, and stays text there."""

from tenaz.core.base.plain_text import INSTEAD

RUN_BY_SPREADSHEETS = ("=", "+", "-", "@", "\t", "\r", "'")
"""What a cell must not begin with: spreadsheets would take it for a formula. The last is what keeps them from it."""


CONTROLS = {number: INSTEAD for number in (*range(32), *range(127, 160)) if chr(number) not in "\t\n\r"}
"""Signs that a terminal obeys, wherever the file is shown."""


def as_text(cell: str) -> str:
    """A cell that stays text in a spreadsheet, and that no terminal obeys."""
    cell = cell.translate(CONTROLS)
    return f"'{cell}" if cell.startswith(RUN_BY_SPREADSHEETS) else cell


def from_text(cell: str) -> str:
    """The opposite of :func:`as_text`."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(RUN_BY_SPREADSHEETS) else cell
