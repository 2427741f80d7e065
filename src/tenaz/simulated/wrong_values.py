"""Wrong values as their cause makes them: where they lie, which bits, which way, and what a second look shows."""

from dataclasses import dataclass, replace

import numpy as np

from tenaz.core.loads.cards import Drawn, Tile
from tenaz.core.loads.kinds import TILE_PX, LoadKind, Strains
from tenaz.core.loads.plan import Mismatch, MismatchKind
from tenaz.simulated.addresses import LINES_A_ROW, Cell
from tenaz.simulated.machine import Machine
from tenaz.simulated.physics.constants import k
from tenaz.simulated.physics.feeling import Weak
from tenaz.simulated.physics.graphics import MEMORY_BYTES
from tenaz.simulated.physics.memory import Column

VIRTUAL_BASE = 0x7F00_0000_0000
PATTERNS = (0x5555555555555555, 0x3333333333333333, 0x0F0F0F0F0F0F0F0F, 0x00FF00FF00FF00FF)
ONES = 0xFFFF_FFFF_FFFF_FFFF

SEEN_AGAIN = {
    Weak.RETENTION: 1.0, Weak.DISTURB: 1.0, Weak.REGION: 1.0, Weak.ROW_BROKEN: 1.0, Weak.REFRESH: 0.85,
    Weak.CELLS: 0.75, Weak.WRITE: 0.7, Weak.ROW: 0.35,
}  # fmt: skip
"""Chance that a wrong value reads the same again: it was stored wrong. All others came wrong on the way."""
CARD_SEEN_AGAIN, STRIPES = 0.6, 0.3
"""Part of a card's wrong words that were stored wrong; part of its memory's faults that make a stripe."""
CARD_SIDE_PX, MOST_PIXELS = 2048, 16
IN_REGION = 0.0004
"""Part of a module that a weak region takes."""


@dataclass(frozen=True, slots=True)
class FoundWrong:
    """When and under what a value is found wrong."""

    load: LoadKind
    at_s: float
    lap: int
    workers: int
    temperature_c: float
    share: float


