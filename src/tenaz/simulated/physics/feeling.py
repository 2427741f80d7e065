"""What each kind of load feels of each weakness: one matrix, so that one kind alone misses what another finds."""

from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from tenaz.core.loads.kinds import LoadKind


class Weak(StrEnum):
    """Kinds of weaknesses."""

    SIGNAL = "signal"
    COMMAND = "command bus"
    ACCESS = "access time"
    ROW = "row timing"
    WRITE = "write recovery"
    ACTIVATE = "activation"
    TURN = "bus turn-round"
    COLUMN = "column timing"
    RANKS = "rank switch"
    POWER_DOWN = "leaving power-down"
    REFRESH = "refresh time"
    RETENTION = "retention"
    DISTURB = "row disturbance"
    CELLS = "cells' supply"
    LEVELS = "levels apart"
    CONTROLLER = "controller"
    IO = "memory I/O"
    FABRIC = "fabric"
    CORE = "core"
    SUPPLY = "supply"
    GRAPHICS = "graphics core"
    GRAPHICS_MEMORY = "graphics memory"
    REGION = "weak cells"
    ROW_BROKEN = "a broken row"
    LANE = "a data lane"
    SLOT = "a slot"
    CONTACT = "a contact"
    START = "start only"

    @property
    def of_memory(self) -> bool:
        """Whether wrong values of it carry an address."""
        return self not in (Weak.CORE, Weak.SUPPLY, Weak.GRAPHICS, Weak.GRAPHICS_MEMORY, Weak.START)


GROUPS = tuple(Weak)
LOADS = (
    LoadKind.MARCH, LoadKind.CHECKER, LoadKind.PERMUTE, LoadKind.COPY, LoadKind.RETAIN, LoadKind.DISTURB,
    LoadKind.TRANSFORM, LoadKind.SOLVE, LoadKind.DIGEST, LoadKind.PULSE, LoadKind.SOLO, LoadKind.PROGRAM,
    LoadKind.PAINT, LoadKind.SHADE, LoadKind.VRAM,
)  # fmt: skip
"""The columns of the table below, and the rows of ``FEELING``."""

