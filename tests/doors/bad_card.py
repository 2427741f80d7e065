"""Cards that do not do as they are told: words of their memory and pixels of pictures spoilt behind a load's back."""

import random
from collections.abc import Callable
from typing import Any

from tenaz.loads.graphics.sweeps import CardSweep, Sweeper, Window


class SpoilsWords:
    """Turns over one bit of each of some words, once, just before a sweep that reads them."""

    def __init__(self, offsets: list[int], luck: random.Random) -> None:
        self.left = {offset: 1 << luck.randrange(64) for offset in offsets}
        self._run = Sweeper.run

    def instead(self) -> Callable[..., None]:
        """In place of :meth:`Sweeper.run`."""

        def run(sweeper: Sweeper, *args: Any) -> None:
            self._spoil(sweeper, *args)

        return run

    def _spoil(self, sweeper: Sweeper, sweep: CardSweep, window: Window, part: tuple[int, int], *args: Any) -> None:
        here = [one for one in self.left if part[0] <= one - window.base < part[1]] if sweep.reads is not None else []
        if here and sweep.reads != 2:
            sweeper.drain()
            for offset in here:
                at = offset - window.base
                word = int.from_bytes(sweeper.read(window, at, 8), "little") ^ self.left.pop(offset)
                sweeper.write(window, at, word.to_bytes(8, "little"))
        self._run(sweeper, sweep, window, part, *args)


class SpoilsPixels:
    """Sets some pixels wrong, so many of each picture, and remembers which."""

    def __init__(self, card: Any, side: int, pixels: int, of_each: int, luck: random.Random) -> None:
        self._card, self._side, self._left, self._of_each, self._luck = card, side, pixels, of_each, luck
        self.spoilt: list[tuple[int, int, int]] = []

    def __call__(self, texture: Any, number: int) -> None:
        for _ in range(min(self._left, self._of_each)):
            x, y = (self._luck.randrange(self._side) for _ in range(2))
            self.spoilt.append((number, x, y))
            self._left -= 1
            self._card.device.queue.write_texture(
                {"texture": texture, "origin": (x, y, 0)}, b"\x01\x02\x03\x04", {"bytes_per_row": 4}, (1, 1, 1)
            )
