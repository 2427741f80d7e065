"""``digest`` in a worker: whole numbers only: hashing, compressing and restoring, sorting.

What it strains: integer and shift units, branches, the path through the caches; hardly the multiply-add units.
"""

import hashlib
import struct
import zlib
from collections import Counter
from collections.abc import Iterator
from random import SystemRandom

import numpy as np

from tenaz.core.loads.plan import MismatchKind
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked, Plant, told
from tenaz.loads.worker import Line

BLOCK_BYTES = 1 << 20
SEED = 20_260_106
LEVEL = 6
FIRST_RUNS = 3
"""A golden is what most of so many runs agree on."""


class Results:
    """What one block comes to: each part's result as bytes, and whether what must return did."""

    def __init__(self, data: bytes, numbers: "Numbers") -> None:
        packed = zlib.compress(data, LEVEL)
        self.restored = _restored(packed) == data
        ordered = np.sort(numbers)
        self.sorted = _sorted(ordered, numbers)
        self.parts = {
            "hash": _hashed(data),
            "compressed": hashlib.sha256(packed).digest(),
            "sorted": hashlib.sha256(ordered.tobytes()).digest(),
        }


Numbers = np.ndarray[tuple[int], np.dtype[np.uint64]]


def _hashed(data: bytes) -> bytes:
    return hashlib.sha256(data).digest() + hashlib.blake2b(data).digest()


def _sorted(ordered: Numbers, numbers: Numbers) -> bool:
    """Whether these are the numbers, in order."""
    same_sum = int(ordered.sum()) == int(numbers.sum())
    same_bits = int(np.bitwise_xor.reduce(ordered)) == int(np.bitwise_xor.reduce(numbers))
    return bool((ordered[1:] >= ordered[:-1]).all()) and same_sum and same_bits


def _plants(data: bytes, ordered: Numbers, golden: dict[str, bytes], luck: SystemRandom) -> Iterator[Plant]:
    """A bit turned over in what is hashed, in what was restored, in what was sorted, and in each digest."""
    at, bit = luck.randrange(len(data)), luck.randrange(8)
    changed = bytearray(data)
    changed[at] ^= 1 << bit
    spoiled = bytes(changed)
    yield (
        lambda: "" if _hashed(spoiled) != golden["hash"] == _hashed(data) else told(f"byte {at} of what is hashed", bit)
    )
    yield lambda: "" if spoiled != data else told(f"byte {at} of what was restored", bit)
    for change in (1, 1 << 63):
        wrong = ordered.copy()
        wrong[luck.randrange(1, len(wrong))] ^= np.uint64(change)
        yield lambda wrong=wrong: told("what was sorted", 0) if _sorted(wrong, ordered) else ""  # type: ignore[misc]
    for part, digest in golden.items():
        other = bytearray(digest)
        other[luck.randrange(len(other))] ^= 1 << bit
        yield lambda part=part, other=bytes(other): (  # type: ignore[misc]
            "" if _differing({**golden, part: other}, golden) == [part] else told(f"the digest of {part}", bit)
        )


def _differing(parts: dict[str, bytes], golden: dict[str, bytes]) -> list[str]:
    return [part for part, wanted in golden.items() if parts[part] != wanted]


def _restored(packed: bytes) -> bytes:
    """What was compressed; nothing when the stream is broken: that is a wrong value, not the end of the worker."""
    try:
        return zlib.decompress(packed)
    except zlib.error:
        return b""


def _golden(runs: list[Results]) -> dict[str, bytes]:
    """What most runs agree on, part by part."""
    return {part: Counter(run.parts[part] for run in runs).most_common(1)[0][0] for part in runs[0].parts}


def run(spec: Spec, line: Line) -> float:
    """Until told to stop or until the laps are done; a lap is a block once through everything."""
    chosen = np.random.Generator(np.random.PCG64(SEED))
    # Half of it repeats, so that there is something to compress.
    fresh = chosen.integers(0, 256, BLOCK_BYTES // 2, dtype=np.uint8).tobytes()
    data = fresh + fresh[: BLOCK_BYTES // 4] + bytes(BLOCK_BYTES // 4)
    numbers = chosen.integers(0, 2**63, BLOCK_BYTES // 8, dtype=np.uint64)
    line.wait_for_go(address=0, bytes=BLOCK_BYTES, locked=0)
    first = [Results(data, numbers) for _ in range(FIRST_RUNS)]
    golden = _golden(first)
    for part, digest in golden.items():
        line.golden(f"digest {part}", hashlib.sha256(digest).hexdigest())
    for run_before in first:
        _tell_returned(run_before, 1, line)
    ordered = np.sort(numbers)
    line.check_by(Checked(lambda luck: _plants(data, ordered, golden, luck)))
    laps = 0
    while not line.stopping and laps != spec.plan.laps:
        laps += 1
        found = Results(data, numbers)
        for part in _differing(found.parts, golden):
            words = tuple(struct.unpack_from("<Q", one)[0] for one in (golden[part], found.parts[part]))
            again = struct.unpack_from("<Q", Results(data, numbers).parts[part])[0]
            line.wrong_word(laps, 0, (*words, again), MismatchKind.COMPUTED, f"digest of what was {part}")
        _tell_returned(found, laps, line)
        line.worked(float(laps), 5.0 * BLOCK_BYTES, "hash, compress, sort")
    return float(laps)


def _tell_returned(found: Results, lap: int, line: Line) -> None:
    for returned, what in ((found.restored, "compressed data came back wrong"), (found.sorted, "sorted wrong")):
        if not returned:
            line.wrong_word(lap, 0, (1, 0, 0), MismatchKind.COMPUTED, what)
