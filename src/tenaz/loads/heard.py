"""What the workers of a load have said: how far each is, what is wrong, and why the load cannot go on."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from tenaz.core.base.plain_text import plain
from tenaz.core.loads.cards import Drawn, Tile
from tenaz.core.loads.goldens import Result, disagreeing
from tenaz.core.loads.plan import Mismatch, MismatchKind
from tenaz.core.machine.physical_memory import Span
from tenaz.loads.workers import MOST_LISTENED_S, SILENCE_S, Worker, WorkerFate, death, silence


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
        self.lost_card: int | None = None
        """The card that was not heard of any more."""
        self.died, self.void, self.unchecked = "", "", ""
        """Why it cannot go on, as it was found first: a finding about the rig, none, or its own check gone wrong."""

    @property
    def errors(self) -> int:
        """How many, counted by who found most: not each is told on."""
        return max(len(self.mismatches), sum(worker.lane.errors for worker in self.workers))

    @property
    def ended_by_it(self) -> bool:
        """Whether the load is over by what was found."""
        return bool(self.died or self.void or self.unchecked)

    def take(self, worker: Worker, said: dict[str, Any], at_s: float) -> None:
        """What a worker says, ``at_s`` seconds under load."""
        match said["say"]:
            case "preparing":
                worker.prepared = said["fraction"]
                doing = "taking memory" if worker.spec.card is None else "making the card ready"
                worker.lane = replace(worker.lane, doing=f"{doing} {worker.prepared:.0%}")
            case "laid":
                worker.spans = tuple(Span(start, end) for start, end in said["spans"])
            case "ready":
                worker.ready = True
                worker.block = {key: said[key] for key in ("address", "bytes", "locked")}
                worker.lane = replace(worker.lane, doing="ready")
            case "progress":
                self._come_to(worker, said)
                worker.lane = replace(worker.lane, clock_mhz=said["clock_mhz"], doing=plain(said["doing"]))
            case "note":
                self._on_note(plain(said["text"]))
            case "lost":
                self._find(WorkerFate(died=f"{worker.name}: {plain(said['text'])}", card=worker.spec.card))
            case "void":
                self.void = self.void or plain(said["text"])
            case "unchecked":
                self.unchecked = self.unchecked or f"{worker.name}: {plain(said['text'])}"
            case "golden":
                self.results.append(Result(said["made_with"], said["name"], said["digest"], worker.spec.worker))
                self._compare_cores(said["name"], at_s)
            case "mismatch":
                fields = {key: value for key, value in said.items() if key != "say"}
                told = {**fields, "kind": MismatchKind(fields["kind"]), "where": plain(fields["where"])}
                self._wrong(worker, Mismatch(**{**told, "drawn": _drawn(fields["drawn"])}))
            case "done":
                worker.done = True
                self._come_to(worker, said)
                worker.lane = replace(worker.lane, doing="done")
                if not self.ended_by_it:
                    # Who has said why it cannot go on may leave.
                    self._find(_too_soon(worker))

    def ended(self, worker: Worker) -> None:
        """A worker that closed its line without saying ``done`` has died: that is a finding."""
        worker.process.wait()
        if not worker.done:
            worker.done = True
            self._find(death(worker))

    def listened(self, seconds: float) -> None:
        """So much time went by since workers were listened to last; who is silent too long is hung, or was kept from
        its core. Who has spoken meanwhile has been heard by now.
        """
        for worker in self.workers:
            if not worker.done:
                worker.silent_s += min(seconds, MOST_LISTENED_S)
                self._find(silence(worker))

    def unanswered(self, worker: Worker, waited_s: float) -> None:
        """A worker that was asked to end, and has not told what it had come to."""
        if waited_s > SILENCE_S:
            self._find(
                WorkerFate(died=f"{worker.name} speaks, and did not end within {waited_s:.0f} s of being asked to")
            )
        else:
            self._find(WorkerFate(void=f"{worker.name} had no last word: what it did until then is not known"))

    def _find(self, found: WorkerFate) -> None:
        if found.died and not self.died:
            self.lost_card = found.card
        self.died, self.void = self.died or found.died, self.void or found.void

    def _come_to(self, worker: Worker, said: dict[str, Any]) -> None:
        worker.worked_s, worker.asked_s, worker.stood_s = said["at_s"], said["of_s"], said["stood_s"]
        worker.lane = replace(
            worker.lane,
            laps=said["laps"],
            rate=said["rate"],
            errors=said["errors"],
            verified_at_s=said["at_s"],
            covered=said["covered"],
        )
        before = worker.moved
        worker.ran(said["core"])
        if worker.moved and not before:
            self._on_note(f"{worker.name} was moved: it runs on core {worker.lane.core}, and that is what counts")

    def _wrong(self, worker: Worker, found: Mismatch) -> None:
        load, core = worker.spec.plan.kind, None if found.card is not None else worker.spec.core
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
            where = f"first {result.name} on {who.spec.on} is not {others}"
            kind_of = MismatchKind.COMPUTED
            self._wrong(who, Mismatch(who.spec.worker, at_s, 1, 0, expected, read, read, kind_of, where))


def _drawn(told: dict[str, Any] | None) -> Drawn | None:
    """Where in a picture a pixel is wrong, as a worker says it."""
    if told is None:
        return None
    tile = told["tile"]
    return Drawn(**{**told, "tile": None if tile is None else Tile(**tile)})


def _too_soon(worker: Worker) -> WorkerFate:
    """What it means that a worker ends: nothing when it was asked to, has done its laps, or found something."""
    plan, lane = worker.spec.plan, worker.lane
    if worker.told_stop or lane.errors or (plan.laps is not None and lane.laps >= plan.laps):
        return WorkerFate()
    return WorkerFate(died=f"{worker.name} ended by itself, before it was asked to")
