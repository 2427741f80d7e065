"""What is still to be shown: one rule, for evidence, searches, nights and reports alike."""

ENOUGH = 0.99
"""Of what is asked. Times are told to the second and add up out of parts: what lacks less than a hundredth is there."""


def still_owed(asked: float, shown: float) -> float:
    """How much of what is asked is still to be shown, in the same unit (hours or seconds); 0 where nothing is."""
    return asked - shown if shown < ENOUGH * asked else 0.0
