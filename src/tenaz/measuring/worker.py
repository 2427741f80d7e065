"""The child process that measures on one core: ``python -m tenaz.measuring.worker CORE TASKS``.

It speaks JSON lines. Down, on standard input: ``{"task": k, "at_s": t, "for_s": s}``: work at task k from a moment of
the monotonic clock on, for about so long. Up: what was done in which time, and how much of that this thread had its
core. The end of standard input ends it.
"""

import hashlib
import json
import os
import signal
import sys
import time
import zlib
from collections.abc import Callable
from typing import Any

from tenaz.loads.budget import be_considerate

FIRST_S = 0.002
"""A first call aims at this; from there on the count follows."""
LEVEL = 6
SEED = 90_001

Doing = Callable[[int], float]
"""Does a task so many times, and gives the work done: bytes, steps or operations."""


def stream(fields: dict[str, Any]) -> Doing:
    """Passes over a block of its own."""
    from tenaz.loads.kernels.native import this_processor  # noqa: PLC0415 - only what is asked for is loaded
    from tenaz.loads.memory import Block  # noqa: PLC0415
    from tenaz.measuring.streams import Streams  # noqa: PLC0415

    streams = _once("streams", lambda: Streams(this_processor()))
    block = _once("block", lambda: Block(fields["largest"]))
    if not block.locked_bytes:
        block.populate(lambda _: True)
    way, size = fields["work"], fields["size"]
    moved = streams.pass_bytes(way, size)

    def run(times: int) -> float:
        streams.run(way, block.address, size, times)
        return float(times * moved)

    return run


def chain(fields: dict[str, Any]) -> Doing:
    """Steps round a ring."""
    from tenaz.measuring.chains import Chase, Order, Pages, Ring  # noqa: PLC0415

    chase = _once("chase", Chase)
    ring = Ring(fields["size"], Order(fields["order"]), Pages(fields["pages"]))
    fields["as_asked"] = ring.pages is Pages(fields["pages"])
    return lambda times: float(chase.run(ring, 1000 * times))


def transform(fields: dict[str, Any]) -> Doing:
    """Transforms there and back, checked as under load."""
    from tenaz.core.loads.plan import CacheLevel  # noqa: PLC0415
    from tenaz.loads.budget import transform_points  # noqa: PLC0415
    from tenaz.loads.kernels.fourier import FourierKernels, flop_of_round_trip  # noqa: PLC0415
    from tenaz.loads.kernels.native import this_processor  # noqa: PLC0415
    from tenaz.loads.memory import Block  # noqa: PLC0415

    processor = this_processor()
    points = transform_points(CacheLevel.L2, int(fields["size"] / 0.75), processor.arithmetic_bits // 64)
    kernels = FourierKernels(processor, points)
    block = Block(kernels.block_bytes)
    block.populate(lambda _: True)
    reference, _ = kernels.first_digest(block.address, SEED)
    flop = flop_of_round_trip(kernels.points, kernels.lanes)
    return lambda times: float(kernels.rounds(block.address, SEED, times, reference).good * flop)


def solve(fields: dict[str, Any]) -> Doing:
    """Systems of linear equations through the machine's own linear algebra."""
    import numpy as np  # noqa: PLC0415

    from tenaz.loads.kinds.solving import flop_of_system  # noqa: PLC0415

    rows = fields["size"]
    chosen = np.random.Generator(np.random.PCG64(SEED))
    matrix, right = chosen.uniform(-1, 1, (rows, rows)), chosen.uniform(-1, 1, rows)

    def run(times: int) -> float:
        for _ in range(times):
            np.linalg.solve(matrix, right)
        return float(times * flop_of_system(rows))

    return run


def words(fields: dict[str, Any]) -> Doing:
    """Hashing, or compressing, a block of which half repeats."""
    import numpy as np  # noqa: PLC0415

    size = fields["size"]
    fresh = np.random.Generator(np.random.PCG64(SEED)).integers(0, 256, size // 2, dtype=np.uint8).tobytes()
    data = fresh + fresh[: size // 4] + bytes(size // 4)

    def run(times: int) -> float:
        for _ in range(times):
            if fields["work"] == "hash":
                hashlib.sha256(data).digest()
            else:
                zlib.compress(data, LEVEL)
        return float(times * size)

    return run


MADE_BY = {
    **dict.fromkeys(("read", "write", "copy", "turn"), stream), "latency": chain, "transform": transform,
    "solve": solve, "hash": words, "compress": words,
}  # fmt: skip
_kept: dict[str, Any] = {}


def _once(name: str, make: Callable[[], Any]) -> Any:
    if name not in _kept:
        _kept[name] = make()
    return _kept[name]


class Timed:
    """A task and how long it takes, learnt from call to call."""

    def __init__(self, fields: dict[str, Any]) -> None:
        self._do = MADE_BY[fields["work"]](fields)
        self._once_s = FIRST_S
        self.run(0.0)
        self.run(FIRST_S)

    def run(self, for_s: float) -> tuple[float, float, float]:
        """Work done, seconds taken, seconds that this thread had its core meanwhile."""
        times = max(1, round(for_s / self._once_s))
        began, had = time.perf_counter(), time.thread_time()
        work = self._do(times)
        took, had = time.perf_counter() - began, time.thread_time() - had
        self._once_s = max(took / times, 1e-7)
        return work, took, had


def main() -> None:
    """Measure until nobody asks any more."""
    core, tasks = int(sys.argv[1]), json.loads(sys.argv[2])
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGHUP, signal.SIG_IGN)
    be_considerate(0)
    os.sched_setaffinity(0, {core})
    timed: dict[int, Timed] = {}
    print(json.dumps({"ready": core}), flush=True)
    for line in sys.stdin:
        asked = json.loads(line)
        number = asked["task"]
        if number not in timed:
            timed[number] = Timed(tasks[number])
        if asked.get("prepare"):
            print(json.dumps({"prepared": number, "as_asked": tasks[number].get("as_asked", True)}), flush=True)
            continue
        while time.monotonic() < asked["at_s"] - 0.001:
            time.sleep(max(0.0, min(0.05, asked["at_s"] - 0.001 - time.monotonic())))
        while time.monotonic() < asked["at_s"]:
            pass
        work, took, had = timed[number].run(asked["for_s"])
        print(json.dumps({"task": number, "work": work, "took_s": took, "had_s": had}), flush=True)
    os._exit(0)


if __name__ == "__main__":
    main()
