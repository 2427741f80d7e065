"""``make bench``: speeds, as ratios to limits measured in the same run."""

import os

from tenaz.loads.processes import ONE_THREAD

# As in a worker, and before the libraries are loaded: a limit of one core is for work on one core.
os.environ.update(ONE_THREAD)

from tests.bench import (
    books,
    doors,
    flips,
    judging,
    kernels,
    keys,
    manners,
    nights,
    scores,
    screen,
    sheets,
    simulated,
    telemetry,
    wire,
)

if __name__ == "__main__":
    kernels.report()
    scores.report()
    manners.report()
    flips.report()
    doors.report()
    screen.report()
    keys.report()
    sheets.report()
    judging.report()
    nights.report()
    simulated.report()
    telemetry.report()
    wire.report()
    books.report()
