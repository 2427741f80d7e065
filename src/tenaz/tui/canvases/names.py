"""What the canvases are called, in the order in which one goes from one to the next."""

NAMES = (
    "climb", "margins", "cycle", "sheet", "load", "prints", "memory", "scores", "field", "night", "rig", "plan",
    "book", "day",
)  # fmt: skip
