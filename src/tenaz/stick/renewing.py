"""A new lock: which packages and wheels are the newest that this machine's registries have."""

import json
import re
import subprocess
import sys
import tempfile
import time
from importlib.metadata import requires
from pathlib import Path

from tenaz.core.base.errors import Refused
from tenaz.stick.cache import TAGS
from tenaz.stick.lock import Lock, Package, Use, Wheel
from tenaz.stick.mirrors import MAIN, SECURITY
from tenaz.stick.parts import named

RELEASE = "bookworm"
KERNEL = "linux-image-amd64"
"""Names the newest kernel; the one for clouds knows no USB storage."""


def renewed_lock(constraints: Path | None = None) -> Lock:
    """Resolve every name with the package lists of this machine and with pip.

    Raises:
        Refused: this machine has no such lists, a name is not to be had, or there is no such file of constraints.
    """
    if constraints is not None and not constraints.is_file():
        raise Refused(f"{constraints} is no file with versions of Python packages.")
    packages = [_package(name, use) for use in Use for name in named("packages", use.value)]
    packages.append(_package(_kernel(), Use.BOOT))
    return Lock(RELEASE, int(time.time()), tuple(packages), _wheels(constraints))


def _show(name: str) -> dict[str, str]:
    try:
        told = subprocess.run(
            ["apt-cache", "show", "--no-all-versions", f"{name}:amd64"], capture_output=True, text=True, check=False
        )
    except OSError as error:
        raise Refused(
            f"apt-cache cannot be run here ({error.strerror}): a lock is renewed on Debian 12 or what is built on it."
        ) from error
    fields = dict(re.findall(r"^([A-Z][\w-]*): (.*)$", told.stdout, re.MULTILINE))
    if "SHA256" not in fields:
        raise Refused(f"Debian's package {name} is not known here: run apt-get update (as root) on Debian 12 first.")
    return fields


def _package(name: str, use: Use) -> Package:
    fields = _show(name)
    # Packages of the security archive lie below pool/updates.
    archive = SECURITY if fields["Filename"].startswith("pool/updates/") else MAIN
    size = int(fields["Size"])
    return Package(name, fields["Version"], use, archive, fields["Filename"], size, fields["SHA256"])


def _kernel() -> str:
    found = re.search(r"linux-image-\S+", _show(KERNEL).get("Depends", ""))
    if found is None:
        raise Refused(f"{KERNEL} names no kernel here; renew the lock on Debian 12.")
    return found[0]


def _wheels(constraints: Path | None) -> tuple[Wheel, ...]:
    wanted = [one for one in requires("tenaz") or () if "extra ==" not in one]
    with tempfile.TemporaryDirectory() as folder:
        report = Path(folder) / "report.json"
        command = [sys.executable, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "--dry-run"]
        command += ["--ignore-installed", "--only-binary=:all:", "--python-version=3.11", "--implementation=cp"]
        command += [f"--platform={tag}" for tag in TAGS]
        command += ["--target", folder, "--report", str(report), *wanted]
        command += ["--constraint", str(constraints)] if constraints else []
        done = subprocess.run(command, capture_output=True, text=True, check=False)
        if done.returncode:
            raise Refused(f"pip did not find all wheels: {done.stderr.strip().splitlines()[-1:]}")
        installs = json.loads(report.read_text())["install"]
    found = [
        Wheel(
            one["metadata"]["name"],
            one["metadata"]["version"],
            one["download_info"]["url"].rsplit("/", 1)[-1],
            one["download_info"]["archive_info"]["hashes"]["sha256"],
        )
        for one in installs
    ]
    return tuple(sorted(found, key=lambda one: one.name.lower()))
