"""What a stick is made of, to the byte: Debian packages and wheels with their sums. It names no place to get them."""

import hashlib
import tomllib
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path

import tomlkit

from tenaz.core.base.errors import Refused

OWN_LOCK = Path(__file__).with_name("lock.toml")


class Use(StrEnum):
    """What a package is for: ``system`` runs on the stick, ``boot`` starts it, ``tools`` only make it, ``font`` gives
    the letters.
    """

    SYSTEM = "system"
    BOOT = "boot"
    TOOLS = "tools"
    FONT = "font"


@dataclass(frozen=True, slots=True)
class Package:
    """A Debian package: ``path`` below an ``archive`` (``debian`` or ``debian-security``) of a mirror."""

    name: str
    version: str
    use: Use
    archive: str
    path: str
    size_bytes: int
    sha256: str

    @property
    def file(self) -> str:
        """Its name in the cache."""
        return self.path.rsplit("/", 1)[-1]


@dataclass(frozen=True, slots=True)
class Wheel:
    """A Python package, built for the Python of the stick."""

    name: str
    version: str
    file: str
    sha256: str


@dataclass(frozen=True, slots=True)
class Lock:
    """All packages and wheels, and the moment (seconds since 1970) that every file of the stick carries."""

    release: str
    epoch_s: int
    packages: tuple[Package, ...]
    wheels: tuple[Wheel, ...]

    def of(self, *uses: Use) -> tuple[Package, ...]:
        """Packages of some uses."""
        return tuple(one for one in self.packages if one.use in uses)

    @property
    def digest(self) -> str:
        """The same for the same packages."""
        sums = "".join([f"{one.sha256}\n" for one in self.packages] + [f"{one.sha256}\n" for one in self.wheels])
        return hashlib.sha256(f"{self.epoch_s}\n{sums}".encode()).hexdigest()

    def as_toml(self) -> str:
        """As the file it is kept in."""
        return tomlkit.dumps(
            {
                "release": self.release,
                "epoch_s": self.epoch_s,
                "package": [
                    {
                        "name": one.name,
                        "version": one.version,
                        "use": one.use.value,
                        "archive": one.archive,
                        "path": one.path,
                        "size_bytes": one.size_bytes,
                        "sha256": one.sha256,
                    }
                    for one in self.packages
                ],
                "wheel": [
                    {"name": one.name, "version": one.version, "file": one.file, "sha256": one.sha256}
                    for one in self.wheels
                ],
            }
        )


def read_lock(path: Path = OWN_LOCK) -> Lock:
    """Read a lock.

    Raises:
        Refused: there is none, or it is none.
    """
    try:
        fields = tomllib.loads(path.read_text())
        return Lock(
            fields["release"],
            fields["epoch_s"],
            tuple(Package(**{**one, "use": Use(one["use"])}) for one in fields["package"]),
            tuple(Wheel(**one) for one in fields["wheel"]),
        )
    except OSError as error:
        raise Refused(f"The list of packages {path} cannot be read: {error.strerror}.") from error
    except (tomllib.TOMLDecodeError, KeyError, TypeError, ValueError) as error:
        raise Refused(
            f"{path} is no list of packages for a stick: {error}. Make a new one: tenaz stick renew."
        ) from error
