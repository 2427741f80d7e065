"""How long a test waits for what must come: a slow machine is no failure, and how fast is asked elsewhere."""

PATIENCE_S = float(__import__("os").environ.get("PATIENCE_S", "120"))
