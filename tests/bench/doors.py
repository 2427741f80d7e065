"""A door whose service fails again and again: 300 trials set through it, and what stands is always known."""

import time

from tenaz.demo.ridge import ridge
from tenaz.doors.redfish import service
from tests.contract.test_doors import played, with_map

CONVERSATIONS, ROUNDS = 300, 3


def report() -> None:
    """Each round with other faults; one that left a value unknown would end it."""
    service.REST_S = 0.0
    began = time.monotonic()
    for seed in range(ROUNDS):
        played(CONVERSATIONS, seed, with_map(ridge()))
    took = f"{time.monotonic() - began:.0f} s"
    print(f"doors: {ROUNDS} × {CONVERSATIONS} trials through a failing service in {took}: 0 values unknown")


if __name__ == "__main__":
    report()
