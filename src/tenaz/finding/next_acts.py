"""What to do next: of all pieces of work and loads the one that tells most for a minute at the bench.

What a trial tells is the mutual information of who is at fault and how the trial ends: held, or failed with an end and
a print. Its minutes are those of the work, of the start, and of the load as far as it will come before it fails.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.parts.fitting import Fitting
from tenaz.core.trials.costs import Costs
from tenaz.finding.belief import Belief
from tenaz.finding.causes import CauseKind, Part
from tenaz.finding.easing import DOMAINS
from tenaz.finding.evidence import STRAY_PER_H
from tenaz.finding.grid import Numbers
from tenaz.finding.learnt import ENDS, strain_of
from tenaz.finding.sightings import WORTH_READING_S, Ran, heat_key, sag_key
from tenaz.finding.ways import Way, ways

SHARE = 0.9
LOADS = (LoadKind.MARCH, LoadKind.COPY, LoadKind.RETAIN, LoadKind.TRANSFORM, LoadKind.PULSE, LoadKind.SOLO)
LENGTHS_MIN = (5.0, 15.0, 40.0, 90.0)
MOST_CELLS, SMALLEST = 2500, 1e-5
"""So much of what may be is looked ahead with."""
CORE_WORTH = 0.05
ATTENTION_MIN = 2.0
"""What each trial takes of somebody's attention."""
TELLS_ONCE, TELLS_AGAIN, TELLS_RAIL = 0.8, 0.97, 0.95
"""How well sensors tell of a cooler, at first and against what it was before cleaning, and of a supply."""
PRINTS = 10
"""So many prints are told apart when it is looked ahead."""


@dataclass(frozen=True, slots=True)
class NextAct:
    """Work (as it is typed; none: nothing), clocks cut, and a load, with the minutes that it is expected to take, and
    the bits that it is expected to tell.
    """

    work: str
    fitting: Fitting
    eased: tuple[str, ...]
    load: Ran
    load_min: float
    minutes: float
    bits: float

    @property
    def rate(self) -> float:
        """Bits a minute."""
        return self.bits / self.minutes

    @property
    def worth(self) -> float:
        """Bits a minute, with what it takes of somebody's attention."""
        return self.bits / (self.minutes + ATTENTION_MIN)

    def show(self) -> str:
        """In a line."""
        cut = f"clock of {' and '.join(self.eased)} cut, " if self.eased else ""
        first = f"{self.work}, then " if self.work else ""
        cores = f" on core {', '.join(map(str, self.load.cores))}" if self.load.cores else ""
        return f"{first}{cut}{self.load.kind}{cores} for {self.load_min:.0f} min"


def next_acts(
    belief: Belief,
    now: Fitting,
    eased: tuple[str, ...] = (),
    costs: Costs | None = None,
    cuts: Sequence[str] = DOMAINS,
    share: float = SHARE,
) -> tuple[NextAct, ...]:
    """The best load for each way in which the parts can stand next, the one that tells most a minute first."""
    looking = _Looking(belief, costs or Costs(), share)
    found = [act for way in ways(belief, now, eased, cuts) if (act := looking.best(way)) is not None]
    return tuple(sorted(found, key=lambda one: -one.worth))


