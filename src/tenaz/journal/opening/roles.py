"""Who may do what with a book on a server, as SQL for whoever keeps it."""

from importlib.resources import files


def roles_sql() -> str:
    """The statements that make the roles look, work and keep."""
    return files("tenaz.journal.opening").joinpath("roles.sql").read_text(encoding="utf-8")
