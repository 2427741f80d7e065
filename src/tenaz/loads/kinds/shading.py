"""``shade`` in a worker: a card's arithmetic there and back.

What it strains: the card's arithmetic units and their supply; hardly its memory. What goes forward must come back to
what it was, and half-way all workgroups must have what they had the first times, by majority.
"""

import hashlib
import time
from collections.abc import Iterator
from random import SystemRandom

from tenaz.core.loads.plan import MismatchKind
from tenaz.loads.graphics.arithmetic import WORKGROUP, Reckoned, Reckoner
from tenaz.loads.graphics.digests import FIRST_RUNS, agreed, differing, split
from tenaz.loads.graphics.opened import OpenCard
from tenaz.loads.graphics.working import on_card
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked, Plant, told
from tenaz.loads.worker import Line

GROUPS, SOFTWARE_GROUPS = 2048, 64
"""Workgroups of a submission: so many that every unit of a card has several to hide its waiting behind."""
SUBMISSION_S = 0.012
FIRST_ROUNDS, MOST_ROUNDS = 64, 1 << 16
SEEDS = 4
"""Numbers that submissions begin with, in turn."""


class Learnt:
    """What each workgroup must have half-way, by majority of the first runs."""

    def __init__(self, reckoner: Reckoner, rounds: int) -> None:
        self._reckoner, self.rounds = reckoner, rounds
        self.right: list[bytes] = []
        self.disagreed: list[tuple[int, int]] = []
        self.not_back: list[Reckoned] = []

    def learn(self) -> None:
        """Run all seeds some times."""
        for seed in range(SEEDS):
            runs: list[Reckoned] = []
            for _ in range(FIRST_RUNS):
                self._reckoner.run(self.rounds, seed, runs.append)
            self._reckoner.drain()
            right = agreed([one.digests for one in runs])
            self.right.append(right)
            self.disagreed += [(seed, place) for one in runs for place in differing(right, one.digests)]
            self.not_back += [one for one in runs if one.wrong]

    def name(self, seed: int) -> str:
        """Of its golden."""
        return f"shade {self._reckoner.groups}×{WORKGROUP}, {self.rounds} rounds, {seed}"


class Rounds:
    """Submissions and what is made of their answers."""

    def __init__(self, line: Line, learnt: Learnt) -> None:
        self._line, self._learnt, self.laps = line, learnt, 0

    def look(self, seed: int, found: Reckoned) -> None:
        """Tell what did not come back, and where half-way was not what it must be."""
        lap = self.laps + 1
        for one in found.not_back:
            words = (one.expected, one.read, one.read)
            self._line.wrong_on_card(
                lap, 0, words, MismatchKind.COMPUTED, f"numbers of lane {one.at} did not come back"
            )
        if found.wrong > len(found.not_back):
            self._line.more_wrong(found.wrong - len(found.not_back))
        right = self._learnt.right[seed]
        if found.digests != right:
            self._differ(lap, right, found.digests)

    def _differ(self, lap: int, right: bytes, digests: bytes) -> None:
        for place, (wanted, digest) in enumerate(zip(split(right), split(digests), strict=True)):
            if wanted != digest:
                words = (int.from_bytes(wanted, "little"), int.from_bytes(digest, "little"))
                where = f"digest half-way of workgroup {place}"
                self._line.wrong_on_card(lap, 0, (*words, words[1]), MismatchKind.COMPUTED, where)


def _run(card: OpenCard, spec: Spec, line: Line) -> float:
    """Until told to stop or until the laps are done; a lap is every seed once."""
    reckoner = Reckoner(card, GROUPS if card.card.own_memory else SOFTWARE_GROUPS)
    line.preparing(0.2)
    golden = Learnt(reckoner, FIRST_ROUNDS)
    golden.learn()
    line.preparing(0.5)
    learnt = Learnt(reckoner, _rounds(reckoner))
    learnt.learn()
    line.wait_for_go(address=0, bytes=0, locked=0)
    line.resting = reckoner.drain
    rounds = Rounds(line, learnt)
    for first in golden, learnt:
        for seed, place in first.disagreed:
            where = f"first digest half-way of workgroup {place}, numbers {seed}, is not what it was most times"
            line.wrong_on_card(1, 0, (1, 0, 0), MismatchKind.COMPUTED, where)
        for one in first.not_back:
            line.more_wrong(one.wrong - len(one.not_back))
            for lane in one.not_back:
                words = (lane.expected, lane.read, lane.read)
                line.wrong_on_card(1, 0, words, MismatchKind.COMPUTED, f"numbers of lane {lane.at} did not come back")
    for seed in range(SEEDS):
        digest = hashlib.sha256(golden.right[seed]).hexdigest()
        line.golden(golden.name(seed), digest, card.card.made_with)
    line.check_by(Checked(lambda luck: _plants(reckoner, learnt, luck)))
    submitted = 0
    while not line.stopping and rounds.laps != spec.plan.laps:
        seed = submitted % SEEDS
        reckoner.run(learnt.rounds, seed, lambda found, seed=seed: rounds.look(seed, found))  # type: ignore[misc]
        submitted += 1
        if submitted % SEEDS == 0:
            reckoner.drain()
            rounds.laps += 1
        line.worked(submitted / SEEDS, reckoner.operations(learnt.rounds), f"{learnt.rounds} rounds there and back")
    reckoner.drain()
    return float(rounds.laps)


def _rounds(reckoner: Reckoner) -> int:
    """So many rounds that a submission takes about as long as it should."""
    rounds = FIRST_ROUNDS
    while rounds < MOST_ROUNDS:
        began_s = time.monotonic()
        for _ in range(2):
            reckoner.run(rounds, 0, lambda _: None)
        reckoner.drain()
        if (time.monotonic() - began_s) / 2 > SUBMISSION_S / 2:
            return rounds
        rounds *= 2
    return rounds


def _plants(reckoner: Reckoner, learnt: Learnt, luck: SystemRandom) -> Iterator[Plant]:
    """A bit turned over half-way in one invocation: it must not come back, and its workgroup's digest must differ."""

    def plant() -> str:
        reckoner.drain()
        seed, lane = luck.randrange(SEEDS), luck.randrange(reckoner.groups * WORKGROUP)
        found: list[Reckoned] = []
        reckoner.run(learnt.rounds, seed, found.append, lane)
        reckoner.drain()
        groups = zip(split(learnt.right[seed]), split(found[0].digests), strict=True)
        differing = [place for place, pair in enumerate(groups) if pair[0] != pair[1]]
        # What else is wrong is the card's, and is found without being planted.
        seen = lane in [one.at // 4 for one in found[0].not_back] or found[0].wrong > len(found[0].not_back)
        return "" if seen and lane // WORKGROUP in differing else told(f"lane {lane} half-way", 0)

    yield plant


run = on_card(_run)
