"""``paint`` in a worker: pictures drawn over and over; each must be what it was the first times, to the last bit.

What it strains: all of a card that draws: geometry, textures, blending, arithmetic, memory that pictures lie in. The
card sums up each tile of a picture itself. Where a sum differs, that tile is fetched and laid beside what it was.
"""

import hashlib
from collections.abc import Callable, Iterator
from random import SystemRandom
from typing import Any

import numpy as np

from tenaz.core.loads.cards import CardKind, Drawn, Tile
from tenaz.core.loads.plan import MismatchKind
from tenaz.loads.graphics.digests import FIRST_RUNS, agreed, differing, split
from tenaz.loads.graphics.opened import OpenCard
from tenaz.loads.graphics.scene import NUMBERS, TILE, Easel, Pixels
from tenaz.loads.graphics.working import on_card
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked, Plant, told
from tenaz.loads.worker import Line

USUAL_PX = {CardKind.OWN_MEMORY: 2048, CardKind.SHARED_MEMORY: 1024, CardKind.SOFTWARE: 512}
"""Large enough to keep a card busy, small enough that a desktop draws between two pictures."""
MOST_TILES, MOST_PIXELS, MOST_LOOKED_AT = 24, 16, 500
"""Tiles that are kept as small pictures, pixels of each that are told, and wrong ones after which only tiles are
counted.
"""


class Pictures:
    """What each picture must be: the sums of its tiles by majority of the first runs, and its pixels."""

    def __init__(self, easel: Easel) -> None:
        self.easel = easel
        self.right: list[bytes] = []
        self.pixels: list[Pixels] = []
        self.disagreed: list[tuple[int, int]] = []

    def learn(self, ahead: Callable[[float], object]) -> None:
        """Draw each some times."""
        for number in range(NUMBERS):
            runs: list[tuple[bytes, Pixels]] = []
            for _ in range(FIRST_RUNS):
                drawn: list[tuple[int, bytes]] = []
                self.easel.draw(number, lambda slot, sums, drawn=drawn: drawn.append((slot, sums)))  # type: ignore[misc]
                self.easel.drain()
                ((slot, sums),) = drawn
                runs.append((sums, self.easel.pixels(slot)))
            self._agree(number, runs)
            ahead((number + 1) / NUMBERS)

    def _agree(self, number: int, runs: list[tuple[bytes, Pixels]]) -> None:
        """Tile by tile what most have; the pixels of a tile are those of a run that has it."""
        sums = [split(one) for one, _ in runs]
        right_sums = agreed([one for one, _ in runs])
        pixels = runs[0][1].copy()
        for place, right in enumerate(split(right_sums)):
            own = [run for run, one in enumerate(sums) if one[place] == right]
            self.disagreed += [(number, place)] * (len(runs) - len(own))
            if own[0] != 0:
                x, y = self.corner(place)
                pixels[y : y + TILE, x : x + TILE] = runs[own[0]][1][y : y + TILE, x : x + TILE]
        self.right.append(right_sums)
        self.pixels.append(pixels)

    def corner(self, place: int) -> tuple[int, int]:
        """The upper left pixel of a tile, by its place in the sums."""
        row, column = divmod(place, self.easel.tiles)
        return column * TILE, row * TILE

    def differing(self, number: int, sums: bytes) -> list[int]:
        """Tiles that are not what they must be."""
        return differing(self.right[number], sums)


