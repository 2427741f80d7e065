"""Faults put into what a card runs, one after the other, and whether the loads of cards find them at their place:
``python -m tenaz.loads.proof.cards CARD TRIES`` says it in JSON, from a process of its own.

What is faulty is the program and not the card: a wrong constant, a pixel left out, a word turned over. Each is put in
at another place each time. The check that looks is the one that loads use, as it is.
"""

import json
import os
import re
import sys
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass
from functools import cached_property
from random import Random

from tenaz.core.base.errors import Refused
from tenaz.loads.graphics import arithmetic, scene, sweeps
from tenaz.loads.graphics.digests import differing
from tenaz.loads.graphics.opened import OpenCard
from tenaz.loads.kinds.painting import Pictures
from tenaz.loads.kinds.shading import Learnt
from tenaz.loads.patterns import PatternKind

TRIES = 20
MEMORY_BYTES, SIDE_PX, GROUPS, ROUNDS = 2 << 20, 256, 16, 16
CHANGED_FACTORS = ("0x9E3779B1u", "0x85EBCA6Bu")
SEED = 20_261_201


@dataclass(frozen=True, slots=True)
class CardFault:
    """A fault in words, of which load; how often it was put in, found, and found at its place and nowhere else."""

    load: str
    fault: str
    tries: int
    found: int
    placed: int


Change = Callable[[str], str]
Tried = tuple[bool, bool]
"""Whether a fault was found, and whether at its place."""


def prove_card(index: int, tries: int, told: Callable[[str], object] = lambda _: None) -> Iterator[CardFault]:
    """All faults of all loads on a card.

    Raises:
        Refused: it cannot be opened.
    """
    good, luck = _Good(OpenCard(index)), Random(SEED)
    for load, faults in (("vram", _OF_MEMORY), ("shade", _OF_ARITHMETIC), ("paint", _OF_PICTURES)):
        for words, try_one in faults:
            told(f"{load}: {words}")
            seen = [try_one(good, luck) for _ in range(tries)]
            yield CardFault(load, words, tries, sum(one for one, _ in seen), sum(both[1] for both in seen))


class _Good:
    """Programs without a fault, and what they learnt."""

    def __init__(self, card: OpenCard) -> None:
        self.card = card

    @cached_property
    def sweeper(self) -> sweeps.Sweeper:
        """Over its memory."""
        return sweeps.Sweeper(self.card)

    @cached_property
    def window(self) -> sweeps.Window:
        """Of its memory."""
        return sweeps.Window(self.card.storage(MEMORY_BYTES), 0, MEMORY_BYTES)

    @cached_property
    def learnt(self) -> Learnt:
        """What arithmetic comes to."""
        learnt = Learnt(arithmetic.Reckoner(self.card, GROUPS), ROUNDS)
        learnt.learn()
        return learnt

    @cached_property
    def pictures(self) -> Pictures:
        """What pictures look like."""
        pictures = Pictures(scene.Easel(self.card, SIDE_PX))
        pictures.learn(lambda _: None)
        return pictures


_TryOne = Callable[[_Good, Random], Tried]

# -- the card's memory ----------------------------------------


