"""An image of a stick put together: layers, start of both kinds, an empty book, and a table over all."""

import hashlib
import shutil
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

from tenaz.aboard.medium import environment_block
from tenaz.stick import bios, partitions
from tenaz.stick.cache import Cache
from tenaz.stick.cpio import archive, console, file
from tenaz.stick.lock import Lock
from tenaz.stick.modules import load_order
from tenaz.stick.partitions import Partition
from tenaz.stick.parts import FILES, named
from tenaz.stick.system import (
    PACKAGES,
    compile_layer,
    kernel,
    kernel_modules,
    lay_own,
    unpack_for_making,
    unpack_system,
)
from tenaz.stick.tools import Tools

MIB = 1 << 20
BOOT_BYTES = 24 * MIB
REPORTS_BYTES = 48 * MIB
BOOK_BYTES = 40 * MIB
BIOS_BYTES = MIB
LAYER_VERSION = "1"
"""Raised whenever what is unpacked, or how, changes: layers kept from before are not used then."""
COMPRESSION = ("-comp", "zstd", "-Xcompression-level", "9", "-b", "256K")


@dataclass(frozen=True, slots=True)
class Step:
    """How far the making is: what is done, and the part of all that is done, 0 to 1."""

    doing: str
    part: float
    left_s: float | None = None


@dataclass(frozen=True, slots=True)
class Piece:
    """Bytes of a file that go to an offset of the disk."""

    offset: int
    path: Path


@dataclass(frozen=True, slots=True)
class Plan:
    """All that a stick holds: ``pieces`` in files, ``written`` bytes by offset; everything else is zero."""

    partitions: tuple[Partition, ...]
    sectors: int
    pieces: tuple[Piece, ...]
    heads: tuple[tuple[int, bytes], ...]

    @property
    def bytes(self) -> int:
        """The whole of it."""
        return self.sectors * partitions.SECTOR_BYTES


