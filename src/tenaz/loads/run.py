"""A load over all its workers: starts them, listens to them, ends them, and says what came of it."""

import contextlib
import json
import os
import selectors
import threading
import time
from collections.abc import Callable
from dataclasses import replace

from tenaz.core.errors import Refused
from tenaz.core.goldens import Goldens, Result
from tenaz.core.loading import LoadPlan, LoadProgress, LoadReport, Mismatch
from tenaz.core.physical_memory import Laid, Span, united
from tenaz.loads.accounts import progress_of, report_of
from tenaz.loads.crews import Surroundings, specs_for
from tenaz.loads.heard import Heard
from tenaz.loads.processes import cpu_time_s
from tenaz.loads.spec import REPORT_EVERY_S, Spec
from tenaz.loads.standstill import Gaps
from tenaz.loads.workers import Worker, spawn

GRACE_S = 0.8
"""How long a worker may take to stop before it is killed."""

RESUMING_S = 2 * REPORT_EVERY_S
"""After a gap workers get so long to be heard before anything is made of it."""


class LoadRun:
    """One run of one plan. ``run`` blocks; ``stop`` may be called from any thread."""

    def __init__(
        self,
        plan: LoadPlan,
        around: Surroundings,
        on_progress: Callable[[LoadProgress], None] = lambda _: None,
        on_mismatch: Callable[[Mismatch], None] = lambda _: None,
        temperature_c: Callable[[], float | None] = lambda: None,
        goldens: Goldens | None = None,
        on_note: Callable[[str], None] = lambda _: None,
        on_laid: Callable[[Laid], None] = lambda _: None,
    ) -> None:
        self._plan, self._around = plan, around
        self._specs = tuple(replace(spec, goldens=goldens or {}) for spec in specs_for(plan, around))
        self._heard = Heard(on_mismatch, on_note, temperature_c)
        self._on_progress, self._on_note, self._on_laid = on_progress, on_note, on_laid
        self._temperature_c = temperature_c
        self._stop = threading.Event()
        self._started_s: float | None = None
        self._ended_s: float | None = None
        self._resumed_s = float("-inf")

    @property
    def pids(self) -> tuple[int, ...]:
        """Process ids of the workers, in worker order."""
        return tuple(worker.process.pid for worker in self._heard.workers)

    @property
    def blocks(self) -> tuple[dict[str, int], ...]:
        """Of each ready worker: ``address``, ``bytes`` and ``locked`` bytes of its block."""
        return tuple(worker.block for worker in self._heard.workers if worker.ready)

    @property
    def results(self) -> list[Result]:
        """The first result of each work that workers told."""
        return self._heard.results

    def stop(self) -> None:
        """End the load as soon as possible; heard within a few milliseconds, enforced within a second."""
        self._stop.set()

    def run(self) -> LoadReport:
        """Run to the end of the plan, the first failure, or until stopped."""
        with selectors.DefaultSelector() as selector, contextlib.ExitStack() as files:
            try:
                for spec in self._specs:
                    self._start(spec, selector, files)
                self._listen_until_over(selector)
            finally:
                self._end_all(selector)
            # Last words count: a lap that was just finished is one that was done.
            last = self.progress()
            self._on_progress(last)
            return report_of(last, self._heard, self._around, self._started_s is not None, self._stop.is_set())

    def _start(self, spec: Spec, selector: selectors.BaseSelector, files: contextlib.ExitStack) -> None:
        try:
            self._spawn(spec, selector, files)
        except OSError as error:
            raise Refused(
                f"The load could not start: {error.strerror}. It needs a process and some open files for each worker; "
                f"close other programs, or use fewer workers."
            ) from error

    def _spawn(self, spec: Spec, selector: selectors.BaseSelector, files: contextlib.ExitStack) -> None:
        worker = spawn(spec, files)
        self._heard.workers.append(worker)
        assert worker.process.stdout is not None
        selector.register(worker.process.stdout, selectors.EVENT_READ, worker)

    def _listen_until_over(self, selector: selectors.BaseSelector) -> None:
        next_progress, gaps = 0.0, Gaps()
        while not self._over():
            self._hear(selector, REPORT_EVERY_S / 2)
            if told := gaps.since_last():
                self._on_note(told)
                # What workers said, and when, is judged once they have been heard again.
                self._resumed_s = time.monotonic()
            if self._started_s is None and all(worker.ready for worker in self._heard.workers):
                self._tell_laid()
                self._started_s = time.monotonic()
                for worker in self._heard.workers:
                    worker.tell("go")
            if time.monotonic() >= next_progress:
                self._on_progress(self.progress())
                next_progress = time.monotonic() + REPORT_EVERY_S
        self._ended_s = time.monotonic()

    def _tell_laid(self) -> None:
        """Where all blocks lie, before anything is written to them: a crash must not take that along."""
        if any(worker.spans for worker in self._heard.workers):
            around = self._around
            kept = united(Span(part.start, part.start + part.size) for part in around.kept_free)
            lanes = tuple(worker.spans for worker in self._heard.workers)
            self._on_laid(Laid(around.memory, kept, lanes, around.fitted_bytes))

    def _over(self) -> bool:
        if self._stop.is_set() or self._heard.died or self._heard.void or all(worker.done for worker in self._own()):
            return True
        if self._heard.mismatches and self._plan.stop_at_first_error:
            return True
        if time.monotonic() - self._resumed_s < RESUMING_S:
            return False
        if any(self._heard.silent(worker, self._resumed_s) for worker in self._heard.workers if not worker.done):
            return True
        return self._plan.duration_s is not None and self._elapsed_s() >= self._plan.duration_s

    def _hear(self, selector: selectors.BaseSelector, wait_s: float) -> None:
        for key, _ in selector.select(wait_s):
            worker: Worker = key.data
            heard = os.read(key.fd, 1 << 16)
            worker.heard_s, worker.spoken = time.monotonic(), True
            worker.cpu_s = cpu_time_s(worker.process.pid)
            *lines, worker.unfinished_line = (worker.unfinished_line + heard).split(b"\n")
            for line in lines:
                self._heard.take(worker, json.loads(line), self._elapsed_s())
            if not heard:
                selector.unregister(key.fileobj)
                self._heard.ended(worker)

    def _end_all(self, selector: selectors.BaseSelector) -> None:
        """Ask all workers to stop, hear their last words, kill what does not listen."""
        for worker in self._heard.workers:
            worker.tell("stop")
        deadline = time.monotonic() + GRACE_S
        while selector.get_map() and time.monotonic() < deadline:
            self._hear(selector, 0.02)
        for worker in self._heard.workers:
            if worker.process.poll() is None:
                worker.process.kill()
            for pipe in (worker.process.stdin, worker.process.stdout):
                if pipe is not None:
                    with contextlib.suppress(BrokenPipeError):
                        pipe.close()
            worker.process.wait()

    def _elapsed_s(self) -> float:
        if self._started_s is None:
            return 0.0
        # Time in which workers were stopped from outside is no time under load: what they say counts, not our clock.
        return max(0.0, (self._ended_s or time.monotonic()) - self._started_s - self._heard.stood_s)

    def _own(self) -> list[Worker]:
        """The workers of the plan itself, without those of the loads beside it."""
        return self._heard.workers[: self._specs[0].crew]

    def progress(self) -> LoadProgress:
        """The load at this moment, with the time left where the plan has an end."""
        return progress_of(self._plan, self._heard, self._own(), self._elapsed_s(), self._temperature_c())
