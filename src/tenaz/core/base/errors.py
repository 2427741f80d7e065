"""What Tenaz says when something cannot be done: the thing, what was expected, what was found, what to do."""

MOST_LETTERS = 1200
"""Of an error that is shown: what was typed may be endless, what is said about it is not."""


class TenazError(Exception):
    """Base of every error that is shown to the technician as it is."""

    def __str__(self) -> str:
        words = super().__str__()
        if len(words) <= MOST_LETTERS:
            return words
        return f"{words[: MOST_LETTERS // 2]} … {words[-MOST_LETTERS // 2 :]}"


class Refused(TenazError):
    """A value, a move or an amount that is not allowed; nothing was changed."""


class BookError(TenazError):
    """The book could not be opened, read or written."""


class Interrupted(TenazError):
    """The technician asked to stop."""