_FELT: dict[Weak, tuple[float, ...]] = {
    Weak.SIGNAL: (1.0, 0.9, 0.8, 1.2, 0.1, 0.4, 0.05, 0.06, 0.05, 0.02, 0.01, 0.2),
    Weak.COMMAND: (0.6, 0.5, 1.3, 0.5, 0.1, 0.6, 0.03, 0.04, 0.03, 0.02, 0.01, 0.15),
    Weak.ACCESS: (1.0, 0.9, 1.2, 0.9, 0.1, 0.8, 0.04, 0.05, 0.04, 0.02, 0.01, 0.2),
    Weak.ROW: (0.5, 0.5, 2.0, 0.6, 0.05, 1.5, 0.03, 0.03, 0.03, 0.02, 0.01, 0.2),
    Weak.WRITE: (1.0, 0.8, 0.9, 1.2, 0.05, 0.05, 0.03, 0.03, 0.03, 0.02, 0.01, 0.2),
    Weak.ACTIVATE: (0.3, 0.3, 2.0, 0.4, 0.02, 0.8, 0.02, 0.02, 0.02, 0.01, 0.01, 0.1),
    Weak.TURN: (0.7, 0.5, 0.8, 2.0, 0.02, 0.05, 0.02, 0.03, 0.03, 0.01, 0.01, 0.2),
    Weak.COLUMN: (1.0, 0.9, 0.2, 1.0, 0.02, 0.1, 0.03, 0.04, 0.03, 0.01, 0.01, 0.15),
    Weak.RANKS: (0.6, 0.5, 1.0, 1.2, 0.02, 0.1, 0.02, 0.02, 0.02, 0.01, 0.01, 0.1),
    Weak.POWER_DOWN: (0.02, 0.02, 0.02, 0.02, 1.5, 0.02, 0.01, 0.01, 0.01, 0.8, 0.6, 0.1),
    Weak.REFRESH: (1.0, 0.9, 1.0, 0.8, 1.2, 0.6, 0.05, 0.05, 0.05, 0.03, 0.02, 0.2),
    Weak.RETENTION: (0.25, 0.25, 0.15, 0.1, 2.0, 0.3, 0.01, 0.01, 0.01, 0.01, 0.01, 0.05),
    Weak.DISTURB: (0.003, 0.003, 0.01, 0.003, 0.003, 1.5, 0.001, 0.001, 0.001, 0.001, 0.001, 0.002),
    Weak.CELLS: (1.0, 0.9, 1.0, 1.0, 0.5, 0.5, 0.05, 0.05, 0.05, 0.02, 0.01, 0.2),
    Weak.LEVELS: (1.0, 0.9, 0.8, 1.1, 0.1, 0.3, 0.05, 0.05, 0.05, 0.02, 0.01, 0.2),
    Weak.CONTROLLER: (0.8, 0.7, 1.0, 1.3, 0.05, 0.5, 0.1, 0.1, 0.1, 0.1, 0.02, 0.3),
    Weak.IO: (0.9, 0.8, 0.7, 1.1, 0.1, 0.3, 0.05, 0.05, 0.05, 0.02, 0.01, 0.2),
    Weak.FABRIC: (0.6, 0.5, 0.8, 1.0, 0.05, 0.3, 0.3, 0.3, 0.3, 0.4, 0.05, 0.4),
    Weak.CORE: (0.05, 0.05, 0.08, 0.05, 0.01, 0.03, 1.0, 0.8, 0.5, 0.6, 0.9, 0.3),
    Weak.SUPPLY: (0.05, 0.05, 0.05, 0.05, 0.01, 0.02, 0.3, 0.25, 0.15, 1.5, 0.05, 0.4),
    Weak.GRAPHICS: (0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 1.0),
    Weak.GRAPHICS_MEMORY: (0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 1.0),
    Weak.REGION: (1.0, 1.0, 0.7, 0.3, 1.6, 0.2, 0.02, 0.02, 0.02, 0.01, 0.01, 0.1),
    Weak.ROW_BROKEN: (1.0, 1.0, 0.8, 0.5, 1.0, 0.4, 0.02, 0.02, 0.02, 0.01, 0.01, 0.1),
    Weak.LANE: (1.0, 1.1, 0.8, 1.2, 0.1, 0.3, 0.05, 0.05, 0.05, 0.02, 0.01, 0.2),
    Weak.SLOT: (1.0, 0.9, 0.9, 1.2, 0.1, 0.3, 0.05, 0.05, 0.05, 0.02, 0.01, 0.2),
    Weak.CONTACT: (1.0, 0.9, 0.9, 1.1, 0.3, 0.3, 0.3, 0.3, 0.2, 0.1, 0.05, 0.3),
    Weak.START: (0.0,) * 12,
}

_OF_CARDS: dict[Weak, tuple[float, float, float]] = {
    Weak.GRAPHICS: (1.2, 1.0, 0.03),
    Weak.GRAPHICS_MEMORY: (0.5, 0.02, 1.6),
    Weak.SUPPLY: (0.6, 0.6, 0.4),
    Weak.FABRIC: (0.04, 0.02, 0.02),
    Weak.CORE: (0.03, 0.02, 0.02),
}
"""What a card's own loads feel: ``paint``, ``shade``, ``vram``. Of all else they hardly know."""
HARDLY = 0.002


def _row(group: Weak) -> tuple[float, ...]:
    hardly = 0.0 if group is Weak.START else HARDLY
    return (*_FELT[group], *_OF_CARDS.get(group, (hardly,) * 3))


FEELING: NDArray[np.float64] = np.log(np.maximum(np.array([_row(group) for group in GROUPS]).T, 1e-9))
"""Natural logarithm of what a load (row, in the order of ``LOADS``) feels of a weakness (column, of ``GROUPS``); 1 is
as ``march`` feels signal and access, or ``transform`` a core.
"""


def felt_by(kind: LoadKind) -> NDArray[np.float64]:
    """What one kind of load feels of each kind of weakness, as a natural logarithm."""
    return np.asarray(FEELING[LOADS.index(kind)])
