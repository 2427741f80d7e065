"""A load over all its workers: starts them, listens to them, ends them, and says what came of it."""

import contextlib
import json
import os
import selectors
import threading
import time
from collections.abc import Callable
from dataclasses import replace

from tenaz.core.base.errors import Refused
from tenaz.core.loads.goldens import Goldens, Result
from tenaz.core.loads.plan import LoadPlan, LoadProgress, LoadReport, Mismatch
from tenaz.core.loads.thermostat import Thermostat
from tenaz.core.machine.physical_memory import Laid, Span, united
from tenaz.loads.accounts import LEAST_SHARE, progress_of, report_of
from tenaz.loads.crews import Surroundings, specs_for
from tenaz.loads.heard import Heard
from tenaz.loads.spec import REPORT_EVERY_S, Spec
from tenaz.loads.standstill import Gaps
from tenaz.loads.workers import MOST_LISTENED_S, SILENCE_S, Worker, spawn

GRACE_S = 0.8
"""How long a worker may take to stop before it is killed, where nothing depends on its last word any more."""

LAST_WORD_S = 10.0
"""How long last words are waited for where somebody stopped a load that has no other end."""

SHORT_S = 10.0
"""So much longer than it was to last a load may always take: of a short one a moment of other work is a large share."""

LOOKS_EVERY_S, MOST_LOOKED_S = 1.0, 5.0
"""How often a temperature that is to be held is looked at; one that was not read for long is not made up for."""

