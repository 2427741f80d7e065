"""Where an agent keeps its notes."""

from pathlib import Path

from platformdirs import user_state_path


def notes_folder() -> Path:
    """The folder of the user's own; the variable ``XDG_STATE_HOME`` names another."""
    return user_state_path("tenaz", appauthor=False) / "agent"


def usual_place() -> Path:
    """The file."""
    return notes_folder() / "notes.db"
