"""The settings as the file has them, and what is wrong there."""

from tenaz.core.errors import Refused
from tenaz.settings.files import read_settings
from tenaz.settings.model import Settings


def known_settings() -> tuple[Settings, str]:
    """The settings, and what is wrong with them; then they are as usual."""
    try:
        return read_settings(), ""
    except Refused as refused:
        return Settings(), str(refused)
