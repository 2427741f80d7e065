"""Whether Tenaz was started from its stick, where nothing else runs."""

import os

ABOARD = "TENAZ_ABOARD"


def alone() -> bool:
    """Whether nothing but Tenaz runs on this machine."""
    return os.environ.get(ABOARD) == "1"