LEAST_STANDING_S = 60.0
"""A timed load in which a worker stood still for longer than this, and than it was to last, is ended."""


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
        part_c: Callable[[], float | None] = lambda: None,
        report_every_s: float = REPORT_EVERY_S,
    ) -> None:
        self._plan, self._around = plan, around
        self._report_every_s = report_every_s
        self._specs = tuple(
            replace(spec, goldens=goldens or {}, report_every_s=report_every_s) for spec in specs_for(plan, around)
        )
        self._heard = Heard(on_mismatch, on_note, self._warmth)
        self._on_progress, self._on_note, self._on_laid = on_progress, on_note, on_laid
        self._temperature_c = temperature_c
        self._part_c = part_c
        self._thermostat = None if plan.warm_c is None else Thermostat(plan.warm_c, bool(plan.beside))
        self._looked_at_s = 0.0
        self._stop = threading.Event()
        self._started = False
        self._listened_s = 0.0

    def _warmth(self) -> float | None:
        """How warm it is where something is wrong: a card by its own sensor, all else by the hottest there is."""
        own = self._part_c() if self._plan.kind.declared.on_cards else None
        return self._temperature_c() if own is None else own

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
                self._hear_last_words(selector)
            finally:
                self._kill_all()
            # Last words count: a lap that was just finished is one that was done.
            if self._thermostat is not None and self._started:
                self._on_note(self._thermostat.told)
            last = self.progress()
            self._on_progress(last)
            return report_of(last, self._heard, self._around, self._started, self._stop.is_set())

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
            self._hear(selector, self._report_every_s / 2)
            if told := gaps.since_last():
                self._on_note(told)
            if not self._started and all(worker.ready for worker in self._heard.workers):
                self._tell_laid()
                self._started = True
                for worker in self._heard.workers:
                    worker.tell("go")
            if self._started and self._thermostat is not None:
                self._hold_warm(self._thermostat)
            if time.monotonic() >= next_progress:
                self._on_progress(self.progress())
                next_progress = time.monotonic() + self._report_every_s

    def _hold_warm(self, thermostat: Thermostat) -> None:
        """Once a second: who is to work how much of the time."""
        now = time.monotonic()
        if now - self._looked_at_s < LOOKS_EVERY_S or (celsius := self._part_c()) is None:
            return
        passed_s = min(MOST_LOOKED_S, now - self._looked_at_s) if self._looked_at_s else LOOKS_EVERY_S
        self._looked_at_s, own = now, self._own()
        duty = thermostat.look(celsius, passed_s)
        for worker in self._heard.workers:
            worker.tell(f"duty {duty.own if worker in own else duty.beside:.3f}")

    def _tell_laid(self) -> None:
        """Where all blocks lie, before anything is written to them: a crash must not take that along."""
        if any(worker.spans for worker in self._heard.workers):
            around = self._around
            kept = united(Span(part.start, part.start + part.size) for part in around.kept_free)
            lanes = tuple(worker.spans for worker in self._heard.workers)
            self._on_laid(Laid(around.memory, kept, lanes, around.fitted_bytes))

    def _over(self) -> bool:
        heard, most_s = self._heard, self._plan.duration_s
        if self._stop.is_set() or heard.ended_by_it or all(worker.done for worker in self._own()):
            return True
        if heard.mismatches and self._plan.stop_at_first_error:
            return True
        return most_s is not None and (self._elapsed_s() >= most_s or self._starved(most_s))

    def _hear(self, selector: selectors.BaseSelector, wait_s: float) -> None:
        """Listen, take what is said, and make of silence what there is to be made of it."""
        began_s = self._listened_s or time.monotonic()
        for key, _ in selector.select(wait_s):
            worker: Worker = key.data
            heard = os.read(key.fd, 1 << 16)
            worker.heard()
            *lines, worker.unfinished_line = (worker.unfinished_line + heard).split(b"\n")
            for line in lines:
                self._heard.take(worker, json.loads(line), self._elapsed_s())
            if not heard:
                selector.unregister(key.fileobj)
                self._heard.ended(worker)
        self._listened_s = time.monotonic()
        self._heard.listened(self._listened_s - began_s)

    def _hear_last_words(self, selector: selectors.BaseSelector) -> None:
        """Ask all workers to stop and hear what each has come to: without that nothing has held."""
        for worker in self._heard.workers:
            worker.tell("stop")
        waited_s = 0.0
        while selector.get_map() and waited_s < self._patience_s():
            before_s = time.monotonic()
            self._hear(selector, 0.02)
            # However long this stands still, workers are listened to before anything is made of it.
            waited_s += min(time.monotonic() - before_s, MOST_LISTENED_S)
        if self._settled:
            return
        for worker in self._heard.workers:
            if not worker.done:
                self._heard.unanswered(worker, waited_s)

    @property
    def _settled(self) -> bool:
        """Whether nothing depends on last words any more."""
        return not self._started or self._heard.ended_by_it or bool(self._heard.mismatches) or self._cut_short

    @property
    def _cut_short(self) -> bool:
        """Whether somebody stopped it before its end; a load without an end is meant to be stopped."""
        return self._stop.is_set() and (self._plan.duration_s is not None or self._plan.laps is not None)

    def _patience_s(self) -> float:
        """How long last words are waited for now: until silence means something, where the load is to have held."""
        if self._settled:
            return GRACE_S
        return LAST_WORD_S if self._stop.is_set() else SILENCE_S + LAST_WORD_S

    def _kill_all(self) -> None:
        for worker in self._heard.workers:
            if worker.process.poll() is None:
                worker.process.kill()
            for pipe in (worker.process.stdin, worker.process.stdout):
                if pipe is not None:
                    with contextlib.suppress(BrokenPipeError):
                        pipe.close()
            worker.process.wait()

    def _elapsed_s(self) -> float:
        """Time in which every worker worked, by what they say themselves: it counts, not our clock. What only heats
        beside may rest.
        """
        workers = self._heard.workers if self._thermostat is None else self._own()
        return min((worker.worked_s for worker in workers), default=0.0)

    def _starved(self, most_s: float) -> bool:
        """Whether a worker has had so long to work for ``most_s`` that nobody waits for it any more."""
        workers = self._heard.workers
        asked_s = max((worker.asked_s for worker in workers), default=0.0)
        stood_s = max((worker.stood_s for worker in workers), default=0.0)
        return asked_s > max(most_s / LEAST_SHARE, most_s + SHORT_S) or stood_s > max(LEAST_STANDING_S, most_s)

    def _own(self) -> list[Worker]:
        """The workers of the plan itself, without those of the loads beside it."""
        return self._heard.workers[: self._specs[0].crew]

    def progress(self) -> LoadProgress:
        """The load at this moment, with the time left where the plan has an end."""
        return progress_of(self._plan, self._heard, self._own(), self._elapsed_s(), self._temperature_c())
