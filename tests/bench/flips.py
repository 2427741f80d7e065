"""Bits flipped behind the back of every memory load: how many are found, with the address right."""

import random
import threading
import time
from dataclasses import replace

from tenaz.benches.here import surroundings
from tenaz.core.loads.plan import DataKind, LoadKind, LoadPlan, MarchMode
from tenaz.loads.run import LoadRun
from tests.doors.flip import flip_bit

TRIES = 10
WRITTEN_LAPS = 0.35
LOADS = (
    LoadPlan(LoadKind.MARCH),
    LoadPlan(LoadKind.MARCH, test="LR", mode=MarchMode.FLUSHED),
    LoadPlan(LoadKind.MARCH, test="SS", mode=MarchMode.BLOCKS),
    LoadPlan(LoadKind.MARCH, data=DataKind.ADDRESS),
    LoadPlan(LoadKind.MARCH, data=DataKind.HASH),
    LoadPlan(LoadKind.CHECKER),
    LoadPlan(LoadKind.PERMUTE),
    LoadPlan(LoadKind.COPY),
    LoadPlan(LoadKind.RETAIN, wait_s=0.2),
    LoadPlan(LoadKind.DISTURB),
)


def found(plan: LoadPlan, luck: random.Random) -> bool:
    """Flip one bit of a worker's block while the load runs; whether it is found at its address."""
    run = LoadRun(replace(plan, duration_s=60.0, size_bytes=64 * 2**20, workers=1), surroundings())
    flipped: list[int] = []

    def flip() -> None:
        # Until it has been written once: what was there before is nobody's.
        while run.progress().laps < WRITTEN_LAPS:
            time.sleep(0.01)
        time.sleep(luck.random() / 10)
        address = run.blocks[0]["address"] + 8 * luck.randrange(run.blocks[0]["bytes"] // 8)
        flip_bit(run.pids[0], address, luck.randrange(64))
        flipped.append(address)

    threading.Thread(target=flip).start()
    report = run.run()
    return bool(report.mismatches) and report.mismatches[0].address == flipped[0]


def report() -> None:
    """Print how many of all."""
    luck, count = random.Random(20_260_106), 0
    for plan in LOADS:
        hits = sum(found(plan, luck) for _ in range(TRIES))
        count += hits
        print(f"  {plan.kind}, {plan.how()}: {hits} of {TRIES} flips found at their address")
    print(f"flips found: {count} of {TRIES * len(LOADS)}")