class _Looking:
    """Looks ahead with the likeliest pairs of causes."""

    def __init__(self, belief: Belief, costs: Costs, share: float) -> None:
        self._belief, self._costs, self._share = belief, costs, share
        # The likeliest of all (pair, severity, severity), those of one set of suspects next to each other.
        flat = belief.weights.ravel()
        cells = np.argsort(-flat)[:MOST_CELLS]
        pair, one, other = np.unravel_index(cells[flat[cells] > flat[cells[0]] * SMALLEST], belief.weights.shape)
        of = self._suspects_of(belief.grid.first[pair], belief.grid.second[pair])
        order = np.argsort(of, kind="stable")
        self._first, self._second = belief.grid.first[pair][order], belief.grid.second[pair][order]
        self._one, self._other = one[order], other[order]
        weights = belief.weights[pair, one, other][order]
        self._weights = weights / weights.sum()
        self._begins = np.flatnonzero(np.diff(of[order], prepend=-1))
        self._prints = _commonest_prints(belief)
        self._looks: dict[tuple[LoadKind, tuple[int, ...]], Numbers] = {}
        self._spans = {
            (kind, minutes): belief.grid.spans(kind, minutes * 60.0) for kind in LOADS for minutes in LENGTHS_MIN
        }

    def _suspects_of(self, first: NDArray[np.int64], second: NDArray[np.int64]) -> NDArray[np.int64]:
        """Which suspects each pair stands for, numbered."""
        names = [one.suspect.show() for one in self._belief.causes] + [""]
        sets = [tuple(sorted((names[a], names[b]))) for a, b in zip(first.tolist(), second.tolist(), strict=True)]
        numbers = {one: place for place, one in enumerate(dict.fromkeys(sets))}
        return np.array([numbers[one] for one in sets])

    def _looks_under(self, ran: Ran, fitting: Fitting) -> Numbers:
        """Chances of (cause, way to fail) under a load; the rest of all ways is the last."""
        key = (ran.kind, fitting.cores_off)
        if key not in self._looks:
            columns = []
            memory = strain_of(ran.kind) == "memory"
            for end in ENDS:
                if end is not Outcome.ERRED:
                    columns.append(self._belief.grid.chances_of(ran, end.value, "none", None, fitting))
                elif memory:
                    columns += [
                        self._belief.grid.chances_of(ran, end.value, print_, None, fitting) for print_ in self._prints
                    ]
                else:
                    columns += [
                        self._belief.grid.chances_of(ran, end.value, "computed", core, fitting)
                        for core in self._cores()
                    ]
            table = np.array(columns).T
            rest = np.maximum(0.0, 1.0 - table.sum(axis=1, keepdims=True))
            self._looks[key] = np.concatenate([table, rest], axis=1)
        return self._looks[key]

    def _loads(self, way: Way) -> list[Ran]:
        """Each kind over all of it; cores alone also those that are likeliest only, where some are."""
        found = [Ran(kind, self._share) for kind in LOADS]
        ranked = [(int(one.place), sure) for one, sure in self._belief.suspects if one.part is Part.CORE]
        likely = [core for core, sure in ranked if sure > CORE_WORTH and core not in way.fitting.cores_off]
        counts = {1, (len(likely) + 1) // 2, len(likely)} - {0, self._belief.known.cores}
        found += [Ran(LoadKind.SOLO, self._share, tuple(sorted(likely[:count]))) for count in sorted(counts)]
        return found

    def _readings(self, way: Way, kind: LoadKind) -> list[Numbers]:
        """By pair, the chance that sensors show what is not known yet: the heat after cleaning, the supply's rail."""
        found = list[Numbers]()
        seen = [one for one in self._belief.known.sightings if one.seconds >= WORTH_READING_S]
        warms = strain_of(kind) == "cores"
        heats = {
            one.fitting.cleanings for one in seen if heat_key(one.sensed) and strain_of(one.ran[0].kind) == "cores"
        }
        could = any(one.sensed.power_w is not None for one in seen) or not seen
        if could and warms and way.fitting.cleanings not in heats and "cores" not in way.eased:
            found.append(self._shown(CauseKind.COOLER, way, TELLS_AGAIN if heats else TELLS_ONCE))
        same = [one for one in seen if one.fitting.supplies == way.fitting.supplies]
        strains = {strain_of(one.ran[0].kind) for one in same}
        draws_more = kind is LoadKind.TRANSFORM and all(one.ran[0].kind is not kind for one in same)
        told = sag_key([one.sensed for one in same])
        if strains and (strain_of(kind) not in strains or draws_more) and not told:
            found.append(self._shown(CauseKind.SUPPLY, way, TELLS_RAIL))
        return found

    def _shown(self, kind: CauseKind, way: Way, tells: float) -> Numbers:
        causes = self._belief.causes
        first = way.fitting if kind is CauseKind.SUPPLY else self._belief.known.fittings[0]
        acts = np.array([one.kind is kind and one.acts_in(first) for one in causes] + [False])
        return np.where(acts[self._first] | acts[self._second], tells, 1 - tells)

    def _cores(self) -> list[int]:
        found = [int(one.place) for one, _ in self._belief.suspects if one.part is Part.CORE]
        return found[:4]

    def best(self, way: Way) -> NextAct | None:
        """The load and its length that tell most a minute there."""
        best: NextAct | None = None
        if not way.fitting.fitted:
            return None
        for ran in self._loads(way):
            kind = ran.kind
            log = np.exp(self._belief.grid.log_rates(way.fitting, (ran,), way.eased))
            looks = self._looks_under(ran, way.fitting)
            mine, others = log[self._first, self._one], log[self._second, self._other]
            share = mine / np.maximum(mine + others, 1e-30)
            ways = share[:, None] * looks[self._first] + (1 - share)[:, None] * looks[self._second]
            readings = self._readings(way, kind)
            for minutes in LENGTHS_MIN:
                bits, load_min = self._told(mine, others, ways, minutes, kind, readings)
                start = self._costs.boot_s / 60.0
                act = NextAct(way.work, way.fitting, way.eased, ran, minutes, way.minutes + start + load_min, bits)
                if best is None or act.worth > best.worth:
                    best = act
        return best

    def _told(
        self,
        mine: Numbers,
        others: Numbers,
        ways: Numbers,
        minutes: float,
        kind: LoadKind,
        readings: Sequence[Numbers],
    ) -> tuple[float, float]:
        """Bits, and the minutes of the load and of a crash."""
        spans, seconds = self._spans[kind, minutes], minutes * 60.0
        expected = mine * spans[self._first] + others * spans[self._second] + STRAY_PER_H * seconds / 3600
        holds = np.exp(-np.minimum(expected, 50.0))
        fails = (1 - holds) * self._weights
        joint = np.concatenate([(holds * self._weights)[:, None], fails[:, None] * ways], axis=1)
        for shows in readings:
            joint = np.concatenate([joint * shows[:, None], joint * (1 - shows[:, None])], axis=1)
        load_min = float((self._weights * (1 - holds) / expected).sum()) * seconds / 60.0
        crash = float(fails.sum()) * self._costs.crash_s / 60.0 * 0.5
        return _mutual_bits(np.add.reduceat(joint, self._begins, axis=0)), load_min + crash


def _mutual_bits(joint: Numbers) -> float:
    joint = joint / joint.sum()
    apart = joint.sum(axis=1, keepdims=True) * joint.sum(axis=0, keepdims=True)
    part = np.where(joint > 0, joint * np.log2(np.maximum(joint, 1e-300) / np.maximum(apart, 1e-300)), 0.0)
    return max(0.0, float(part.sum()))


def _commonest_prints(belief: Belief) -> tuple[str, ...]:
    counts: dict[str, float] = {}
    for one in belief.table.kinds.values():
        whole = sum(one.prints.values()) or 1.0
        for key, count in one.prints.items():
            counts[key] = counts.get(key, 0.0) + count / whole
    return tuple(sorted(counts, key=lambda key: -counts[key])[:PRINTS])
