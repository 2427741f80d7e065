"""The whole attack: ``make torture``. Seeded, bounded; a row an attack; ends with 1 when anything broke."""

import argparse
import sys
import time

from tests.torture.flips import flips, merges
from tests.torture.hostile import hostile
from tests.torture.kills import kills
from tests.torture.meetings import meetings
from tests.torture.workers import blinded, workers


def main() -> None:
    """Run it."""
    parser = argparse.ArgumentParser(prog="make torture")
    parser.add_argument("--seed", type=int, default=1871)
    parser.add_argument("--kills", type=int, default=500)
    parser.add_argument("--flips", type=int, default=1000)
    parser.add_argument("--hostile", type=int, default=10_000)
    parser.add_argument("--merges", type=int, default=300)
    parser.add_argument("--meetings", type=int, default=1000)
    parser.add_argument("--workers", type=int, default=77)
    parser.add_argument("--blinded", type=int, default=490)
    asked = parser.parse_args()
    print(f"seed {asked.seed}\n{'attack':<34} {'tried':>6} {'failures':>8} {'slowest':>11}", flush=True)
    broke = False
    attacks = (
        (workers, asked.workers), (blinded, asked.blinded), (hostile, asked.hostile), (flips, asked.flips),
        (merges, asked.merges), (meetings, asked.meetings), (kills, asked.kills),
    )  # fmt: skip
    for attack, count in attacks:
        began = time.monotonic()
        tally = attack(count, asked.seed)
        print(f"{tally.show()}  ({time.monotonic() - began:.0f} s)", flush=True)
        broke = broke or bool(tally.failures)
    sys.exit(int(broke))


if __name__ == "__main__":
    main()