def _memory(wrong: Callable[[int, int], Change]) -> _TryOne:
    """A sweep that writes with a fault at one vector, and a good one that looks."""

    def one(well: _Good, luck: Random) -> Tried:
        window, good = well.window, well.sweeper
        at = luck.randrange(1, MEMORY_BYTES // sweeps.VECTOR_BYTES - 1)
        faulty = sweeps.Sweeper(well.card, wrong(at, luck.randrange(32)))
        pattern = luck.choice((PatternKind.ADDRESS, PatternKind.HASH))
        words, part = (luck.getrandbits(64), luck.getrandbits(64), 0), (0, MEMORY_BYTES)
        found: list[sweeps.SweepAnswer] = []
        good.run(sweeps.CardSweep(None, 1, True, pattern), window, part, words)
        good.drain()
        faulty.run(sweeps.CardSweep(None, 0, True, pattern), window, part, words)
        faulty.drain()
        good.run(sweeps.CardSweep(0, None, True, pattern), window, part, words, found.append)
        good.drain()
        places = {word.offset // sweeps.VECTOR_BYTES for word in found[0].words}
        return bool(found[0].vectors), at in places and len(places) == found[0].vectors <= 2

    return one


_WRITTEN = "memory[at] = pattern(at) ^ ask.words[0];"


def _flipped(at: int, bit: int) -> Change:
    spoilt = f"select(vec4<u32>(0u), vec4<u32>(0u, {1 << bit}u, 0u, 0u), at == {at}u);"
    return lambda code: code.replace(_WRITTEN, f"{_WRITTEN.removesuffix(';')} ^ {spoilt}")


def _left_out(at: int, _: int) -> Change:
    return lambda code: code.replace(_WRITTEN, f"if (at != {at}u) {{ {_WRITTEN} }}")


def _elsewhere(at: int, _: int) -> Change:
    moved = _WRITTEN.replace("memory[at]", f"memory[select(at, at + 1u, at == {at}u)]")
    return lambda code: code.replace(_WRITTEN, moved)


def _constant(_at: int, bit: int) -> Change:
    return lambda code: code.replace("0x7FEB352Du", f"{0x7FEB352D ^ 1 << bit}u").replace(
        "low = ask.base.x + at * 16u", f"low = (ask.base.x + at * 16u) ^ {1 << bit}u"
    )


def _all_wrong(well: _Good, luck: Random) -> Tried:
    """A wrong constant in the pattern: nearly every word is wrong."""
    found, _ = _memory(_constant)(well, luck)
    return found, found


_OF_MEMORY = (
    ("a word written with one bit turned over", _memory(_flipped)),
    ("a word not written", _memory(_left_out)),
    ("a word written to its neighbour's place", _memory(_elsewhere)),
    ("a wrong constant in what is written", _all_wrong),
)

# -- arithmetic ----------------------------------------


def _arithmetic(wrong: Callable[[Random], tuple[Change, int | None]]) -> _TryOne:
    """A faulty program against what a good one learnt; the fault is in all invocations, or in one."""

    def one(well: _Good, luck: Random) -> Tried:
        change, lane = wrong(luck)
        faulty = arithmetic.Reckoner(well.card, GROUPS, change)
        found: list[arithmetic.Reckoned] = []
        faulty.run(ROUNDS, 0, found.append)
        faulty.drain()
        groups = differing(well.learnt.right[0], found[0].digests)
        lanes = {told.at // 4 for told in found[0].not_back}
        seen = bool(groups or found[0].wrong)
        if lane is None:
            return seen, seen
        return seen, lanes <= {lane} and set(groups) <= {lane // arithmetic.WORKGROUP}

    return one


def _lane(luck: Random) -> int:
    return luck.randrange(GROUPS * arithmetic.WORKGROUP)


def _wrong_factor(luck: Random) -> tuple[Change, int | None]:
    factor, bit = luck.choice(CHANGED_FACTORS), luck.randrange(31)
    return (lambda code: code.replace(factor, f"{int(factor[:-1], 16) ^ 1 << bit}u")), None


def _wrong_number(luck: Random) -> tuple[Change, int | None]:
    factor = luck.choice(arithmetic.FACTORS)
    return (lambda code: code.replace(f"{factor}.0", f"{factor + 1}.0", 1)), None


def _round_left_out(luck: Random) -> tuple[Change, int | None]:
    lane, k = _lane(luck), luck.randrange(ROUNDS)
    skipped = f"if (at != {lane}u || k != {k}u) {{ v = on(v, k); }}"
    return (lambda code: code.replace("        v = on(v, k);", f"        {skipped}")), lane


def _bit_turned(luck: Random) -> tuple[Change, int | None]:
    lane, bit = _lane(luck), luck.randrange(32)
    spoilt = f"v.y = v.y ^ select(0u, {1 << bit}u, at == {lane}u);"
    return (lambda code: code.replace("    let bits = bitcast", f"    {spoilt}\n    let bits = bitcast")), lane


def _least_bit(luck: Random) -> tuple[Change, int | None]:
    lane = _lane(luck)
    spoilt = f"f.x = bitcast<f32>(bitcast<u32>(f.x) ^ select(0u, 1u, at == {lane}u));"
    return (lambda code: code.replace("    let bits = bitcast", f"    {spoilt}\n    let bits = bitcast")), lane


_OF_ARITHMETIC = (
    ("a wrong constant, whole numbers", _arithmetic(_wrong_factor)),
    ("a wrong constant, floating point", _arithmetic(_wrong_number)),
    ("one round left out by one lane", _arithmetic(_round_left_out)),
    ("one bit turned over in one lane", _arithmetic(_bit_turned)),
    ("the least bit of a number in one lane", _arithmetic(_least_bit)),
)

# -- pictures ----------------------------------------


def _pictures(wrong: Callable[[Random], tuple[Change, tuple[int, int] | None]]) -> _TryOne:
    """A faulty program against what a good one learnt; the fault is everywhere, or in one pixel."""

    def one(well: _Good, luck: Random) -> Tried:
        pictures = well.pictures
        change, pixel = wrong(luck)
        faulty, seen = scene.Easel(well.card, SIDE_PX, change), list[tuple[int, bytes]]()
        number = luck.randrange(scene.NUMBERS)
        faulty.draw(number, lambda slot, sums: seen.append((slot, sums)))
        faulty.drain()
        ((slot, sums),) = seen
        tiles = pictures.differing(number, sums)
        drawn, right = faulty.pixels(slot), pictures.pixels[number]
        differs = bool((drawn != right).any())
        if pixel is None or not differs:
            # A disc behind the ground makes no difference: that is to be seen, too.
            return bool(tiles) == differs, bool(tiles) == differs
        x, y = pixel
        wrong_pixels = {(int(column), int(row)) for row, column in zip(*(drawn != right).nonzero(), strict=True)}
        place = y // scene.TILE * (SIDE_PX // scene.TILE) + x // scene.TILE
        return bool(tiles), tiles == [place] and wrong_pixels == {(x, y)}

    return one


def _somewhere(luck: Random) -> tuple[int, int]:
    return luck.randrange(SIDE_PX), luck.randrange(SIDE_PX)


_GIVEN = re.compile(r"(@fragment fn colour\(([^)]|\([^)]*\))*\) -> @location\(0\) vec4<f32> \{)")


def _at(code: str, x: int, y: int) -> str:
    """The condition that a fragment is a pixel, by the name that its place has in a program."""
    place = "place" if "@builtin(position) place: vec4<f32>) ->" in code else "in.place"
    return f"all(vec2<u32>({place}.xy) == vec2<u32>({x}u, {y}u))"


def _pixel_left_out(luck: Random) -> tuple[Change, tuple[int, int] | None]:
    x, y = _somewhere(luck)
    return (lambda code: _GIVEN.sub(lambda m: f"{m[1]}\n    if ({_at(code, x, y)}) {{ discard; }}", code)), (x, y)


def _pixel_off(luck: Random) -> tuple[Change, tuple[int, int] | None]:
    """The least that a pixel can be off: one part in 255 of one colour, in what lies under all."""
    x, y = _somewhere(luck)

    def change(code: str) -> str:
        off = f"select(0.0, 1.0 / 255.0, {_at(code, x, y)})"
        more = f"return vec4<f32>({off}, 0.0, 0.0, 0.0) + "
        return re.sub(r"return (vec4<f32>\((turns / 28\.0|fract))", lambda m: more + m[1], code)

    return change, (x, y)


def _wrong_light(_: Random) -> tuple[Change, tuple[int, int] | None]:
    return (lambda code: code.replace("0.65 * in.height", "0.66 * in.height")), None


def _wrong_turns(_: Random) -> tuple[Change, tuple[int, int] | None]:
    return (lambda code: code.replace("0.59)", "0.5901)")), None


def _disc_left_out(luck: Random) -> tuple[Change, tuple[int, int] | None]:
    disc = luck.randrange(scene.DISCS)
    left_out = f"out.place = select(out.place, vec4<f32>(9.0), disc == {disc}u);\n    out.from_middle"
    return (lambda code: code.replace("out.from_middle", left_out, 1)), None


_OF_PICTURES = (
    ("a wrong constant in the light", _pictures(_wrong_light)),
    ("a wrong constant in the sky", _pictures(_wrong_turns)),
    ("a pixel left out", _pictures(_pixel_left_out)),
    ("a pixel off by the least there is", _pictures(_pixel_off)),
    ("a disc left out", _pictures(_disc_left_out)),
)


def _say(row: dict[str, object]) -> None:
    sys.stdout.write(json.dumps(row) + "\n")
    sys.stdout.flush()


def main() -> None:
    """Prove a card."""
    try:
        for one in prove_card(int(sys.argv[1]), int(sys.argv[2]), lambda doing: _say({"doing": doing})):
            _say(asdict(one))
    except Refused as error:
        _say({"refused": str(error)})


if __name__ == "__main__":
    main()
    sys.stdout.flush()
    # A driver that falls over while it is taken down says nothing any more.
    os._exit(0)
