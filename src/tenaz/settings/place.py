"""Where the settings are."""

import os
from pathlib import Path

from platformdirs import user_config_path


def settings_path() -> Path:
    """``TENAZ_SETTINGS``, else in the user's folder for such files."""
    named = os.environ.get("TENAZ_SETTINGS")
    return Path(named) if named else user_config_path("tenaz", appauthor=False) / "settings.toml"