class Watching:
    """Looks at each picture that was drawn, and tells what is wrong in it."""

    def __init__(self, pictures: Pictures, line: Line) -> None:
        self._pictures, self._line = pictures, line
        self.drawn, self._kept = 0, 0
        self.wrong: list[tuple[int, int, list[int]]] = []
        """Slot, picture and tiles that differ, of what was drawn and is still to be looked at."""

    @property
    def lap(self) -> int:
        """A lap is every picture once."""
        return 1 + self.drawn // NUMBERS

    def seen(self, number: int, slot: int, sums: bytes) -> None:
        """A picture's sums came."""
        if differing := self._pictures.differing(number, sums):
            self.wrong.append((slot, number, differing))
        else:
            self.drawn += 1

    def look(self) -> None:
        """Fetch the tiles that differ, before they are drawn over."""
        waiting, self.wrong = self.wrong, []
        for slot, number, places in waiting:
            for place in places:
                self._tile(slot, number, place)
            self.drawn += 1

    def _tile(self, slot: int, number: int, place: int) -> None:
        easel, line = self._pictures.easel, self._line
        x, y = self._pictures.corner(place)
        if line.errors >= MOST_LOOKED_AT:
            line.more_wrong(1)
            return
        read, right = easel.pixels(slot, x, y, TILE), self._pictures.pixels[number][y : y + TILE, x : x + TILE]
        rows, columns = np.nonzero(read != right)
        tile = Tile.of(x, y, TILE, right.tobytes(), read.tobytes()) if self._kept < MOST_TILES else None
        self._kept += 1
        if not len(rows):
            # What was summed up wrong is right where it lies.
            drawn = Drawn(number, easel.side, x, y, tile)
            where = "a tile's sum was wrong, its pixels are right"
            line.wrong_on_card(self.lap, 0, (1, 0, 1), MismatchKind.ON_THE_WAY, where, drawn)
            return
        for nth, (row, column) in enumerate(zip(rows[:MOST_PIXELS], columns[:MOST_PIXELS], strict=True)):
            wanted, pixel = int(right[row, column]), int(read[row, column])
            drawn = Drawn(number, easel.side, x + int(column), y + int(row), tile if nth == 0 else None)
            where = f"{len(rows)} wrong in its tile" if nth == 0 and len(rows) > 1 else ""
            line.wrong_on_card(self.lap, 0, (wanted, pixel, pixel), MismatchKind.COMPUTED, where, drawn)
        line.more_wrong(max(0, len(rows) - MOST_PIXELS))


def paint(card: OpenCard, spec: Spec, line: Line, spoil: Callable[[Any, int], None] | None = None) -> float:
    """Until told to stop or until the laps are done; a lap is every picture once."""
    side = spec.plan.side_px or USUAL_PX[card.card.kind]
    easel = Easel(card, side)
    pictures = Pictures(easel)
    pictures.learn(line.preparing)
    easel.spoil = spoil
    line.wait_for_go(address=0, bytes=0, locked=0)
    line.resting = easel.drain
    watching = Watching(pictures, line)
    for number, place in pictures.disagreed:
        x, y = pictures.corner(place)
        where = "not drawn the same each time from the first"
        line.wrong_on_card(1, 0, (1, 0, 0), MismatchKind.COMPUTED, where, Drawn(number, side, x, y))
    for number, sums in enumerate(pictures.right):
        line.golden(f"paint {side} px, {number}", hashlib.sha256(sums).hexdigest(), card.card.made_with)
    line.check_by(Checked(lambda luck: plants(pictures, watching, luck)))
    handed = 0
    while not line.stopping and (spec.plan.laps is None or handed < spec.plan.laps * NUMBERS):
        number = handed % NUMBERS
        easel.draw(number, lambda slot, sums, number=number: watching.seen(number, slot, sums))  # type: ignore[misc]
        handed += 1
        if watching.wrong:
            easel.drain()
            watching.look()
        line.worked(watching.drawn / NUMBERS, float(side * side) * 1e3, f"picture {handed}")
    easel.drain()
    watching.look()
    return watching.drawn // NUMBERS if not line.stopping else watching.drawn / NUMBERS


def plants(pictures: Pictures, watching: Watching, luck: SystemRandom) -> Iterator[Plant]:
    """A pixel set wrong in a picture: its tile's sum must differ, and the pixel must be found."""
    easel = pictures.easel

    def plant() -> str:
        easel.drain()
        watching.look()
        number, at = luck.randrange(NUMBERS), (luck.randrange(easel.side), luck.randrange(easel.side))
        bit, drawn, again = luck.randrange(32), list[int](), list[bytes]()
        easel.draw(number, lambda slot, _: drawn.append(slot))
        easel.drain()
        right = int(pictures.pixels[number][at[1], at[0]])
        easel.put(drawn[0], *at, right ^ 1 << bit)
        easel.sum_again(drawn[0], again.append)
        easel.drain()
        place = at[1] // TILE * easel.tiles + at[0] // TILE
        x, y = pictures.corner(place)
        found = int(easel.pixels(drawn[0], x, y, TILE)[at[1] - y, at[0] - x])
        if place in pictures.differing(number, again[0]) and found == right ^ 1 << bit:
            return ""
        return told("a picture", bit)

    yield plant


run = on_card(paint)
