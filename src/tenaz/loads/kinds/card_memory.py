"""``vram`` in a worker: a march test over a card's memory, every word written and verified by the card itself.

What it strains: the card's memory, its controller and the way between; hardly its arithmetic. Only what was wrong comes
over to the processor, and is read once more there.
"""

import time
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from random import SystemRandom

from tenaz.core.loads.plan import DataKind, LoadPlan, MismatchKind
from tenaz.loads.graphics.opened import NoRoom, OpenCard
from tenaz.loads.graphics.sweeps import (
    MOST_PIECES,
    MOST_TOLD,
    PIECE_BYTES,
    CardSweep,
    SweepAnswer,
    Sweeper,
    Window,
    pieces,
)
from tenaz.loads.graphics.working import on_card
from tenaz.loads.march import BACKGROUNDS, Pass, lap_passes, named_march, paired, parse_march
from tenaz.loads.patterns import ALL_ONES, HASH_STEP, PatternKind
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked, Plant, told
from tenaz.loads.worker import Line

PATTERNS = {DataKind.WORDS: PatternKind.WORDS, DataKind.ADDRESS: PatternKind.ADDRESS, DataKind.HASH: PatternKind.HASH}
SUBMISSION_S = 0.012
"""About what a sweep handed to the card takes: a desktop that draws between two of them does not stutter."""
STEPS_BYTES = 1 << 20, MOST_PIECES * PIECE_BYTES
LEAST_WINDOW_BYTES = 8 << 20
"""Where less than this is left, the rest is left alone."""


@dataclass(frozen=True, slots=True)
class Step:
    """One sweep of a lap, with the words that its values stand for, and whether memory held anything known before."""

    sweep: CardSweep
    words: tuple[int, int, int]


def lap_steps(plan: LoadPlan, lap: int, holds: int | None) -> Iterator[Step]:
    """The sweeps of a lap: each element in parts of at most a read and a write."""
    pattern = PATTERNS[plan.data]
    backgrounds = BACKGROUNDS if pattern is PatternKind.WORDS else (lap * HASH_STEP & ALL_ONES,)
    for one in lap_passes(parse_march(named_march(plan.test)), backgrounds, holds):
        yield from _steps_of(one, pattern)


def _steps_of(one: Pass, pattern: PatternKind) -> Iterator[Step]:
    for operations in paired(one.operations):
        yield Step(CardSweep.of(operations, one.ascending, pattern), one.words)


def take_windows(card: OpenCard, size: int, line: Line) -> list[Window]:
    """So much of the card's memory, in windows that a program can see; as much of it as there is."""
    windows: list[Window] = []
    base = 0
    while size - base >= min(LEAST_WINDOW_BYTES, size):
        wanted = min(card.window_bytes, size - base) // PIECE_BYTES * PIECE_BYTES
        try:
            windows.append(Window(card.storage(wanted), base, wanted))
        except NoRoom:
            if wanted <= LEAST_WINDOW_BYTES:
                line.note(
                    f"card {line.spec.card} had {base >> 20} MiB left of the {size >> 20} MiB that were asked for"
                )
                break
            size = base + wanted // 2
            continue
        base += wanted
        if not line.preparing(base / size):
            break
    return windows


