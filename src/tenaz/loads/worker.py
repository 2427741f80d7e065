"""The child process that runs one load on one core: ``python -m tenaz.loads.worker SPEC``.

It speaks JSON lines. Up: ``ready`` (block in place), ``progress``, ``mismatch``, ``done``. Down, on standard input:
``go`` and ``stop``; the end of standard input means that the parent is gone and stops it too.
"""

import json
import os
import signal
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from tenaz.core.loading import LoadKind, Mismatch
from tenaz.loads.budget import be_considerate
from tenaz.loads.kernels.clock import ClockMeter
from tenaz.loads.spec import REPORT_EVERY_S, Spec

CLOCK_EVERY_S = 1.0
"""How often the clock reached is measured; it costs a third of a millisecond."""

MOST_MISMATCHES_TOLD = 200
"""Each mismatch is counted; only so many are told one by one, so that a flood cannot drown the parent."""


class Line:
    """The worker's line to its parent, and its ear for stop."""

    def __init__(self, spec: Spec) -> None:
        self.spec = spec
        self.errors = 0
        self.started = 0.0
        self._go = threading.Event()
        self._stop = threading.Event()
        self._told = 0
        self._last_report = 0.0
        self._work_since_report = 0.0
        self._work = 0.0
        self._meter = ClockMeter()
        self._clock_mhz = 0.0
        self._last_clock = 0.0
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self) -> None:
        for line in sys.stdin:
            if line.strip() == "go":
                self._go.set()
            elif line.strip() == "stop":
                break
        self._stop.set()
        self._go.set()

    def say(self, word: str, **fields: Any) -> None:
        """One line to the parent; a parent that is gone stops the worker."""
        try:
            sys.stdout.write(json.dumps({"say": word, "worker": self.spec.worker, **fields}) + "\n")
            sys.stdout.flush()
        except BrokenPipeError:
            os._exit(1)

    @property
    def stopping(self) -> bool:
        """Whether to leave off at the next chance."""
        return self._stop.is_set() or (self.errors > 0 and self.spec.stop_at_first_error)

    def wait_for_go(self, **block: int) -> None:
        """Say that the block is in place and wait until all workers are."""
        self.say("ready", **block)
        self._go.wait()
        self.started = self._last_report = time.monotonic()

    def elapsed_s(self) -> float:
        """Seconds since go."""
        return time.monotonic() - self.started

    def preparing(self, fraction: float) -> bool:
        """Tell how far the block is; False when the worker is to stop."""
        self.say("preparing", fraction=round(fraction, 3))
        return not self._stop.is_set()

    def worked(self, laps: float, work: float, doing: Callable[[], str]) -> None:
        """Count work done (bytes or operations); a report goes up now and then."""
        self._work_since_report += work
        self._work += work
        now = time.monotonic()
        since = now - self._last_report
        if since >= REPORT_EVERY_S:
            if now - self._last_clock >= CLOCK_EVERY_S:
                self._last_clock, self._clock_mhz = now, self._meter.measure_mhz()
            self.say(
                "progress",
                laps=laps,
                rate=self._work_since_report / since / 1e9,
                errors=self.errors,
                at_s=now - self.started,
                clock_mhz=round(self._clock_mhz),
                doing=doing(),
            )
            self._last_report, self._work_since_report = now, 0.0

    def mean_rate(self) -> float:
        """Work a second since go, in the unit of the kind (10⁹ bytes or operations)."""
        return self._work / max(self.elapsed_s(), 1e-9) / 1e9

    def wrong(self, mismatch: Mismatch) -> None:
        """Count a mismatch and tell it."""
        self.errors += 1
        if self._told < MOST_MISMATCHES_TOLD:
            self._told += 1
            self.say("mismatch", **asdict(mismatch))


def main() -> None:
    """Run the load named on the command line."""
    spec = Spec.from_json(sys.argv[1])
    # An interrupt typed at the terminal reaches the whole group; the parent answers it, and tells us to stop.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    be_considerate()
    os.sched_setaffinity(0, {spec.core})
    line = Line(spec)
    if spec.kind is LoadKind.MARCH:
        from tenaz.loads.march_worker import run_march as run  # noqa: PLC0415 - compiles only what is asked
    else:
        from tenaz.loads.transform_worker import run_transform as run  # noqa: PLC0415
    laps = run(spec, line)
    line.say("done", laps=laps, errors=line.errors, at_s=line.elapsed_s(), rate=line.mean_rate())
    # Memory goes back with the process; tearing down gigabytes politely would only delay the parent.
    os._exit(0)


if __name__ == "__main__":
    main()
