"""What the workers of a load have said: how far each is, what is wrong, and why the load cannot go on."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from tenaz.core.goldens import Result, disagreeing
from tenaz.core.loading import Mismatch, MismatchKind
from tenaz.core.physical_memory import Span
from tenaz.core.plain_text import plain
from tenaz.loads.workers import Finding, Worker, death, silence


class Heard:
    """Of the workers of one load, in their order. What is wrong, and what is noted, is told on at once."""

    def __init__(
        self,
        on_mismatch: Callable[[Mismatch], None],
        on_note: Callable[[str], None],
        temperature_c: Callable[[], float | None],
    ) -> None:
        self._on_mismatch, self._on_note, self._temperature_c = on_mismatch, on_note, temperature_c
        self.workers: list[Worker] = []
        self.mismatches: list[Mismatch] = []
        self.results: list[Result] = []
        self.died, self.void = "", ""
        """Why it cannot go on, as it was found first: a finding about the rig, or none."""

    @property
    def errors(self) -> int:
        """How many, counted by who found most: not each is told on."""
        return max(len(self.mismatches), sum(worker.lane.errors for worker in self.workers))

    @property
    def stood_s(self) -> float:
        """How long workers stood still, by what they say themselves."""
        return max((worker.stood_s for worker in self.workers), default=0.0)

    def take(self, worker: Worker, said: dict[str, Any], at_s: float) -> None:
        """What a worker says, ``at_s`` seconds under load."""
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
                self._come_to(worker, said)
                worker.lane = replace(worker.lane, clock_mhz=said["clock_mhz"], doing=plain(said["doing"]))
                worker.stood_s = said["stood_s"]
            case "note":
                self._on_note(plain(said["text"]))
            case "void":
                self.void = self.void or plain(said["text"])
            case "golden":
                self.results.append(Result(said["made_with"], said["name"], said["digest"], worker.spec.worker))
                self._compare_cores(said["name"], at_s)
            case "mismatch":
                fields = {key: value for key, value in said.items() if key != "say"}
                told = {**fields, "kind": MismatchKind(fields["kind"]), "where": plain(fields["where"])}
                self._wrong(worker, Mismatch(**told))
            case "done":
                worker.done = True
                self._come_to(worker, said)
                worker.lane = replace(worker.lane, doing="done")

    def ended(self, worker: Worker) -> None:
        """A worker that closed its line without saying ``done`` has died: that is a finding."""
        worker.process.wait()
        if not worker.done:
            worker.done = True
            self._find(death(worker))

    def silent(self, worker: Worker, resumed_s: float) -> bool:
        """Whether a worker has been silent too long: hung when it had its core meanwhile, void when it had not."""
        found = silence(worker, resumed_s)
        self._find(found)
        return found.over

    def _find(self, found: Finding) -> None:
        self.died, self.void = self.died or found.died, self.void or found.void

    @staticmethod
    def _come_to(worker: Worker, said: dict[str, Any]) -> None:
        worker.lane = replace(
            worker.lane, laps=said["laps"], rate=said["rate"], errors=said["errors"], verified_at_s=said["at_s"]
        )

    def _wrong(self, worker: Worker, found: Mismatch) -> None:
        load, core = worker.spec.plan.kind, worker.spec.core
        mismatch = replace(found, load=load, core=core, temperature_c=self._temperature_c())
        self.mismatches.append(mismatch)
        worker.lane = replace(worker.lane, errors=max(worker.lane.errors, 1))
        self._on_mismatch(mismatch)

    def _compare_cores(self, name: str, at_s: float) -> None:
        """Tell first results that cores do not agree on: what is wrong from the start would never be seen alone. They
        are compared once all that do this work have theirs.
        """
        same = [result for result in self.results if result.name == name]
        kind = self.workers[same[-1].worker].spec.plan.kind
        if len(same) < sum(worker.spec.plan.kind is kind for worker in self.workers):
            return
        for result, agreed in disagreeing(same):
            who = self.workers[result.worker]
            expected, read = (int(digest[:16] or "0", 16) for digest in (agreed, result.digest))
            others = "what most cores have" if agreed else "what the others have, and none has a majority"
            where = f"first {result.name} on core {who.spec.core} is not {others}"
            kind_of = MismatchKind.COMPUTED
            self._wrong(who, Mismatch(who.spec.worker, at_s, 1, 0, expected, read, read, kind_of, where))