class Maker:
    """Makes the parts of a stick in ``folder``, which is thrown away afterwards. ``answers`` is the serial line on
    which it answers a workbench; none: it works by itself.
    """

    def __init__(
        self,
        lock: Lock,
        cache: Cache,
        folder: Path,
        stop: threading.Event,
        on_step: Callable[[Step], None] = lambda _: None,
        answers: str = "",
    ) -> None:
        self._lock = lock
        self._cache = cache
        self._answers = answers
        self._folder = folder
        self._on_step = on_step
        self._making = folder / "making"
        self._tools = Tools(self._making, lock.epoch_s, stop)
        self._began_s = time.monotonic()

    def plan(self, book_bytes: int = BOOK_BYTES) -> Plan:
        """Make all parts.

        Raises:
            Refused: a part could not be made.
            Cancelled: told to stop.
        """
        self._folder.mkdir(parents=True, exist_ok=True)
        self._say("opening packages", 0.0)
        unpack_for_making(
            self._lock, self._cache, self._making, lambda part: self._say("opening packages", 0.15 * part)
        )
        system = self._system_layer()
        self._say("this Tenaz", 0.80)
        own = self._own_layer()
        self._say("the start", 0.90)
        boot = self._boot_partition()
        reports = self._fat("reports", REPORTS_BYTES, "TENAZ")
        book = self._book(book_bytes)
        core = bios.core_image(self._tools, self._making, self._folder)
        laid = partitions.laid_out(
            (
                ("tenaz-bios", partitions.BIOS_BOOT, BIOS_BYTES),
                ("tenaz-reports", partitions.PLAIN_DATA, REPORTS_BYTES),
                ("tenaz-boot", partitions.EFI_SYSTEM, BOOT_BYTES),
                ("tenaz-system", partitions.LINUX_DATA, system.stat().st_size),
                ("tenaz-own", partitions.LINUX_DATA, own.stat().st_size),
                ("tenaz-book", partitions.LINUX_DATA, book_bytes),
            )
        )
        sectors = partitions.disk_sectors(laid)
        at = {one.name: one for one in laid}
        first, last = partitions.tables(laid, sectors, self._lock.digest)
        head = bios.first_sector(self._making, at["tenaz-bios"])
        heads = (
            (0, head + first[len(head) :]),
            (at["tenaz-bios"].offset, bios.placed(core, at["tenaz-bios"])),
            (sectors * partitions.SECTOR_BYTES - len(last), last),
        )
        files = {"reports": reports, "boot": boot, "system": system, "own": own, "book": book}
        pieces = tuple(Piece(at[f"tenaz-{name}"].offset, path) for name, path in files.items())
        self._say("put together", 0.97)
        return Plan(laid, sectors, pieces, heads)

    def _say(self, doing: str, part: float) -> None:
        spent_s = time.monotonic() - self._began_s
        self._on_step(Step(doing, part, spent_s * (1 - part) / part if part > 0.05 else None))

    def _system_layer(self) -> Path:
        """Debian's layer; the same packages give the same one, so it is kept."""
        name = hashlib.sha256(f"{LAYER_VERSION} {self._lock.digest} {COMPRESSION}".encode()).hexdigest()[:24]
        kept = self._cache.file(f"layer-{name}.squashfs")
        if kept.is_file():
            return kept
        folder = self._folder / "system"
        unpack_system(self._lock, self._cache, folder, lambda part: self._say("the system", 0.15 + 0.2 * part))
        self._say("compiling", 0.35)
        compile_layer(self._tools, folder, "usr/lib/python3.11", "/usr/lib/python3.11")
        compile_layer(self._tools, folder, PACKAGES, f"/{PACKAGES}")
        self._say("packing the system", 0.55)
        made = self._squashed(folder, "system")
        for old in self._cache.folder.glob("layer-*.squashfs"):
            old.unlink()
        part = kept.with_suffix(".part")
        shutil.move(made, part)
        part.replace(kept)
        return kept

    def _own_layer(self) -> Path:
        folder = self._folder / "own"
        lay_own(self._making, folder)
        compile_layer(self._tools, folder, f"{PACKAGES}/tenaz", f"/{PACKAGES}/tenaz")
        return self._squashed(folder, "own")

    def _squashed(self, folder: Path, name: str) -> Path:
        out = self._folder / f"{name}.squashfs"
        self._tools.run(
            "usr/bin/mksquashfs", folder, out, *COMPRESSION, "-all-root", "-noappend", "-no-progress", "-no-xattrs",
            "-no-exports", "-processors", "2", failed=f"The layer {name} could not be packed",
        )  # fmt: skip
        return out

    def _initrd(self) -> bytes:
        folder = kernel_modules(self._making)
        modules = load_order(folder, named("modules", "start"))
        order = "".join(f"{path.name}\n" for path in modules).encode()
        busybox = (self._making / "usr/bin/busybox").read_bytes()
        entries = [console(), file("init", (FILES / "init").read_bytes(), 0o755), file("bin/busybox", busybox, 0o755)]
        entries += [file(f"modules/{path.name}", path.read_bytes()) for path in modules]
        return archive((*entries, file("modules/order", order)))

    def _boot_partition(self) -> Path:
        import gzip  # noqa: PLC0415 - only here

        making = self._making
        stub = b"search --no-floppy --set=root --file /tenaz/kernel\nconfigfile ($root)/grub/grub.cfg\n"
        signed = making / "usr/lib/grub/x86_64-efi-signed/grubx64.efi.signed"
        shim = making / "usr/lib/shim/shimx64.efi.signed"
        files = {
            "EFI/BOOT/BOOTX64.EFI": shim.read_bytes(),
            "EFI/BOOT/grubx64.efi": signed.read_bytes(),
            "EFI/debian/grub.cfg": stub,
            "grub/grub.cfg": (FILES / "grub.cfg").read_bytes(),
            "tenaz/kernel": kernel(making).read_bytes(),
            "tenaz/initrd": gzip.compress(self._initrd(), 6, mtime=0),
            "tenaz/ranges": environment_block({}),
            "tenaz/answers": environment_block({"answers": self._answers} if self._answers else {}),
        }
        return self._fat("boot", BOOT_BYTES, "TENAZBOOT", files)

    def _fat(self, name: str, size: int, label: str, files: dict[str, bytes] | None = None) -> Path:
        """A FAT file system with these files in it."""
        out = self._folder / f"{name}.fat"
        with out.open("wb") as image:
            image.truncate(size)
        serial = hashlib.sha256(f"{self._lock.digest} {name}".encode()).hexdigest()[:8]
        self._tools.run(
            "usr/bin/mtools", "-c", "mformat", "-i", out, "-v", label, "-N", serial, "-T", str(size // 512), "-h", "64",
            "-s", "32", "::", failed=f"The partition {name} could not be made",
        )  # fmt: skip
        folders = {str(above) for path in files or () for above in Path(path).parents if str(above) != "."}
        for one in sorted(folders):
            self._mtool("mmd", "-i", out, f"::/{one}")
        for path, data in (files or {}).items():
            source = self._folder / "copied"
            source.write_bytes(data)
            self._mtool("mcopy", "-i", out, source, f"::/{path}")
        return out

    def _mtool(self, *arguments: str | Path) -> None:
        self._tools.run("usr/bin/mtools", "-c", *arguments, failed="A partition could not be filled")

    def _book(self, size: int) -> Path:
        out = self._folder / "book.ext4"
        with out.open("wb") as image:
            image.truncate(size)
        identity = hashlib.sha256(f"{self._lock.digest} book".encode()).hexdigest()
        uuid = "-".join((identity[:8], identity[8:12], "4" + identity[13:16], "8" + identity[17:20], identity[20:32]))
        self._tools.run(
            "usr/sbin/mke2fs", "-q", "-F", "-t", "ext4", "-L", "tenaz-book", "-U", uuid, "-m", "1", "-E",
            f"hash_seed={uuid},root_owner=0:0,lazy_itable_init=0,lazy_journal_init=0", out,
            failed="The partition for the book could not be made",
        )  # fmt: skip
        return out


def chunks(plan: Plan, size: int = 4 * MIB) -> Iterator[tuple[int, bytes]]:
    """All bytes of a stick in order, with their offsets, zeros and all."""
    spans: list[tuple[int, int, Path | bytes]] = [
        (one.offset, one.path.stat().st_size, one.path) for one in plan.pieces
    ]
    spans += [(offset, len(data), data) for offset, data in plan.heads]
    at = 0
    for offset, length, source in sorted(spans, key=lambda one: one[0]):
        for start in range(at, offset, size):
            yield start, bytes(min(size, offset - start))
        if isinstance(source, bytes):
            yield offset, source
        else:
            with source.open("rb") as data:
                here = offset
                while chunk := data.read(size):
                    yield here, chunk
                    here += len(chunk)
        at = offset + length
    for start in range(at, plan.bytes, size):
        yield start, bytes(min(size, plan.bytes - start))
