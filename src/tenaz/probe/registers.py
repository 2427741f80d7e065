"""Register files: where in a memory controller's registers its timings stand, as data; read by the kernel's own files.

Read-only. A file in TOML names a PCI device and, for each value, whether it stands in the configuration space or in one
of the device's memory regions, at which offset, in which bits, and how the number becomes a knob's value.
"""

import mmap
from collections.abc import Sequence
from pathlib import Path
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from tenaz.catalogues.format import Name
from tenaz.catalogues.outside import read_text
from tenaz.catalogues.reading import parse_toml
from tenaz.core.machine.machine import RegisterValue, Unread, Why
from tenaz.probe.tree import Tree

PCI = "sys/bus/pci/devices"
MOST_OFFSET = 1 << 28
Bar = Literal["config", "bar0", "bar1", "bar2", "bar3", "bar4", "bar5"]


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class DeviceEntry(_Entry):
    """The device, by its numbers on the PCI bus."""

    vendor: Annotated[int, Field(ge=0, le=0xFFFF)]
    device: Annotated[int, Field(ge=0, le=0xFFFF)]


class ValueEntry(_Entry):
    """One value: a number of ``width`` bytes, least significant first, at ``offset`` in ``where``; of it the bits
    ``high`` to ``low``. The knob's value is (number × times + plus) ÷ over, rounded down. ``least`` and ``most`` are
    numbers outside of which nothing sensible stands there.
    """

    knob: Name
    where: Bar
    offset: Annotated[int, Field(ge=0, lt=MOST_OFFSET)]
    width: Literal[1, 2, 4, 8] = 4
    low: Annotated[int, Field(ge=0, le=63)] = 0
    high: Annotated[int, Field(ge=0, le=63)] | None = None
    times: Annotated[int, Field(ge=1, le=10**6)] = 1
    plus: Annotated[int, Field(ge=-(10**6), le=10**6)] = 0
    over: Annotated[int, Field(ge=1, le=10**6)] = 1
    least: int = 1
    most: int = 10**6

    @model_validator(mode="after")
    def _fits(self) -> "ValueEntry":
        if self.offset % self.width:
            raise ValueError(f"offset {self.offset:#x} is not a multiple of its width of {self.width}")
        if self.top >= 8 * self.width or self.low > self.top:
            raise ValueError(f"bits {self.top} to {self.low} do not lie in {self.width} bytes")
        return self

    @property
    def top(self) -> int:
        """Its highest bit."""
        return 8 * self.width - 1 if self.high is None else self.high

    def value(self, raw: bytes) -> int:
        """The knob's value out of its bytes."""
        number = int.from_bytes(raw, "little") >> self.low & ((1 << self.top - self.low + 1) - 1)
        return (number * self.times + self.plus) // self.over


class RegisterFile(_Entry):
    """Where the values of a memory controller stand."""

    format: Literal["tenaz.registers/1"]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    about: str = ""
    device: DeviceEntry
    value: Annotated[tuple[ValueEntry, ...], Field(min_length=1, max_length=200)]


def read_register_file(path: Path) -> RegisterFile:
    """A register file.

    Raises:
        Refused: it is none; names line and field.
    """
    return parse_toml(RegisterFile, read_text(path), path.name)


def read_registers(tree: Tree, files: Sequence[RegisterFile]) -> tuple[RegisterValue, ...]:
    """The values of the first device that each file is for; what cannot be read is noted in the tree, with the reason.
    A value that makes no sense says that the file is for another machine: nothing of it is believed then.
    """
    found: dict[str, RegisterValue] = {}
    for file in files:
        for value in _of_file(tree, file):
            found.setdefault(value.knob, value)
    return tuple(found.values())


def _of_file(tree: Tree, file: RegisterFile) -> list[RegisterValue]:
    device = next((one for one in tree.folders(f"{PCI}/*") if _is(tree, one, file.device)), None)
    if device is None:
        return []
    found = []
    for entry in file.value:
        try:
            raw = _bytes(tree.root / device, entry)
        except PermissionError:
            tree.unread.append(Unread(f"{file.name}, {entry.where}", Why.FORBIDDEN, FORBIDDEN))
            return []
        except OSError as error:
            tree.unread.append(Unread(f"{file.name}, {entry.where}", Why.MISSING, error.strerror or ""))
            return []
        except ValueError:
            raw = b""
        value = entry.value(raw) if len(raw) == entry.width else None
        if value is None or not entry.least <= value <= entry.most:
            shown = "too short" if value is None else str(value)
            tree.unread.append(Unread(f"{file.name}, {entry.knob}", Why.NONSENSE, f"{shown}: is it for this machine?"))
            return []
        found.append(RegisterValue(entry.knob, value, file.name))
    return found


FORBIDDEN = "the kernel does not let it be read: root is needed, and no lockdown (Secure Boot)"


def _is(tree: Tree, folder: str, device: DeviceEntry) -> bool:
    return (tree.whole(f"{folder}/vendor"), tree.whole(f"{folder}/device")) == (device.vendor, device.device)


def _bytes(folder: Path, entry: ValueEntry) -> bytes:
    """So many bytes at its place; of a memory region by a mapping that cannot be written through.

    Raises:
        OSError: it is not there, or may not be read.
        ValueError: it ends before.
    """
    if entry.where == "config":
        with (folder / "config").open("rb") as file:
            file.seek(entry.offset)
            return file.read(entry.width)
    with (folder / f"resource{entry.where.removeprefix('bar')}").open("rb") as file:
        page = entry.offset // mmap.PAGESIZE * mmap.PAGESIZE
        with mmap.mmap(file.fileno(), mmap.PAGESIZE, access=mmap.ACCESS_READ, offset=page) as mapped:
            at = entry.offset - page
            return mapped[at : at + entry.width]
