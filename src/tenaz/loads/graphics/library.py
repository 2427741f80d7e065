"""The library that reaches cards, an extra: imported here only, and only by worker processes."""

import os
import tempfile
from types import ModuleType

from tenaz.core.base.errors import Refused

INSTALL = "pip install 'tenaz[graphics]'"
"""How to get what reaches cards."""


def library() -> ModuleType:
    """The library, ready.

    Raises:
        Refused: it is not installed, or cannot be loaded here.
    """
    # Some drivers write there when they start, and complain into our output where it is not set.
    os.environ.setdefault("XDG_RUNTIME_DIR", tempfile.gettempdir())
    try:
        import wgpu  # noqa: PLC0415 - the extra need not be installed
        import wgpu.backends.wgpu_native  # noqa: PLC0415
    except ImportError as error:
        raise Refused(f"Loads of graphics cards need an extra that is not installed: {INSTALL}") from error
    except OSError as error:
        raise Refused(f"What reaches graphics cards cannot be loaded here: {str(error)[:200]}") from error
    module: ModuleType = wgpu
    return module
