"""What the canvases are called, in the order in which one goes from one to the next."""

NAMES = ("climb", "margins", "cycle", "sheet", "load", "prints", "memory", "scores", "rig", "plan", "book", "day")
