"""What the kernel says of graphics cards beside their sensors: how much memory each has of its own."""

from pathlib import Path

from tenaz.probe.tree import Tree

DISPLAY_CLASS = 0x03
"""PCI base class of display controllers."""
PREFETCHABLE = 0x2000
"""Flag of a resource (include/linux/ioport.h)."""
LEAST_WHOLE_BYTES = 1 << 30
"""A window into a card's memory of at least this is taken to be all of it; smaller ones, of older boards, show a part
of it.
"""


def memory_of_cards(root: Path = Path("/")) -> tuple[tuple[int, int, int], ...]:
    """Of each card whose memory is known its vendor's and its own number on the bus, and its memory in bytes."""
    tree, found = Tree(root), []
    for folder in tree.folders("sys/bus/pci/devices/*"):
        kind = tree.whole(f"{folder}/class")
        if kind is None or kind >> 16 != DISPLAY_CLASS:
            continue
        vendor, device = tree.whole(f"{folder}/vendor"), tree.whole(f"{folder}/device")
        size = _told(tree, folder) or _window(tree, folder)
        if vendor is not None and device is not None and size:
            found.append((vendor, device, size))
    return tuple(found)


def _told(tree: Tree, folder: str) -> int | None:
    """By its driver, where that says so."""
    path = f"{folder}/mem_info_vram_total"
    return tree.whole(path) if tree.exists(path) else None


def _window(tree: Tree, folder: str) -> int:
    """By the largest window into it, where that is large enough to be all of it."""
    text = tree.text(f"{folder}/resource") if tree.exists(f"{folder}/resource") else None
    largest = 0
    for line in (text or "").splitlines():
        numbers = line.split()
        if len(numbers) == 3:
            first, last, flags = (int(one, 16) for one in numbers)
            if flags & PREFETCHABLE and last > first:
                largest = max(largest, last - first + 1)
    return largest if largest >= LEAST_WHOLE_BYTES else 0
