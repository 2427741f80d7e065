"""``digest`` in a worker: whole numbers only: hashing, compressing and restoring, sorting.

What it strains: integer and shift units, branches, the path through the caches; hardly the multiply-add units.
"""

import hashlib
import struct
import zlib
from collections import Counter

import numpy as np

from tenaz.core.loading import MismatchKind
from tenaz.loads.spec import Spec
from tenaz.loads.worker import Line

BLOCK_BYTES = 1 << 20
SEED = 20_260_106
LEVEL = 6
FIRST_RUNS = 3
"""A golden is what most of so many runs agree on."""


class Results:
    """What one block comes to: each part's result as bytes, and whether what must return did."""

    def __init__(self, data: bytes, numbers: "np.ndarray[tuple[int], np.dtype[np.uint64]]") -> None:
        packed = zlib.compress(data, LEVEL)
        self.restored = _restored(packed) == data
        ordered = np.sort(numbers)
        same_members = int(ordered.sum()) == int(numbers.sum()) and int(np.bitwise_xor.reduce(ordered)) == int(
            np.bitwise_xor.reduce(numbers)
        )
        self.sorted = bool((ordered[1:] >= ordered[:-1]).all()) and same_members
        self.parts = {
            "hash": hashlib.sha256(data).digest() + hashlib.blake2b(data).digest(),
            "compressed": hashlib.sha256(packed).digest(),
            "sorted": hashlib.sha256(ordered.tobytes()).digest(),
        }


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
    laps = 0
    while not line.stopping and laps != spec.plan.laps:
        laps += 1
        found = Results(data, numbers)
        for part, wanted in golden.items():
            if found.parts[part] != wanted:
                words = tuple(struct.unpack_from("<Q", one)[0] for one in (wanted, found.parts[part]))
                again = struct.unpack_from("<Q", Results(data, numbers).parts[part])[0]
                line.wrong_word(laps, 0, (*words, again), MismatchKind.COMPUTED, f"digest of what was {part}")
        _tell_returned(found, laps, line)
        line.worked(float(laps), 5.0 * BLOCK_BYTES, "hash, compress, sort")
    return float(laps)


def _tell_returned(found: Results, lap: int, line: Line) -> None:
    for returned, what in ((found.restored, "compressed data came back wrong"), (found.sorted, "sorted wrong")):
        if not returned:
            line.wrong_word(lap, 0, (1, 0, 0), MismatchKind.COMPUTED, what)