class CardMemory:
    """Windows of a card's memory under sweeps."""

    def __init__(self, sweeper: Sweeper, windows: Sequence[Window], line: Line) -> None:
        self.sweeper, self.windows, self._line = sweeper, windows, line
        self.bytes = sum(one.size for one in windows)
        self.step_bytes = STEPS_BYTES[0]
        self._hits: list[tuple[Window, tuple[int, int], SweepAnswer]] = []

    def sweep(self, step: Step, lap: int, done: float, of: float) -> bool:
        """All windows once through; False when stopped on the way. ``done`` of the lap is over, ``of`` is this sweep's
        part of it.
        """
        order = self.windows if step.sweep.ascending else tuple(reversed(self.windows))
        began_s, gone = time.monotonic(), 0
        for window in order:
            parts = list(pieces(window.size, self.step_bytes))
            for part in parts if step.sweep.ascending else reversed(parts):
                if self._line.stopping:
                    self._settle(step, lap)
                    return False
                self._hand(step, window, part, lap)
                gone += part[1] - part[0]
                moved = step.sweep.crossings * (part[1] - part[0])
                self._line.worked(lap - 1 + done + of * gone / self.bytes, moved, self._doing(step))
        self._settle(step, lap)
        self._pace(gone, time.monotonic() - began_s)
        return True

    def _hand(self, step: Step, window: Window, part: tuple[int, int], lap: int) -> None:
        def then(answer: SweepAnswer) -> None:
            if answer.vectors:
                self._hits.append((window, part, answer))
            elif step.sweep.reads is not None and lap == 1:
                self._line.covered = max(self._line.covered, (window.base + part[1]) / self.bytes)

        self.sweeper.run(step.sweep, window, part, step.words, then)
        if self._hits:
            self._settle(step, lap)

    def _settle(self, step: Step, lap: int) -> None:
        """Wait for what is under way, look again at what was wrong, and write what has to stand there."""
        self.sweeper.drain()
        hits, self._hits = self._hits, []
        for window, part, answer in hits:
            self._tell(step, window, answer, lap)
            last = step.sweep.writes if step.sweep.writes is not None else step.sweep.reads
            right = CardSweep(None, last, True, step.sweep.pattern)
            self.sweeper.run(right, window, part, step.words)
            self.sweeper.drain()

    def _tell(self, step: Step, window: Window, answer: SweepAnswer, lap: int) -> None:
        for wrong in answer.words:
            again = int.from_bytes(self.sweeper.read(window, wrong.offset, 8), "little")
            kind = MismatchKind.STORED if again == wrong.read else MismatchKind.ON_THE_WAY
            words = (wrong.expected, wrong.read, again)
            self._line.wrong_on_card(lap, window.base + wrong.offset, words, kind, self._doing(step))
        for offset in answer.on_the_way:
            where = f"{self._doing(step)}, somewhere from here on; right when it was read again"
            self._line.wrong_on_card(lap, window.base + offset, (1, 0, 1), MismatchKind.ON_THE_WAY, where)
        if answer.vectors > MOST_TOLD:
            self._line.more_wrong(answer.vectors - MOST_TOLD)

    def _pace(self, gone: int, took_s: float) -> None:
        """Make sweeps handed to the card about as long as they should be."""
        wanted = SUBMISSION_S * gone / max(took_s, 1e-6)
        low, high = STEPS_BYTES
        step = low
        while step * 2 <= min(wanted, high):
            step *= 2
        self.step_bytes = step

    @staticmethod
    def _doing(step: Step) -> str:
        did = [
            f"{what}{value}" for what, value in (("r", step.sweep.reads), ("w", step.sweep.writes)) if value is not None
        ]
        return f"{'⇑' if step.sweep.ascending else '⇓'}({','.join(did)}) over {step.words[0]:016x}"

    def plants(self, luck: SystemRandom) -> Iterator[Plant]:
        """A bit turned over in the card's memory, which a sweep must find, with its place and its bit."""
        window = luck.choice(self.windows)
        first = luck.randrange(window.size // PIECE_BYTES) * PIECE_BYTES
        for pattern in PatternKind.WORDS, PatternKind.HASH:
            yield lambda pattern=pattern: self._planted(window, first, pattern, luck)  # type: ignore[misc]

    def _planted(self, window: Window, first: int, pattern: PatternKind, luck: SystemRandom) -> str:
        """Fill a piece, turn a bit over, look, and put back what stood there."""
        self.sweeper.drain()
        part, words = (first, first + PIECE_BYTES), (luck.getrandbits(64), 0, 0)
        held = self.sweeper.read(window, first, PIECE_BYTES)
        self.sweeper.run(CardSweep(None, 0, True, pattern), window, part, words)
        self.sweeper.drain()
        offset, bit = first + 8 * luck.randrange(PIECE_BYTES // 8), luck.randrange(64)
        right = int.from_bytes(self.sweeper.read(window, offset, 8), "little")
        self.sweeper.write(window, offset, (right ^ 1 << bit).to_bytes(8, "little"))
        found: list[SweepAnswer] = []
        self.sweeper.run(CardSweep(0, None, bool(luck.getrandbits(1)), pattern), window, part, words, found.append)
        self.sweeper.drain()
        self.sweeper.write(window, first, held)
        (answer,) = found
        # What else is wrong there is the card's, and the load's own sweeps find it.
        seen = any(one.offset == offset and (one.expected ^ one.read) >> bit & 1 for one in answer.words)
        return "" if seen or answer.vectors > MOST_TOLD else told("the card's memory", bit)


def _run(card: OpenCard, spec: Spec, line: Line) -> float:
    """Lap after lap; a lap is the test over all backgrounds."""
    sweeper, plan = Sweeper(card), spec.plan
    windows = take_windows(card, spec.size, line)
    if not windows:
        line.void(f"card {spec.card} has no memory left for this load: close what draws on it, or name less")
        return 0.0
    if card.card.memory_bytes is None and card.card.own_memory and plan.size_bytes is None:
        line.note(f"the driver of card {spec.card} does not say how much memory it has; name an amount: vram 6 GiB")
    memory = CardMemory(sweeper, windows, line)
    for step in lap_steps(plan, 1, None):
        sweeper.prepare(step.sweep)
    line.wait_for_go(address=0, bytes=memory.bytes, locked=0)
    line.resting = sweeper.drain
    line.check_by(Checked(memory.plants))
    lap, holds = 0, None
    while not line.stopping and lap != plan.laps:
        lap += 1
        steps = list(lap_steps(plan, lap, holds))
        whole, done = sum(one.sweep.crossings for one in steps), 0
        for step in steps:
            if not memory.sweep(step, lap, done / whole, step.sweep.crossings / whole):
                return lap - 1 + done / whole
            done += step.sweep.crossings
        last = steps[-1]
        value = last.sweep.writes if last.sweep.writes is not None else last.sweep.reads
        assert value is not None
        holds = last.words[value]
    return float(lap)


run = on_card(_run)
