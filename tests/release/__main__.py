"""Build what is given out, try it in fresh environments, and say what to tag."""

import shutil
import sys
import tempfile
from pathlib import Path

from tenaz import __version__
from tests.release.built import Built, build
from tests.release.fresh import Fresh, pythons
from tests.release.lowest import try_lowest

ROOT = Path(__file__).parents[2]
WANTED = ("3.11", "3.12", "3.13")


def main(named: list[str]) -> int:
    """Everything in turn; the first thing that fails ends it."""
    if f"## {__version__}, " not in (ROOT / "CHANGELOG.md").read_text("utf-8"):
        print(f"CHANGELOG.md tells nothing of {__version__}; its top is to say it.", file=sys.stderr)
        return 1
    shutil.rmtree(ROOT / "dist", ignore_errors=True)
    found = pythons(named or WANTED)
    missing = [] if named else [one for one in WANTED if one not in found]
    with tempfile.TemporaryDirectory(prefix="tenaz-release-") as place:
        built = build(ROOT, Path(place))
        for version, python in found.items():
            _try(built, version, python, Path(place))
        try_lowest(built, found[min(found)], Path(place))
    print("", "given out, in dist:", sep="\n")
    for path in sorted((ROOT / "dist").iterdir()):
        print(f"  {path.name}{'/' if path.is_dir() else f', {path.stat().st_size / 1024:.0f} KiB'}")
    if missing:
        print(f"NOT TRIED, because not found here: Python {', '.join(missing)}. Name them: PYTHONS=…", file=sys.stderr)
        return 1
    print(f"now: git tag -a v{__version__} -m 'Tenaz {__version__}' && git push origin v{__version__}")
    return 0


def _try(built: Built, version: str, python: Path, place: Path) -> None:
    """From the wheel as the guide says, with the server's driver, from the source archive, and from a clone."""
    print(f"\nPython {version}, {python}")
    wheel = Fresh(place / f"wheel-{version}", python)
    wheel.install("--require-hashes", "-r", built.dist / "requirements.txt")
    wheel.install("--no-deps", built.wheel)
    wheel.works("the wheel")
    server = Fresh(place / f"server-{version}", python)
    server.install("-c", built.dist / "constraints.txt", f"{built.wheel}[server]")
    server.run("-c", "import psycopg, tenaz")
    server.works("the wheel with a server's driver")
    source = Fresh(place / f"source-{version}", python)
    source.install("-c", built.dist / "constraints.txt", f"{built.unpacked}[server]")
    source.works("the source archive")
    for one in (wheel, server, source):
        one.remove()


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
