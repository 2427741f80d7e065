"""Where a byte lies: physical address to channel, module, rank, bank and row, and back. Hashed, as controllers do."""

from dataclasses import dataclass

LINE_BYTES = 64
LINES_A_ROW = 128
"""A row of a rank: 8 KiB."""
INTERLEAVE_LINES = 4
"""Channels take turns every 256 bytes."""
BANK_GROUPS, BANKS_A_GROUP = 8, 4


@dataclass(frozen=True, slots=True)
class Cell:
    """A line's place; ``module`` counts those seated."""

    module: int
    rank: int
    group: int
    bank: int
    row: int
    column: int


@dataclass(frozen=True, slots=True)
class Rank:
    """One rank: its module, its number there, its channel, its lines."""

    module: int
    rank: int
    channel: int
    lines: int


class AddressMap:
    """The map of one machine. What both channels have is interleaved; what one has more lies above that."""

    def __init__(self, ranks: tuple[Rank, ...], group_count: int = BANK_GROUPS) -> None:
        self._groups = group_count
        channels = sorted({rank.channel for rank in ranks})
        self._ranks = [[rank for rank in ranks if rank.channel == channel] for channel in channels]
        sizes = [sum(rank.lines for rank in one) for one in self._ranks]
        self._common = min(sizes) if len(sizes) == 2 else 0
        self._largest = sizes.index(max(sizes)) if sizes else 0
        self.lines = sum(sizes)

    def cell(self, address: int) -> Cell:
        """The place of a physical address in bytes.

        Raises:
            ValueError: there is no memory at that address.
        """
        line = address // LINE_BYTES
        if not 0 <= line < self.lines:
            raise ValueError(f"no memory at {address:#x}")
        if line < 2 * self._common:
            chunk, within = divmod(line, INTERLEAVE_LINES)
            pair, side = divmod(chunk, 2)
            return self._in_channel(side ^ _parity(pair), pair * INTERLEAVE_LINES + within)
        return self._in_channel(self._largest, line - self._common)

    def address(self, cell: Cell) -> int:
        """The physical address of a place; the opposite of :meth:`cell`."""
        channel, local = self._local(cell)
        if local < self._common:
            pair, within = divmod(local, INTERLEAVE_LINES)
            chunk = 2 * pair + (channel ^ _parity(pair))
            return (chunk * INTERLEAVE_LINES + within) * LINE_BYTES
        return (local + self._common) * LINE_BYTES

    def rows(self, module: int) -> int:
        """How many rows each bank of a module's ranks has."""
        lines = next(rank.lines for one in self._ranks for rank in one if rank.module == module)
        return lines // (LINES_A_ROW * self._groups * BANKS_A_GROUP)

    def _in_channel(self, channel: int, local: int) -> Cell:
        for rank in self._ranks[channel]:
            if local < rank.lines:
                break
            local -= rank.lines
        rest, column = divmod(local, LINES_A_ROW)
        rest, group = divmod(rest, self._groups)
        row, bank = divmod(rest, BANKS_A_GROUP)
        return Cell(
            rank.module, rank.rank, group ^ row % self._groups, bank ^ row // self._groups % BANKS_A_GROUP, row, column
        )

    def _local(self, cell: Cell) -> tuple[int, int]:
        group = cell.group ^ cell.row % self._groups
        bank = cell.bank ^ cell.row // self._groups % BANKS_A_GROUP
        lines = ((cell.row * BANKS_A_GROUP + bank) * self._groups + group) * LINES_A_ROW + cell.column
        for channel, ranks in enumerate(self._ranks):
            before = 0
            for rank in ranks:
                if (rank.module, rank.rank) == (cell.module, cell.rank):
                    return channel, before + lines
                before += rank.lines
        raise ValueError(f"no module {cell.module} with a rank {cell.rank}")


def _parity(number: int) -> int:
    return number.bit_count() & 1
