"""What Tenaz says when something cannot be done: the thing, what was expected, what was found, what to do."""


class TenazError(Exception):
    """Base of every error that is shown to the technician as it is."""


class Refused(TenazError):
    """A value, a move or an amount that is not allowed; nothing was changed."""


class BookError(TenazError):
    """The book could not be opened, read or written."""


class Interrupted(TenazError):
    """The technician asked to stop."""
