"""Brings an agent over to a rig: what it needs goes through ``ssh``, is checked there by its sums, and is put whole.

Neither root nor any registry is needed there. Where its Python is another than here its wheels are fetched here first.
"""

import gzip
import hashlib
import io
import re
import subprocess
import sys
import sysconfig
import tarfile
import tempfile
from collections.abc import Callable, Iterator
from importlib import metadata
from pathlib import Path

import tenaz
from tenaz.core.base.amounts import show_bytes
from tenaz.core.base.errors import Refused
from tenaz.stick.wheels import unpack
from tenaz.wire.there import There, look_there, run_there
from tenaz.wire.ways import CARRIED, Ssh

NEEDED = ("llvmlite", "numpy", "platformdirs", "psutil", "pydantic")
"""What an agent and its workers import, with what that asks for."""

PLATFORMS = ("manylinux_2_28_x86_64", "manylinux_2_17_x86_64", "manylinux2014_x86_64")
SENT_WITHIN_S = 1800.0
OWN_LEFT_OUT = ("stick", "tui", "cli", "study", "demo", "pictures", "press", "papers", "workshop", "advice", "journal")
"""Our own rooms that no agent enters."""

WRAPPER = """#!/bin/sh
PYTHONPATH="{carried}/lib" PYTHONDONTWRITEBYTECODE=1 exec {python} -P -m tenaz "$@"
"""

UNPACK = """
import hashlib, os, shutil, sys, tarfile
place = os.path.expandvars("{carried}")
fresh = place + ".new"
shutil.rmtree(fresh, ignore_errors=True)
os.makedirs(fresh, mode=0o700)
with tarfile.open(fileobj=sys.stdin.buffer, mode="r|gz") as packed:
    for one in packed:
        if not one.isfile() or one.name.startswith("/") or ".." in one.name.split("/"):
            sys.exit("what came is none of ours: " + one.name)
        target = os.path.join(fresh, one.name)
        os.makedirs(os.path.dirname(target), exist_ok=True)
        with open(target, "wb") as file:
            shutil.copyfileobj(packed.extractfile(one), file)
        os.chmod(target, one.mode & 0o755)
with open(os.path.join(fresh, "SUMS")) as sums:
    for line in sums:
        told, name = line.rstrip("\\n").split("  ", 1)
        with open(os.path.join(fresh, name), "rb") as file:
            if hashlib.sha256(file.read()).hexdigest() != told:
                sys.exit("it came over damaged: " + name)
old = place + ".old"
shutil.rmtree(old, ignore_errors=True)
if os.path.exists(place):
    os.rename(place, old)
os.rename(fresh, place)
shutil.rmtree(old, ignore_errors=True)
print("carried")
"""

STATE = "${XDG_STATE_HOME:-$HOME/.local/state}/tenaz/agent"
END = f"""
boot=$(cat /proc/sys/kernel/random/boot_id)
for lock in "${{XDG_RUNTIME_DIR:-/nowhere}}/tenaz-agent/agent.lock" "{STATE}/agent.lock"; do
  [ -f "$lock" ] && read pid began < "$lock" && [ "$began" = "$boot" ] && kill "$pid" 2>/dev/null && sleep 2
done
"""
"""The session that runs there, if one does, is told to end; it says so to whoever works on it."""

REMOVE = f"""{END}
for one in "{CARRIED}" "{CARRIED}.new" "{CARRIED}.old"; do
  [ -e "$one" ] && rm -rf "$one" && echo removed
done
[ -d "{STATE}" ] && rm -rf "{STATE}"
true
"""

Say = Callable[[str], None]


def carry_over(way: Ssh, say: Say = lambda _: None) -> There:
    """Bring this version over; gives what is there.

    Raises:
        Refused: it cannot be; says what is missing there, or here.
    """
    there = look_there(way)
    if there.lacks:
        raise Refused(f"{way.text}: {'; '.join(there.lacks)}.")
    packed = _packed(there, say)
    say(f"sending {show_bytes(len(packed))} to {way.host}")
    script = UNPACK.format(carried=CARRIED)
    told = run_there(way, f"exec {there.python} -c '{script}'", packed, SENT_WITHIN_S)
    if "carried" not in told.split():
        raise Refused(f"{way.text}: it did not take what was sent: {told[-200:].strip()}")
    return there


def remove(way: Ssh) -> bool:
    """Take all of it away again, its notes too; whether there was anything.

    Raises:
        Refused: it was not reached.
    """
    return "removed" in run_there(way, REMOVE)


