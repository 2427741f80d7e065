"""Devices that a stick can be made of: removable ones only, never one that is in use or that the system runs from."""

import os
import stat
from dataclasses import dataclass
from pathlib import Path

from tenaz.core.base.amounts import show_bytes
from tenaz.core.base.errors import Refused

SECTOR_BYTES = 512


@dataclass(frozen=True, slots=True)
class Device:
    """A block device: what it calls itself, its size, what is on it, and where parts of it are mounted."""

    path: Path
    name: str
    size_bytes: int
    removable: bool
    number: tuple[int, int] = (0, 0)
    """Of the kernel: what a descriptor that is open on it tells too."""
    parts: tuple[str, ...] = ()
    mounted: tuple[str, ...] = ()

    def show(self) -> str:
        """In one line."""
        holds = f", holds {', '.join(self.parts)}" if self.parts else ", nothing known on it"
        used = f", in use at {', '.join(self.mounted)}" if self.mounted else ""
        return f"{self.path} {self.name}, {show_bytes(self.size_bytes)}{holds}{used}"


def all_devices(root: Path = Path("/")) -> tuple[Device, ...]:
    """Every disk that the kernel knows."""
    found = [_read(root, entry) for entry in sorted((root / "sys/block").glob("*"))]
    return tuple(one for one in found if one is not None)


def removable(root: Path = Path("/")) -> tuple[Device, ...]:
    """Those that may be taken out and that nothing uses."""
    return tuple(one for one in all_devices(root) if one.removable and not one.mounted)


def device(path: Path, root: Path = Path("/")) -> Device:
    """The device that is meant.

    Raises:
        Refused: there is none, it is not removable, or it is in use; says which are there.
    """
    known = all_devices(root)
    found = next((one for one in known if one.path == path), None)
    others = ", ".join(str(one.path) for one in known if one.removable and not one.mounted) or "none"
    if found is None:
        raise Refused(f"{path} is no disk; removable devices that are free: {others}.")
    if not found.removable:
        raise Refused(f"{path} is built in: it is never erased. Removable devices that are free: {others}.")
    if found.mounted:
        raise Refused(f"{path} is in use at {', '.join(found.mounted)}: unmount it first. Free ones: {others}.")
    return found


def _read(root: Path, entry: Path) -> Device | None:
    sectors = _whole(entry / "size")
    if not sectors or (entry / "loop").exists() or entry.name.startswith(("ram", "zram", "dm-", "md", "sr", "fd")):
        return None
    ways = (_text(entry / "device" / part) for part in ("vendor", "model", "name"))
    name = " ".join(" ".join(filter(None, ways)).split()) or entry.name
    by_usb = "/usb" in str(entry.resolve())
    mounts = _mounts(root)
    names = [entry.name, *(part.name for part in entry.glob(f"{entry.name}*"))]
    uses = [at for one in names for at in mounts.get(one, ())]
    uses += [f"/dev/{holder.name}" for one in names for holder in _holders(entry, one)]
    labels = tuple(label for part in names[1:] if (label := _label(root, part)))
    may_go = _whole(entry / "removable") == 1 or by_usb
    major, _, minor = (_text(entry / "dev") or "0:0").partition(":")
    number = (int(major), int(minor)) if major.isdigit() and minor.isdigit() else (0, 0)
    return Device(Path("/dev") / entry.name, name, sectors * SECTOR_BYTES, may_go, number, labels, tuple(uses))


def same_device(handle: int, found: Device, root: Path = Path("/")) -> None:
    """See that an open descriptor is the very device that was chosen, and that this may still be erased.

    Raises:
        Refused: its name leads elsewhere by now, or it came into use; nothing was written.
    """
    now, told = device(found.path, root), os.fstat(handle)
    same = stat.S_ISBLK(told.st_mode) and (os.major(told.st_rdev), os.minor(told.st_rdev)) == found.number
    if not same or (now.name, now.size_bytes, now.number) != (found.name, found.size_bytes, found.number):
        raise Refused(f"{found.path} is another device by now than {found.name}: nothing was written. Look again.")


def _holders(entry: Path, name: str) -> list[Path]:
    """What is built upon a disk or a part of it: encrypted or joined volumes that may be mounted themselves."""
    at = entry if entry.name == name else entry / name
    return list((at / "holders").glob("*"))


def _mounts(root: Path) -> dict[str, list[str]]:
    """Where each device is mounted or swapped to, by its name."""
    found: dict[str, list[str]] = {}
    for line in (_text(root / "proc/self/mounts") or "").splitlines():
        words = line.split()
        if len(words) > 1 and words[0].startswith("/dev/"):
            found.setdefault(os.path.realpath(words[0]).rsplit("/", 1)[-1], []).append(words[1])
    for line in (_text(root / "proc/swaps") or "").splitlines()[1:]:
        if line.startswith("/dev/"):
            found.setdefault(line.split()[0].rsplit("/", 1)[-1], []).append("swap")
    return found


def _label(root: Path, part: str) -> str:
    """A part by its name and size, with its label where the system knows one."""
    size = (_whole(root / "sys/class/block" / part / "size") or 0) * SECTOR_BYTES
    for link in (root / "dev/disk/by-label").glob("*"):
        if link.resolve().name == part:
            return f"{part} “{link.name}” ({show_bytes(size)})"
    return f"{part} ({show_bytes(size)})" if size else part


def _text(path: Path) -> str:
    try:
        return path.read_text(errors="replace").strip()
    except OSError:
        return ""


def _whole(path: Path) -> int | None:
    text = _text(path)
    return int(text) if text.isdigit() else None
