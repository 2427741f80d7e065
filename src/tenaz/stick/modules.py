"""Which of the kernel's modules go along, and in which order they can be loaded."""

import re
from collections.abc import Iterable
from pathlib import Path

from tenaz.core.errors import Refused

START = """
    virtio_pci virtio_blk xhci-pci ehci-pci uhci-hcd ohci-pci usb-storage uas sd_mod ahci ata_piix nvme mmc_block
    sdhci-pci sdhci-acpi hid-generic usbhid
    crc32c_generic crc32c-intel ext4 squashfs overlay nls_ascii nls_cp437 nls_iso8859-1 nls_utf8 vfat
    libnvdimm nd_e820 device_dax dax_pmem
""".split()
"""To find the stick and to start from it, keyboards, and ranges of memory that are kept free."""

LATER = """
    msr cpuid acpi-cpufreq coretemp k10temp nct6775 it87 f71882fg jc42 intel_rapl_msr
    i2c-i801 i2c-piix4 i2c-dev ee1004 at24
""".split()
"""Sensors, power, clocks, and what memory modules tell of themselves; on many machines some of them find nothing."""


def load_order(folder: Path, wanted: Iterable[str]) -> tuple[Path, ...]:
    """The files of modules below a folder, each after those that it needs.

    Raises:
        Refused: the kernel has no such module.
    """
    files = {_plain(path.stem): path for path in sorted(folder.rglob("*.ko"))}
    ordered: dict[Path, None] = {}

    def take(name: str) -> None:
        path = files.get(_plain(name))
        if path is None:
            raise Refused(f"This kernel has no module {name}; the list of packages and this Tenaz do not fit.")
        if path in ordered:
            return
        for needed in _needs(path):
            take(needed)
        ordered[path] = None

    for name in wanted:
        take(name)
    return tuple(ordered)


def _plain(name: str) -> str:
    return name.replace("-", "_")


def _needs(path: Path) -> list[str]:
    """The modules that one names as needed (``depends`` and ``softdep`` before it), from its own description."""
    data = path.read_bytes()
    found = re.search(rb"\0depends=([^\0]*)\0", data)
    hard = [name for name in (found[1].decode() if found else "").split(",") if name]
    # t10-pi and the like are asked for by name at run time, which nobody answers before the root is there.
    return hard
