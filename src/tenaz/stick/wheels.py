"""Wheels opened below a folder, as they are imported from there; nothing of them is run."""

import zipfile
from pathlib import Path

from tenaz.core.base.errors import Refused

LEFT_OUT = ("/tests/", "/test/", "/testing/data/", "/include/", "/sample_data/", "/mpl-data/sample_data/")
"""Parts of packages that nothing on the stick asks for."""
LEFT_OUT_ENDS = (".pyi", ".lib", ".c", ".h", ".pxd", ".hpp", ".cpp")


def unpack(path: Path, into: Path) -> None:
    """Write what a wheel installs to be imported.

    Raises:
        Refused: it is none.
    """
    try:
        with zipfile.ZipFile(path) as wheel:
            for one in sorted(wheel.infolist(), key=lambda one: one.filename):
                name = _installed(one.filename)
                if one.is_dir() or name is None or not _wanted(name):
                    continue
                target = into / name
                target.parent.mkdir(parents=True, exist_ok=True)
                target.write_bytes(wheel.read(one))
    except (zipfile.BadZipFile, OSError) as error:
        raise Refused(f"{path} cannot be opened as a wheel: {error}. Delete it, and it is fetched again.") from error


def _installed(name: str) -> str | None:
    """Where a file of a wheel goes below the folder of packages; None: elsewhere, which the stick does not need."""
    first, _, rest = name.partition("/")
    if not first.endswith(".data"):
        return None if ".." in name.split("/") or name.startswith("/") else name
    scheme, _, below = rest.partition("/")
    return below if scheme in ("purelib", "platlib") else None


def _wanted(name: str) -> bool:
    # numpy's own tests are many; its modules named testing are imported by others.
    return not any(part in f"/{name}" for part in LEFT_OUT) and not name.endswith(LEFT_OUT_ENDS)
