"""Cards that do not do as they are told: words of their memory and pixels of pictures spoilt behind a load's back, and
cards that stop answering. A program of its own, as loads of cards are: ``python -m tests.doors.bad_card WHICH``.
"""

import json
import os
import random
import subprocess
import sys
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from tenaz.benches.here import surroundings
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadPlan
from tenaz.loads import worker
from tenaz.loads.crews import specs_for
from tenaz.loads.graphics.opened import OpenCard
from tenaz.loads.graphics.sweeps import CardSweep, Sweeper, Window
from tenaz.loads.kinds import painting
from tests.doors.bad_memory import OwnLine, run_on
from tests.patience import PATIENCE_S

WORDS, PIXELS = 300, 100


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


def _untried(plan: LoadPlan) -> OwnLine:
    """A worker's line whose check is not tried meanwhile: what tries it sweeps and draws too, and would be spoilt."""
    line = OwnLine(specs_for(plan, surroundings(plan))[0], PATIENCE_S)
    line.check_by = lambda _: None  # type: ignore[method-assign]
    return line


def words() -> dict[str, Any]:
    """Wrong words in a card's memory: what they were, and what was told."""
    luck = random.Random(20_261_201)
    spoils = SpoilsWords([8 * word for word in luck.sample(range(32 * 2**20 // 8), WORDS)], luck)
    wanted = sorted(spoils.left.items())
    Sweeper.run = spoils.instead()  # type: ignore[method-assign]
    line = _untried(parse_load("vram 1 lap 32MiB mats+ go on"))
    worker.load_of(line.spec.plan.kind)(line.spec, line)
    return {"wanted": wanted, "left": len(spoils.left), "told": line.told["mismatch"], "errors": line.errors}


def pixels() -> dict[str, Any]:
    """Wrong pixels in pictures: which, and what was told."""
    plan = replace(parse_load("paint 256px go on"), duration_s=None, laps=7)
    line, card = _untried(plan), OpenCard(0)
    spoils = SpoilsPixels(card, 256, PIXELS, 4, random.Random(7))
    painting.paint(card, line.spec, line, spoils)
    return {"wanted": sorted(spoils.spoilt), "told": line.told["mismatch"]}


def _broken(*_: Any) -> None:
    raise RuntimeError("validation error")


def broken() -> dict[str, Any]:
    """An error of ours, on a card that answers."""
    Sweeper.run = _broken  # type: ignore[method-assign]
    try:
        run_on(parse_load("vram 1 lap 16MiB"), PATIENCE_S)
    except RuntimeError as error:
        return {"raised": str(error)}
    return {}


def lost() -> dict[str, Any]:
    """The same on a card that does not answer any more."""
    Sweeper.run = _broken  # type: ignore[method-assign]
    OpenCard.answers = lambda _: False  # type: ignore[method-assign]
    return {"told": run_on(parse_load("vram 1 lap 16MiB"), PATIENCE_S).told["lost"]}


def seen_of(which: str) -> dict[str, Any]:
    """What came of one of these, in a process of its own."""
    command = [sys.executable, "-m", "tests.doors.bad_card", which]
    told: dict[str, Any] = json.loads(subprocess.run(command, capture_output=True, check=True).stdout.splitlines()[-1])
    return told


if __name__ == "__main__":
    worker.MOST_MISMATCHES_TOLD = 1000
    print(json.dumps({"words": words, "pixels": pixels, "broken": broken, "lost": lost}[sys.argv[1]]()), flush=True)
    os._exit(0)
