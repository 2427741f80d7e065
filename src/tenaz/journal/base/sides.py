"""Parts of a simulated stand-in are not those of the rig: how the two are told apart in the book."""

SIMULATED, REAL = "simulated", "real"


def side_of(real: bool) -> str:
    """Which of the two."""
    return REAL if real else SIMULATED
