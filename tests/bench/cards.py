"""Loads of cards against what a card does without any check, in the same run: ``python -m tests.bench.cards [CARD]``.

Fill and verify of ``vram`` against the same programs that compare nothing, in turn; and how much of the time a card
that paints is busy, by its own time stamps where it has them.
"""

import argparse
import re
import struct
import time
from collections.abc import Callable
from typing import Any

from tenaz.loads.graphics.opened import OpenCard
from tenaz.loads.graphics.scene import NUMBERS, Easel
from tenaz.loads.graphics.sweeps import CardSweep, Sweeper, Window, pieces
from tenaz.loads.kinds.painting import USUAL_PX
from tenaz.loads.patterns import PatternKind

UNLIKELY = "    if (bad.x == 0x12345u && bad.y == 7u) { atomicAdd(&answer.wrong, 1u); }\n"
WORDS = (0x5555555555555555, 0xAAAAAAAAAAAAAAAA, 0)
ROUNDS = 7
BUSY, ALIKE = 0.95, 0.8
PICTURES = 60


def plain(code: str) -> str:
    """The same program without comparing: what is read is only summed up, so that it is read at all."""
    if "bad = bad |" not in code:
        return code
    written = re.search(r"memory\[at\] = .*;", code)
    summed = f"bad = bad + memory[at]; {written[0] if written else ''}"
    head = code.partition("    if (any(bad")[0]
    return re.sub(r"bad = bad \| .*;", summed, head) + UNLIKELY + "}\n"


def took_s(sweeper: Sweeper, sweep: CardSweep, window: Window, step: int) -> float:
    """Once through a window."""
    began = time.perf_counter()
    for part in pieces(window.size, step):
        sweeper.run(sweep, window, part, WORDS)
    sweeper.drain()
    return time.perf_counter() - began


def memory(card: OpenCard) -> None:
    """Fill and verify, with and without comparing."""
    size = min(card.window_bytes, 256 << 20)
    window, step = Window(card.storage(size), 0, size), min(size, 16 << 20)
    checking, bare = Sweeper(card), Sweeper(card, plain)
    for pattern in PatternKind.WORDS, PatternKind.HASH:
        fill, verify = CardSweep(None, 0, True, pattern), CardSweep(0, None, True, pattern)
        both = CardSweep(0, 0, True, pattern)
        for what, sweeps in (("fill and verify", (fill, verify)), ("verify and write", (both,))):
            times: dict[str, list[float]] = {"checked": [], "plain": []}
            for _ in range(ROUNDS):
                for name, sweeper in (("checked", checking), ("plain", bare)):
                    times[name].append(sum(took_s(sweeper, one, window, step) for one in sweeps))
            best = {name: min(found) for name, found in times.items()}
            rate, part = 2 * size / best["checked"] / 1e9, best["plain"] / best["checked"]
            asked = f" (≥ {ALIKE})" if len(sweeps) > 1 else ""
            print(f"vram, {pattern}, {what}: {rate:.2f} GB/s, {part:.2f} of a plain program's{asked}", flush=True)


def painting(card: OpenCard) -> None:
    """How much of the time the card draws, by its own clock."""
    side = USUAL_PX[card.card.kind]
    easel = Easel(card, side)
    if "timestamp-query" not in card.device.features:
        print("paint: this card has no time stamps")
        return
    stamps = card.device.create_query_set(type="timestamp", count=2 * PICTURES)
    use = card.gpu.BufferUsage
    resolved = card.device.create_buffer(size=16 * PICTURES, usage=use.QUERY_RESOLVE | use.COPY_SRC)
    for number in range(NUMBERS):
        easel.draw(number, lambda *_: None)
    easel.drain()
    submit: Callable[..., None] = easel.submissions.submit
    nth = 0

    def stamped(encode: Callable[[Any], None], then: Callable[[bytes], None]) -> None:
        def both(encoder: Any) -> None:
            class Stamped:
                def __getattr__(self, name: str) -> Any:
                    return getattr(encoder, name)

                def begin_render_pass(self, **more: Any) -> Any:
                    at = {"query_set": stamps, "beginning_of_pass_write_index": 2 * nth}
                    return encoder.begin_render_pass(**more, timestamp_writes=at)

                def begin_compute_pass(self) -> Any:
                    at = {"query_set": stamps, "end_of_pass_write_index": 2 * nth + 1}
                    return encoder.begin_compute_pass(timestamp_writes=at)

            encode(Stamped())

        submit(both, then)

    easel.submissions.submit = stamped  # type: ignore[method-assign]
    for nth in range(PICTURES):
        easel.draw(nth % NUMBERS, lambda *_: None)
    easel.drain()
    encoder = card.device.create_command_encoder()
    encoder.resolve_query_set(stamps, 0, 2 * PICTURES, resolved, 0)
    card.device.queue.submit([encoder.finish()])
    values = struct.unpack(f"<{2 * PICTURES}Q", bytes(card.device.queue.read_buffer(resolved)))
    drew = sum(values[2 * k + 1] - values[2 * k] for k in range(PICTURES))
    whole = values[-1] - values[0]
    print(f"paint, {side} px: the card is busy {drew / whole:.1%} of its time (≥ {BUSY:.0%})", flush=True)


def main() -> None:
    """Measure a card."""
    parser = argparse.ArgumentParser(prog="python -m tests.bench.cards")
    parser.add_argument("card", type=int, nargs="?", default=0)
    card = OpenCard(parser.parse_args().card)
    print(f"card {card.card.index}: {card.card.name}, {card.card.kind.in_words}")
    memory(card)
    painting(card)


if __name__ == "__main__":
    main()
