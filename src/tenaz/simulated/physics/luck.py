"""Luck in the simulated machine: each turn has its own, so that a day can be repeated to the bit."""

import zlib

import numpy as np

from tenaz.simulated.state import State


def luck_of(state: State, what: str) -> np.random.Generator:
    """The luck of this turn in one matter."""
    words = [state.seed & 0xFFFF_FFFF_FFFF_FFFF, 3, state.turns, zlib.crc32(what.encode())]
    return np.random.Generator(np.random.PCG64(words))
