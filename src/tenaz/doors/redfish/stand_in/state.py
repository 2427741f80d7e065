"""How the machine behind the stand-in stands: what was set, what a start made of it, who is logged in."""

import threading
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Protocol

from tenaz.core.rigs.offers import Offer, Raw

FALLS_BACK_AFTER = 3
"""So many starts in a row that did not come up, and the firmware takes its own values."""


class Machine(Protocol):
    """What stands behind the service."""

    def offers(self) -> tuple[Offer, ...]:
        """Its attributes, with what is in force."""
        ...

    def defaults(self) -> Mapping[str, Raw]:
        """What it takes by itself."""
        ...

    def start(self, values: Mapping[str, Raw]) -> bool:
        """Start with these; whether it came up."""
        ...


@dataclass
class State:
    """Its machine, who may log in, and how it stands."""

    machine: Machine
    user: str
    password: str = field(repr=False)
    pending: dict[str, Raw] = field(default_factory=dict)
    entered: dict[str, Raw] = field(default_factory=dict)
    sessions: dict[str, str] = field(default_factory=dict)
    failed: int = 0
    power: str = "On"
    progress: str = "OSRunning"
    lock: threading.RLock = field(default_factory=threading.RLock)

    def start(self) -> None:
        """Start the machine with what was set; after some starts in vain with its own values."""
        in_force = {offer.name: offer.current for offer in self.machine.offers() if offer.current is not None}
        self.entered = {**in_force, **self.entered, **self.pending}
        self.pending, self.power = {}, "On"
        if self.machine.start(self.entered):
            self.failed, self.progress, self.entered = 0, "OSRunning", {}
            return
        self.failed += 1
        if self.failed >= FALLS_BACK_AFTER:
            self.failed, self.entered = 0, {}
            came_up = self.machine.start(self.machine.defaults())
            self.progress = "OSRunning" if came_up else "MemoryInitializationStarted"
            return
        self.progress = "MemoryInitializationStarted"
