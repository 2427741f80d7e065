"""What there is at the other end of an ``ssh``, before anything of ours is: asked of its shell, nothing is written."""

import subprocess
from collections.abc import Mapping
from dataclasses import dataclass

from tenaz.core.base.amounts import show_bytes
from tenaz.wire.troubles import Unreached, trouble_of
from tenaz.wire.ways import CARRIED, Ssh, Told

ASKED_WITHIN_S = 60.0
PYTHONS = "python3 python3.14 python3.13 python3.12 python3.11"
LEAST_PYTHON = (3, 11)
ARCHITECTURE = "x86_64"
NEEDED_BYTES = 400 * 2**20
"""What is carried over takes so much on a disk, with room to unpack it beside what was there."""

QUESTIONS = f"""
echo "system=$(uname -s)"; echo "architecture=$(uname -m)"
grep -qw pni /proc/cpuinfo 2>/dev/null && echo sse3=1
for python in {PYTHONS}; do
  found=$("$python" -c 'import sys; v = sys.version_info; print("%d.%d" % v[:2] if v >= (3, 11) else "")' 2>/dev/null)
  [ -n "$found" ] && echo "python=$python" && echo "version=$found" && break
done
[ -z "$found" ] && echo "older=$(python3 -V 2>&1 | cut -c1-40)"
echo "locked_kib=$(ulimit -l)"
echo "memory_kib=$(sed -n 's/^MemTotal: *\\([0-9]*\\) kB/\\1/p' /proc/meminfo)"
echo "free_kib=$(df -Pk "$HOME" 2>/dev/null | sed -n '2s/^[^ ]* *[0-9]* *[0-9]* *\\([0-9]*\\) .*/\\1/p')"
echo "installed=$(PATH="$HOME/.local/bin:$PATH" command -v tenaz)"
echo "carried=$(cat "{CARRIED}/VERSION" 2>/dev/null)"
"""


@dataclass(frozen=True, slots=True)
class There:
    """A machine, before anything of ours is there: its Python (empty: none that would do), what is installed there of
    ours, and what was carried over (empty: nothing).
    """

    system: str = ""
    architecture: str = ""
    sse3: bool = False
    python: str = ""
    version: str = ""
    older: str = ""
    locked_bytes: int | None = None
    memory_bytes: int | None = None
    free_bytes: int | None = None
    installed: str = ""
    carried: str = ""

    @property
    def lacks(self) -> tuple[str, ...]:
        """Why nothing can be carried over, each with what to do; none: it can."""
        lacking = []
        if self.system != "Linux":
            lacking.append(f"its system is {self.system or 'not known'}: start it from the stick (tenaz stick make)")
        elif self.architecture != ARCHITECTURE:
            lacking.append(f"its processor is {self.architecture}: loads are made for {ARCHITECTURE} only")
        elif not self.sse3:
            lacking.append("its processor lacks SSE3, which loads need")
        if not self.python:
            what = f"it has {self.older}" if self.older.startswith("Python") else "it has no Python"
            least = ".".join(map(str, LEAST_PYTHON))
            lacking.append(f"{what}: install Python {least} or newer there, or start it from the stick")
        if self.free_bytes is not None and self.free_bytes < NEEDED_BYTES:
            free, needed = show_bytes(self.free_bytes), show_bytes(NEEDED_BYTES)
            lacking.append(f"its home has {free} free, and {needed} are needed: make room")
        return tuple(lacking)

    @property
    def remarks(self) -> tuple[str, ...]:
        """What works less well there than it could, each with what to do."""
        locked, memory = self.locked_bytes, self.memory_bytes
        if locked is None or memory is None or locked >= memory // 2:
            return ()
        return (
            f"only {show_bytes(locked)} of its memory can be locked: under pressure its system may write some of what "
            f"a load holds to a disk. A line there, in /etc/security/limits.d/tenaz.conf: * - memlock unlimited",
        )


def run_there(way: Ssh, script: str, data: bytes | None = None, within_s: float = ASKED_WITHIN_S) -> str:
    """What a shell there says to a script; ``data`` is its input.

    Raises:
        Unreached: it did not run to its end; says why.
    """
    command = way.command(script)
    try:
        ran = subprocess.run(command, input=data or b"", capture_output=True, timeout=within_s, check=False)
    except subprocess.TimeoutExpired as late:
        raise Unreached(trouble_of(way, Told(None, f"no end within {within_s:.0f} s"), [])) from late
    if ran.returncode != 0:
        raise Unreached(trouble_of(way, Told(ran.returncode, ran.stderr[-4000:].decode(errors="replace")), []))
    return ran.stdout.decode(errors="replace")


def look_there(way: Ssh) -> There:
    """What there is.

    Raises:
        Unreached: it was not reached.
    """
    return there_of(dict(line.split("=", 1) for line in run_there(way, QUESTIONS).splitlines() if "=" in line))


def there_of(told: Mapping[str, str]) -> There:
    """Out of what its shell said; what makes no sense is not known."""
    return There(
        told.get("system", ""),
        told.get("architecture", ""),
        "sse3" in told,
        told.get("python", ""),
        told.get("version", ""),
        told.get("older", ""),
        _bytes(told.get("locked_kib", "")),
        _bytes(told.get("memory_kib", "")),
        _bytes(told.get("free_kib", "")),
        told.get("installed", ""),
        told.get("carried", ""),
    )


def _bytes(kib: str) -> int | None:
    """None for what is without limit, or not told."""
    return int(kib) * 1024 if kib.isdigit() else None
