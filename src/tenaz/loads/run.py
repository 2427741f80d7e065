"""A load over all its workers: starts them, listens to them, ends them, and says what came of it."""

import contextlib
import json
import os
import selectors
import threading
import time
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from tenaz.core.errors import Refused
from tenaz.core.facts import facts_by_lanes
from tenaz.core.goldens import Goldens, Result, disagreeing
from tenaz.core.load_facts import LoadFact
from tenaz.core.load_kinds import LoadKind
from tenaz.core.loading import (
    LoadPlan,
    LoadProgress,
    LoadReport,
    Mismatch,
    MismatchKind,
)
from tenaz.core.outcomes import Outcome
from tenaz.core.physical_memory import Laid, Span, united
from tenaz.core.plain_text import plain
from tenaz.loads.crews import Surroundings, specs_for
from tenaz.loads.processes import cpu_time_s
from tenaz.loads.spec import REPORT_EVERY_S, Spec
from tenaz.loads.standstill import Gaps
from tenaz.loads.workers import Worker, death, silence, spawn

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
        self._on_laid = on_laid
        self._on_note = on_note
        self._plan = plan
        self._around = around
        self._specs = tuple(replace(spec, goldens=goldens or {}) for spec in specs_for(plan, around))
        self.results: list[Result] = []
        self._on_progress = on_progress
        self._on_mismatch = on_mismatch
        self._temperature_c = temperature_c
        self._stop = threading.Event()
        self._workers: list[Worker] = []
        self._mismatches: list[Mismatch] = []
        self._started_s: float | None = None
        self._ended_s: float | None = None
        self._resumed_s = float("-inf")
        self._died = ""
        self._killed = ""

    @property
    def pids(self) -> tuple[int, ...]:
        """Process ids of the workers, in worker order."""
        return tuple(worker.process.pid for worker in self._workers)

    @property
    def blocks(self) -> tuple[dict[str, int], ...]:
        """Of each ready worker: ``address``, ``bytes`` and ``locked`` bytes of its block."""
        return tuple(worker.block for worker in self._workers if worker.ready)

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
            self._on_progress(self.progress())
            return self._report()

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
        self._workers.append(worker)
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
            if self._started_s is None and all(worker.ready for worker in self._workers):
                self._tell_laid()
                self._started_s = time.monotonic()
                for worker in self._workers:
                    worker.tell("go")
            if time.monotonic() >= next_progress:
                self._on_progress(self.progress())
                next_progress = time.monotonic() + REPORT_EVERY_S
        self._ended_s = time.monotonic()

    def _tell_laid(self) -> None:
        """Where all blocks lie, before anything is written to them: a crash must not take that along."""
        if any(worker.spans for worker in self._workers):
            around = self._around
            kept = united(Span(part.start, part.start + part.size) for part in around.kept_free)
            lanes = tuple(worker.spans for worker in self._workers)
            self._on_laid(Laid(around.memory, kept, lanes, around.fitted_bytes))

    def _over(self) -> bool:
        if self._stop.is_set() or self._died or self._killed or all(worker.done for worker in self._own()):
            return True
        if self._mismatches and self._plan.stop_at_first_error:
            return True
        if time.monotonic() - self._resumed_s < RESUMING_S:
            return False
        if any(self._silent(worker) for worker in self._workers if not worker.done):
            return True
        return self._plan.duration_s is not None and self._elapsed_s() >= self._plan.duration_s

    def _silent(self, worker: Worker) -> bool:
        """Whether a worker has been silent too long: hung when it had its core meanwhile, void when it had not."""
        found = silence(worker, self._resumed_s)
        self._died, self._killed = self._died or found.died, self._killed or found.void
        return found.over

    def _hear(self, selector: selectors.BaseSelector, wait_s: float) -> None:
        for key, _ in selector.select(wait_s):
            worker: Worker = key.data
            heard = os.read(key.fd, 1 << 16)
            worker.heard_s, worker.spoken = time.monotonic(), True
            worker.cpu_s = cpu_time_s(worker.process.pid)
            *lines, worker.unfinished_line = (worker.unfinished_line + heard).split(b"\n")
            for line in lines:
                self._take(worker, json.loads(line))
            if not heard:
                selector.unregister(key.fileobj)
                self._ended(worker)

    def _take(self, worker: Worker, said: dict[str, Any]) -> None:
        match said["say"]:
            case "preparing":
                worker.prepared = said["fraction"]
                worker.lane = replace(worker.lane, doing=f"taking memory {worker.prepared:.0%}")
            case "laid":
                worker.spans = tuple(Span(start, end) for start, end in said["spans"])
            case "ready":
                worker.ready = True
                worker.block = {key: said[key] for key in ("address", "bytes", "locked")}
                worker.lane = replace(worker.lane, doing="ready")
            case "progress":
                worker.lane = replace(
                    worker.lane,
                    laps=said["laps"],
                    rate=said["rate"],
                    errors=said["errors"],
                    verified_at_s=said["at_s"],
                    clock_mhz=said["clock_mhz"],
                    doing=plain(said["doing"]),
                )
                worker.stood_s = said["stood_s"]
            case "note":
                self._on_note(plain(said["text"]))
            case "void":
                self._killed = self._killed or plain(said["text"])
            case "golden":
                self.results.append(Result(said["made_with"], said["name"], said["digest"], worker.spec.worker))
                self._compare_cores(said["name"])
            case "mismatch":
                fields = {key: value for key, value in said.items() if key != "say"}
                where = plain(fields["where"])
                self._take_mismatch(
                    worker, Mismatch(**{**fields, "kind": MismatchKind(fields["kind"]), "where": where})
                )
            case "done":
                worker.done = True
                worker.lane = replace(
                    worker.lane,
                    laps=said["laps"],
                    rate=said["rate"],
                    errors=said["errors"],
                    verified_at_s=said["at_s"],
                    doing="done",
                )

    def _take_mismatch(self, worker: Worker, found: Mismatch) -> None:
        mismatch = replace(
            found, load=worker.spec.plan.kind, core=worker.spec.core, temperature_c=self._temperature_c()
        )
        self._mismatches.append(mismatch)
        worker.lane = replace(worker.lane, errors=max(worker.lane.errors, 1))
        self._on_mismatch(mismatch)

    def _compare_cores(self, name: str) -> None:
        """Tell first results that cores do not agree on: what is wrong from the start would never be seen alone. They
        are compared once all that do this work have theirs.
        """
        same = [result for result in self.results if result.name == name]
        kind = self._workers[same[-1].worker].spec.plan.kind
        if len(same) < sum(worker.spec.plan.kind is kind for worker in self._workers):
            return
        for result, agreed in disagreeing(same):
            who = self._workers[result.worker]
            expected, read = (int(digest[:16] or "0", 16) for digest in (agreed, result.digest))
            others = "what most cores have" if agreed else "what the others have, and none has a majority"
            self._take_mismatch(
                who,
                Mismatch(
                    who.spec.worker,
                    self._elapsed_s(),
                    1,
                    0,
                    expected,
                    read,
                    read,
                    MismatchKind.COMPUTED,
                    f"first {result.name} on core {who.spec.core} is not {others}",
                ),
            )

    def _ended(self, worker: Worker) -> None:
        """A worker that closed its line without saying ``done`` has died: that is a finding."""
        worker.process.wait()
        if worker.done:
            return
        worker.done = True
        found = death(worker)
        self._died, self._killed = found.died or self._died, found.void or self._killed

    def _end_all(self, selector: selectors.BaseSelector) -> None:
        """Ask all workers to stop, hear their last words, kill what does not listen."""
        for worker in self._workers:
            worker.tell("stop")
        deadline = time.monotonic() + GRACE_S
        while selector.get_map() and time.monotonic() < deadline:
            before = self._died, self._killed
            self._hear(selector, 0.02)
            self._died, self._killed = before[0] or self._died, before[1] or self._killed
        for worker in self._workers:
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
        stood_s = max((worker.stood_s for worker in self._workers), default=0.0)
        return max(0.0, (self._ended_s or time.monotonic()) - self._started_s - stood_s)

    def _laps(self) -> float:
        """Laps that all its own workers have done; where they take turns, all laps together."""
        laps = [worker.lane.laps for worker in self._own()]
        return sum(laps) if self._plan.kind.declared.takes_turns else min(laps, default=0.0)

    def _own(self) -> list[Worker]:
        """The workers of the plan itself, without those of the loads beside it."""
        return self._workers[: self._specs[0].crew]

    def progress(self) -> LoadProgress:
        """The load at this moment, with the time left where the plan has an end."""
        elapsed, laps = self._elapsed_s(), self._laps()
        fraction, left = self._plan.ahead(elapsed, laps)
        return LoadProgress(
            plan=self._plan,
            elapsed_s=elapsed,
            fraction=fraction,
            left_s=left,
            laps=laps,
            rate=sum(worker.lane.rate for worker in self._own()),
            errors=self._errors(),
            lanes=tuple(worker.lane for worker in self._workers),
            temperature_c=self._temperature_c(),
        )

    def _errors(self) -> int:
        return max(len(self._mismatches), sum(worker.lane.errors for worker in self._workers))

    def _report(self) -> LoadReport:
        now = self.progress()
        detail = self._died or self._killed
        if self._started_s is None and self._died:
            raise Refused(f"The load could not start: {self._died}.")
        if self._mismatches or self._died:
            outcome = Outcome.ERRED
        elif self._killed or (
            self._stop.is_set() and (self._plan.duration_s is not None or self._plan.laps is not None)
        ):
            outcome = Outcome.STOPPED
        else:
            outcome = Outcome.HELD if self._started_s is not None else Outcome.STOPPED
        first = min((m.at_s for m in self._mismatches), default=None)
        if first is None and self._died:
            first = now.elapsed_s
        return LoadReport(
            plan=self._plan,
            outcome=outcome,
            elapsed_s=now.elapsed_s,
            laps=now.laps,
            rate=now.rate,
            errors=now.errors,
            failed_after_s=first,
            mismatches=tuple(self._mismatches),
            detail=detail,
            loads=self._facts(now.elapsed_s, first),
        )

    def _facts(self, elapsed_s: float, first_s: float | None) -> tuple[LoadFact, ...]:
        """What each load, its own and those beside it, really did."""
        lanes = [replace(worker.lane, core=self._around.core_of(worker.lane.core)) for worker in self._workers]
        of_cores = len({self._around.core_of(core) for core in self._around.cores})
        facts = facts_by_lanes(self._plan, elapsed_s, lanes, of_cores, self._around.total_bytes)
        first_of: dict[LoadKind | None, float] = {}
        for wrong in self._mismatches:
            first_of[wrong.load] = min(wrong.at_s, first_of.get(wrong.load, wrong.at_s))
        # Of a worker that died only the moment is known.
        return tuple(replace(fact, failed_after_s=first_of.get(fact.kind) if first_of else first_s) for fact in facts)
