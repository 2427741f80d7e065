"""What the BIOS starts: GRUB's first sector and the image that it loads, told where on the disk that lies."""

import struct
from pathlib import Path

from tenaz.stick.partitions import SECTOR_BYTES, Partition
from tenaz.stick.parts import named
from tenaz.stick.tools import Tools

GRUB = "usr/lib/grub/i386-pc"
CODE_BYTES = 440
"""Of the first sector: what follows belongs to the table of partitions."""
CORE_AT = 0x5C
"""Where the first sector keeps which sector to load."""
DRIVE_CHECK_AT, NOPS = 0x66, b"\x90\x90"
"""A jump over a work-around for firmware that passes a wrong drive; without it the work-around is used."""
BLOCK_LIST_AT = 0x1F4
"""Where the first sector of the loaded image keeps where its rest lies: sector, count, segment."""
EARLY = b"""search --no-floppy --set=root --file /tenaz/kernel
set prefix=($root)/grub
configfile ($root)/grub/grub.cfg
"""


def core_image(tools: Tools, root: Path, folder: Path) -> bytes:
    """GRUB with all that it needs to read the stick."""
    early, out = folder / "early.cfg", folder / "core.img"
    early.write_bytes(EARLY)
    tools.run(
        "usr/bin/grub-mkimage", "--directory", root / GRUB, "--format", "i386-pc", "--prefix", "/grub",
        "--config", early, "--output", out, *named("grub", "modules"), failed="GRUB could not be made",
    )  # fmt: skip
    return out.read_bytes()


def first_sector(root: Path, at: Partition) -> bytes:
    """The code of the first sector, which loads the image from the beginning of a partition."""
    code = bytearray((root / GRUB / "boot.img").read_bytes())
    code[CORE_AT : CORE_AT + 8] = struct.pack("<Q", at.first)
    code[DRIVE_CHECK_AT : DRIVE_CHECK_AT + 2] = NOPS
    return bytes(code[:CODE_BYTES])


def placed(core: bytes, at: Partition) -> bytes:
    """The image, told where its own rest lies."""
    assert len(core) <= at.bytes
    image = bytearray(core.ljust(-(-len(core) // SECTOR_BYTES) * SECTOR_BYTES, b"\0"))
    rest = len(image) // SECTOR_BYTES - 1
    (_, _, segment) = struct.unpack_from("<QHH", image, BLOCK_LIST_AT)
    struct.pack_into("<QHH", image, BLOCK_LIST_AT, at.first + 1, rest, segment)
    return bytes(image)
