"""How loads behave towards the rest: how soon a worker is ready, how the parent's loop answers, how even pulses are."""

import asyncio
import re
import statistics
import threading
import time

from tenaz.benches.here import surroundings
from tenaz.core.loads.plan import CacheLevel, LoadKind, LoadPlan
from tenaz.loads.run import LoadRun

STARTS = 7
LOOP_TURNS = 2000
PULSE_S = 8.0


def ready() -> None:
    """Seconds from nothing to a worker that waits for its go."""
    around = surroundings()
    for kind in (LoadKind.MARCH, LoadKind.TRANSFORM, LoadKind.SOLVE):
        took = []
        for _ in range(STARTS):
            began = time.perf_counter()
            run = LoadRun(LoadPlan(kind, workers=1, size_bytes=64 * 2**20), around)
            ended = threading.Thread(target=run.run)
            ended.start()
            while run.progress().elapsed_s == 0:
                time.sleep(0.002)
            took.append(time.perf_counter() - began)
            run.stop()
            ended.join()
        print(f"  {kind} worker ready in {statistics.median(took):.2f} s (bar 0.60; {STARTS} starts, 64 MiB)")


def loop() -> None:
    """How late the parent's event loop is while all cores are loaded."""
    run = LoadRun(LoadPlan(LoadKind.MARCH, share=0.1), surroundings())
    thread = threading.Thread(target=run.run)
    thread.start()
    while run.progress().elapsed_s < 1:
        time.sleep(0.1)

    async def turns() -> list[float]:
        late = []
        for _ in range(LOOP_TURNS):
            asked = time.perf_counter()
            await asyncio.sleep(0.001)
            late.append(time.perf_counter() - asked - 0.001)
        return late

    late_ms = sorted(1000 * late for late in asyncio.run(turns()))
    run.stop()
    thread.join()
    within = late_ms[int(0.95 * len(late_ms))]
    print(f"  event loop under march on all cores: 95 % within {within:.2f} ms (bar 2.00)")


def pulses() -> None:
    """How far apart the cores' edges are."""
    run = LoadRun(LoadPlan(LoadKind.PULSE, PULSE_S, level=CacheLevel.L1, pulse_hz=25.0), surroundings())
    threading.Timer(PULSE_S - 1, lambda: said.extend(lane.doing for lane in run.progress().lanes)).start()
    said: list[str] = []
    run.run()
    within = [float(found[1]) for one in said if (found := re.search(r"within ([\d.]+) µs", one))]
    print(f"  pulse: each core's edges 95 % within {', '.join(f'{one:.1f}' for one in within)} µs of the grid (bar 10)")


def report() -> None:
    """Print all."""
    print("manners")
    ready()
    loop()
    pulses()