def _packed(there: There, say: Say) -> bytes:
    files = dict(_own_files())
    own = f"{sys.version_info[0]}.{sys.version_info[1]}"
    if there.version == own and sysconfig.get_platform() == "linux-x86_64":
        for name in _closure():
            files.update(_installed_files(name))
    else:
        say(f"fetching what Python {there.version} needs")
        files.update(_fetched_files(there.version))
    whole = {f"lib/{name}": data for name, data in files.items()}
    whole["VERSION"] = f"{tenaz.__version__}\n".encode()
    whole["bin/tenaz"] = WRAPPER.format(carried=CARRIED, python=there.python).encode()
    sums = "".join(f"{hashlib.sha256(data).hexdigest()}  {name}\n" for name, data in sorted(whole.items()))
    whole["SUMS"] = sums.encode()
    return _tarred(whole)


def _tarred(files: dict[str, bytes]) -> bytes:
    raw = io.BytesIO()
    with (
        gzip.GzipFile(fileobj=raw, mode="wb", compresslevel=1, mtime=0) as zipped,
        tarfile.open(fileobj=zipped, mode="w|", format=tarfile.PAX_FORMAT) as packed,
    ):
        for name, data in sorted(files.items()):
            entry = tarfile.TarInfo(name)
            entry.size, entry.mode = len(data), 0o755 if name.startswith("bin/") else 0o644
            packed.addfile(entry, io.BytesIO(data))
    return raw.getvalue()


def _own_files() -> Iterator[tuple[str, bytes]]:
    root = Path(tenaz.__file__).parent
    for path in sorted(root.rglob("*")):
        inside = path.relative_to(root)
        if path.is_file() and "__pycache__" not in inside.parts and inside.parts[0] not in OWN_LEFT_OUT:
            yield f"tenaz/{inside.as_posix()}", path.read_bytes()


def _closure() -> tuple[str, ...]:
    """The packages that are needed, with those that they need, as they are installed here."""
    found: dict[str, None] = {}
    waiting = list(NEEDED)
    while waiting:
        name = waiting.pop()
        if name in found:
            continue
        found[name] = None
        for needed in metadata.requires(name) or ():
            if ";" not in needed or "extra" not in needed.split(";", 1)[1]:
                waiting.append(re.split(r"[^A-Za-z0-9._-]", needed, maxsplit=1)[0].lower().replace("_", "-"))
        waiting = [one for one in waiting if _is_installed(one)]
    return tuple(found)


def _is_installed(name: str) -> bool:
    try:
        metadata.version(name)
    except metadata.PackageNotFoundError:
        return False
    return True


def _installed_files(name: str) -> Iterator[tuple[str, bytes]]:
    for one in metadata.files(name) or ():
        path = Path(str(one.locate()))
        outside = ".." in one.parts or "__pycache__" in one.parts or one.parts[0] == "bin"
        if not outside and "tests" not in one.parts and path.is_file() and one.suffix not in (".pyi", ".lib", ".h"):
            yield one.as_posix(), path.read_bytes()


def _fetched_files(version: str) -> Iterator[tuple[str, bytes]]:
    """What another Python needs, fetched as this user's pip is set up to; versions are those installed here."""
    wanted = [f"{name}=={metadata.version(name)}" for name in _closure()]
    with tempfile.TemporaryDirectory(prefix="tenaz-carry-") as folder:
        platforms = [word for one in PLATFORMS for word in ("--platform", one)]
        command = [
            sys.executable, "-m", "pip", "download", "--quiet", "--disable-pip-version-check", "--no-deps",
            "--only-binary=:all:", "--implementation", "cp", "--python-version", version, *platforms,
            "--dest", folder, *wanted,
        ]  # fmt: skip
        ran = subprocess.run(command, capture_output=True, text=True, check=False)
        if ran.returncode != 0:
            last = (ran.stderr.strip().splitlines() or ["pip says nothing"])[-1]
            raise Refused(
                f"Python {version} there is another than here, and what it needs could not be fetched: {last[:200]} "
                f"Do it where a registry is reached, or start the rig from the stick."
            )
        opened = Path(folder) / "opened"
        for wheel in sorted(Path(folder).glob("*.whl")):
            unpack(wheel, opened)
        for path in sorted(opened.rglob("*")):
            if path.is_file():
                yield path.relative_to(opened).as_posix(), path.read_bytes()
