"""Which cards there are: ``python -m tenaz.loads.graphics.listing`` says it in JSON, or why none can be reached.

Asked in a process of its own: a driver that falls over takes no workbench with it.
"""

import json
import os
import sys
from dataclasses import asdict
from types import ModuleType
from typing import Any

from tenaz.core.base.errors import Refused
from tenaz.core.base.plain_text import plain
from tenaz.core.loads.cards import Card, CardKind
from tenaz.loads.graphics.library import library

KINDS = {"DiscreteGPU": CardKind.OWN_MEMORY, "IntegratedGPU": CardKind.SHARED_MEMORY, "CPU": CardKind.SOFTWARE}
FIRST = ("Vulkan", "Metal", "D3D12")
"""Ways to reach a card that say most of it and cost least; a card that has none of these is taken by another way."""
LEAST_STORAGE = 2
"""Buffers that a program must be able to see at once."""


def adapters(gpu: ModuleType) -> list[Any]:
    """Each card once, in an order that stays: those with memory of their own first, software last."""
    found = gpu.gpu.enumerate_adapters_sync()
    best = [one for one in found if one.info["backend_type"] in FIRST]
    known = {_who(one) for one in best}
    others = [one for one in found if one not in best and _who(one) not in known and _can(one)]
    order = list(CardKind)
    return sorted((*best, *others), key=lambda one: (order.index(_kind(one)), _who(one)))


def _who(adapter: Any) -> tuple[int, int]:
    return adapter.info["vendor_id"], adapter.info["device_id"]


def _kind(adapter: Any) -> CardKind:
    return KINDS.get(adapter.info["adapter_type"], CardKind.SHARED_MEMORY)


def _can(adapter: Any) -> bool:
    return bool(adapter.limits.get("max-storage-buffers-per-shader-stage", 0) >= LEAST_STORAGE)


def card_of(index: int, adapter: Any) -> Card:
    """What is known of one."""
    info = adapter.info
    return Card(
        index,
        plain(str(info["device"]))[:80],
        _kind(adapter),
        int(info["vendor_id"]),
        int(info["device_id"]),
        plain(f"{info['backend_type']}, {info['description']}")[:160],
    )


def main() -> None:
    """Say it."""
    try:
        gpu = library()
        said: dict[str, Any] = {"cards": [asdict(card_of(k, one)) for k, one in enumerate(adapters(gpu))]}
    except Refused as error:
        said = {"refused": str(error)}
    sys.stdout.write(json.dumps(said) + "\n")


if __name__ == "__main__":
    main()
    sys.stdout.flush()
    # A driver that falls over while it is taken down says nothing any more.
    os._exit(0)