class WrongValues:
    """Makes the wrong values of one machine; ``luck`` decides where nothing else does."""

    def __init__(self, machine: Machine, luck: np.random.Generator) -> None:
        self._machine, self._luck = machine, luck
        self._hammered = int(luck.integers(1 << 20))

    def burst(self, column: Column, found: FoundWrong) -> list[Mismatch]:
        """Wrong values that come together from one weakness."""
        if found.load.declared.on_cards:
            return self._of_card(column, found)
        if not column.weak.of_memory or found.load.strains is not Strains.MEMORY:
            return [self._computed(column, found)]
        more = {Weak.ROW_BROKEN: 6.0, Weak.CONTACT: 12.0, Weak.SLOT: 5.0, Weak.REFRESH: 8.0}.get(column.weak, 2.5)
        return [self._stored(column, found) for _ in range(1 + int(self._luck.exponential(more)))]

    # -- memory ----------------------------------------

    def _stored(self, column: Column, found: FoundWrong) -> Mismatch:
        luck, machine = self._luck, self._machine
        module = column.module if column.module is not None else int(luck.integers(max(1, len(machine.seated))))
        cell, bit, up = self._place(column.weak, module, column.rank)
        expected = int(luck.choice(np.array(PATTERNS, dtype=np.uint64)))
        expected ^= int(luck.integers(2)) * ONES
        if up is not None and (expected >> bit & 1) == up:
            expected ^= ONES
        read = expected ^ self._wrong_bits(column.weak, module, bit)
        again = read if luck.random() < SEEN_AGAIN.get(column.weak, 0.04) else expected
        physical = machine.map.address(cell) + 8 * int(luck.integers(8))
        worker = int(luck.integers(found.workers))
        return Mismatch(
            worker=worker,
            at_s=found.at_s,
            lap=found.lap,
            address=VIRTUAL_BASE + physical,
            physical=physical,
            expected=expected,
            read=read,
            read_again=again,
            kind=MismatchKind.STORED if again == read else MismatchKind.ON_THE_WAY,
            temperature_c=found.temperature_c,
            load=found.load,
            core=worker % machine.processor.cores,
        )

    def _place(self, weak: Weak, module: int, rank: int) -> tuple[Cell, int, int | None]:
        """Where it lies, its bit, and whether the bit falls to 1 or 0 (None: either)."""
        luck, machine = self._luck, self._machine
        parts, rows = machine.seated[module].parts, max(1, machine.map.rows(module))
        ranks = machine.seated[module].ranks
        rank = rank if rank < ranks else 0
        groups = 4 if machine.family == "DDR4" else 8
        bit = int(luck.integers(64))
        if weak in (Weak.RETENTION, Weak.DISTURB):
            which = min(len(parts.cells) - 1, int(luck.exponential(2.0)))
            bank, row, column, where, up = (float(x) for x in parts.cells[which])
            at = int(row * rows)
            if weak is Weak.DISTURB:
                step = 1 if luck.random() < k("disturb_near") else 2
                at = self.hammered_row(module) + step * (1 if luck.random() < 0.5 else -1)
                column = float(luck.random())
            else:
                bit = int(where * 64)
            spot = int(bank * groups * 4)
            return (
                Cell(module, 0, spot % groups, spot // groups, at % rows, int(column * LINES_A_ROW)),
                bit,
                int(up < 0.5),
            )
        if weak in (Weak.REGION, Weak.ROW_BROKEN):
            bank, row = (float(x) for x in parts.cells[0][:2])
            spot = int(bank * groups * 4)
            wide = 1 if weak is Weak.ROW_BROKEN else max(2, int(rows * IN_REGION * groups * 4))
            at = min(rows - 1, int(row * rows) + int(luck.integers(wide)))
            if weak is Weak.ROW_BROKEN:
                bit = (parts.lane + 8 * int(luck.integers(3))) % 64
            return Cell(module, 0, spot % groups, spot // groups, at, int(luck.integers(LINES_A_ROW))), bit, 0
        if weak is Weak.LANE:
            bit = parts.lane
        place = Cell(
            module, rank, int(luck.integers(groups)), int(luck.integers(4)), int(luck.integers(rows)),
            int(luck.integers(LINES_A_ROW)),
        )  # fmt: skip
        return place, bit, None

    def hammered_row(self, module: int) -> int:
        """The row that is opened again and again; what flips lies beside it."""
        return 2 + self._hammered % max(1, self._machine.map.rows(module) - 4)

    def _wrong_bits(self, weak: Weak, module: int, bit: int) -> int:
        luck, parts = self._luck, self._machine.seated[module].parts
        if weak in (Weak.CONTROLLER, Weak.FABRIC, Weak.CONTACT, Weak.REFRESH):
            width = 8 if weak is Weak.CONTACT else 64
            byte = parts.lane // 8 * 8 if width == 8 else 0
            bits = byte + luck.choice(width, size=int(luck.integers(3, min(9, width + 1))), replace=False)
            return int(sum(1 << int(one) for one in bits))
        if weak is Weak.SIGNAL and luck.random() < 0.6:
            # A module's worst lane gives way first.
            return 1 << parts.lane
        if weak is Weak.SLOT:
            return (1 << bit) | (1 << (bit ^ 32))
        return 1 << bit

    # -- cores and graphics ----------------------------------------

    def _computed(self, column: Column, found: FoundWrong) -> Mismatch:
        luck = self._luck
        if column.weak in (Weak.GRAPHICS, Weak.GRAPHICS_MEMORY):
            what = "sparkling dots" if column.weak is Weak.GRAPHICS_MEMORY else "blocks of wrong colour"
            return self._result(0, found, f"picture fault: {what}", MismatchKind.COMPUTED)
        cores = self._machine.processor.on
        core = column.core if column.core is not None else cores[int(luck.integers(len(cores)))]
        kind = MismatchKind.COMPUTED if found.load.strains is not Strains.MEMORY else MismatchKind.COMPARED
        return self._result(core, found, "a result", kind)

    def _of_card(self, column: Column, found: FoundWrong) -> list[Mismatch]:
        """What a card gets wrong: words of its memory, numbers, or pixels that lie together as its weakness has it."""
        luck, memory = self._luck, column.weak is Weak.GRAPHICS_MEMORY
        if found.load is LoadKind.SHADE:
            lane = int(luck.integers(1 << 17))
            one = self._result(0, found, f"numbers of lane {lane} did not come back", MismatchKind.COMPUTED)
            return [replace(one, core=None, card=0)]
        if found.load is LoadKind.VRAM:
            bit, count = int(luck.integers(64)), 1 + int(luck.exponential(4.0 if memory else 1.0))
            return [self._card_word(found, bit, memory) for _ in range(count)]
        return self._pixels(found, memory)

    def _card_word(self, found: FoundWrong, bit: int, stays: bool) -> Mismatch:
        luck = self._luck
        expected = int(luck.choice(np.array(PATTERNS, dtype=np.uint64)))
        read = expected ^ 1 << bit
        again = read if stays and luck.random() < CARD_SEEN_AGAIN else expected
        kind = MismatchKind.STORED if again == read else MismatchKind.ON_THE_WAY
        offset = 8 * int(luck.integers(MEMORY_BYTES // 8))
        return Mismatch(
            0, found.at_s, found.lap, offset, expected, read, again, kind, "⇑(r0,w1)",
            temperature_c=found.temperature_c, load=found.load, card=0,
        )  # fmt: skip

    def _pixels(self, found: FoundWrong, memory: bool) -> list[Mismatch]:
        """Sparkling dots or a stripe where memory fails, a block of wrong colour where the core does."""
        luck, number = self._luck, int(self._luck.integers(4))
        corner = [TILE_PX * int(luck.integers(CARD_SIDE_PX // TILE_PX)) for _ in range(2)]
        right = luck.integers(0, 1 << 24, (TILE_PX, TILE_PX), dtype=np.uint32) | np.uint32(0xFF000000)
        wrong = np.zeros((TILE_PX, TILE_PX), dtype=bool)
        if not memory:
            y, x = (int(luck.integers(TILE_PX - 10)) for _ in range(2))
            wrong[y : y + 8, x : x + 8] = True
        elif luck.random() < STRIPES:
            wrong[int(luck.integers(TILE_PX)), :] = True
        else:
            wrong[luck.integers(0, TILE_PX, 9), luck.integers(0, TILE_PX, 9)] = True
        drawn = np.where(wrong, right ^ np.uint32(1 << int(luck.integers(24))), right)
        tile = Tile.of(corner[0], corner[1], TILE_PX, right.astype("<u4").tobytes(), drawn.astype("<u4").tobytes())
        rows, columns = np.nonzero(wrong)
        found_now = []
        for nth, (row, column) in enumerate(zip(rows[:MOST_PIXELS], columns[:MOST_PIXELS], strict=True)):
            at = Drawn(number, CARD_SIDE_PX, corner[0] + int(column), corner[1] + int(row), None if nth else tile)
            pair = int(right[row, column]), int(drawn[row, column])
            found_now.append(
                Mismatch(
                    0, found.at_s, found.lap, 0, *pair, pair[1], MismatchKind.COMPUTED,
                    f"{len(rows)} wrong in its tile" if nth == 0 else "", temperature_c=found.temperature_c,
                    load=found.load, card=0, drawn=at,
                )
            )  # fmt: skip
        return found_now

    def _result(self, core: int, found: FoundWrong, where: str, kind: MismatchKind) -> Mismatch:
        luck = self._luck
        expected = int(luck.integers(1 << 62))
        read = expected ^ 1 << int(luck.integers(52))
        return Mismatch(
            core % found.workers, found.at_s, found.lap, 0, expected, read, expected, kind, where,
            temperature_c=found.temperature_c, load=found.load, core=core,
        )  # fmt: skip
