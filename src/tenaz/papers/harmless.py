"""Text that goes into a spreadsheet, and stays text there."""

RUN_BY_SPREADSHEETS = ("=", "+", "-", "@", "\t", "\r", "'")
"""What a cell must not begin with: spreadsheets would take it for a formula. The last is what keeps them from it."""


def as_text(cell: str) -> str:
    """A cell that stays text in a spreadsheet."""
    return f"'{cell}" if cell.startswith(RUN_BY_SPREADSHEETS) else cell


def from_text(cell: str) -> str:
    """The opposite of :func:`as_text`."""
    return cell[1:] if cell.startswith("'") and cell[1:].startswith(RUN_BY_SPREADSHEETS) else cell
