"""The settings as the file has them, and what is wrong there."""

from tenaz.settings.files import read_what_is_right
from tenaz.settings.model import Settings


def known_settings() -> tuple[Settings, str]:
    """The settings, and what is wrong with some of them; those are as usual."""
    settings, wrong = read_what_is_right()
    return settings, "; ".join(wrong)
