"""What may be at fault, how sure: every cause and every pair of causes, weighed by all that was seen.

Each cause has a severity, unknown. Under a load a cause fails at its rate while it can make
itself felt as the parts stand; of two causes the rates add. A load that held speaks by the failures that were to be
expected and did not come (exponential times to failure, after warming up); one that failed by its time, its end, and
what it left. Exact over all of these: Bayes' rule on a grid.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tenaz.core.fitting import Fitting
from tenaz.core.load_kinds import LoadKind
from tenaz.core.loading import MismatchKind
from tenaz.core.outcomes import Outcome
from tenaz.core.works import PartState
from tenaz.finding.causes import NOTHING, OF_CELLS, Cause, CauseKind, Suspect, causes_of
from tenaz.finding.learnt import (
    ENDS,
    LOADS,
    SEVERITIES,
    KindTable,
    Learnt,
    chance,
    effective_h,
    learnt,
    rates,
    strain_of,
)
from tenaz.finding.maps import map_in_words, side_likelihoods
from tenaz.finding.sightings import WORTH_READING_S, Ran, Sighting, heat_key, print_key, sag_key
from tenaz.finding.symptoms import Symptom

Numbers = NDArray[np.float64]

WITHOUT_WEAKEST = 2.5
"""What is set too hard shows on the weakest module or core first: without it, failures are so many e-folds fewer."""
SEAT_FOLDS, SEAT_CHANCES = (-2.0, 0.0, 2.0), (0.25, 0.5, 0.25)
"""A module that is set too hard does better or worse in another slot, and beside others."""
STRAY_PER_H = 3e-4
"""Failures of a sound rig, and of what nobody thought of."""
OTHER_UNSEEN = 3e-4
MISTOLD = 0.1
"""Part of what is told that another fault would have been told of as well."""
TOLD_PART = 0.75
"""Symptoms go together: each counts for less than if it had come alone."""
TRUSTED = {PartState.GOOD: 0.05, PartState.SUSPECT: 2.0, PartState.BAD: 200.0}
"""What a label does to the chance that a part had before anything was seen: whoever wrote it may be wrong."""
NO_START = {CauseKind.HARD_MEMORY: 0.08, CauseKind.SLOT: 0.03, CauseKind.CONTACT: 0.03, CauseKind.BOARD: 0.02}
OTHER_NO_START = 0.003
"""Chances that a start fails, by cause: the trade's order of magnitude, not learnt."""
OF_CORES = (CauseKind.CORE, CauseKind.HARD_CORES)
OTHERS_BLAMED = {CauseKind.CORE: 0.02, CauseKind.HARD_CORES: 0.25}
"""Part of wrong results that any core is blamed for: of a weak one, and of cores that are all set too hard."""
PRIOR, TOLD, SENSED, SIDES = "before anything was known", "what was told", "what sensors told", "where values lay"


CLEAN_SCATTER, CLEANED_FOLDS, CLEANED_SCATTER = 0.08, -0.7, 0.35
"""What cleaning does to the kelvins a watt, as natural logarithms: to a clean cooler, and to a dusty one."""


@dataclass(frozen=True, slots=True)
class Known:
    """What a judgement is made of: how the parts stood at first and after each piece of work, cores, what was told,
    what was seen, and what somebody who knows more wrote on a part.
    """

    fittings: tuple[Fitting, ...]
    cores: int
    symptoms: tuple[Symptom, ...] = ()
    sightings: tuple[Sighting, ...] = ()
    trusted: tuple[tuple[Suspect, PartState], ...] = ()


class Belief:
    """Weights over causes and pairs; made anew from all that is known."""

    def __init__(self, known: Known, table: Learnt | None = None) -> None:
        self.known = known
        self.table = table or learnt()
        self.causes = causes_of(known.fittings, known.cores, self.table.prior)
        self._tables: list[KindTable] = [self.table.kinds[one.kind] for one in self.causes]
        self._rates = np.array([[rates(table, kind) for table in self._tables] for kind in LOADS])
        self._of_cells = np.array([one.kind in OF_CELLS for one in self.causes])
        self._hard_memory = np.array([one.kind is CauseKind.HARD_MEMORY for one in self.causes] + [False])
        self._cores = np.array([int(one.place) if one.kind in OF_CORES else -1 for one in self.causes])
        self._hard_cores = np.array([one.kind is CauseKind.HARD_CORES for one in self.causes])
        self._shifted: dict[tuple[Fitting, tuple[str, ...]], Numbers] = {}
        self._pairs()
        self.parts = tuple(dict.fromkeys(one.suspect for one in self.causes))
        of = [self.parts.index(one.suspect) for one in self.causes] + [-1]
        by_cause = np.array(of)
        self._of_parts = [
            (by_cause[self.first] == number) | (by_cause[self.second] == number) for number in range(len(self.parts))
        ]
        severe = np.log(np.array([one.chances for one in self._tables] + [(1.0,) + (0.0,) * (SEVERITIES - 1)]) + 1e-300)
        log = np.log(self._prior)[:, None, None] + severe[self.first][:, :, None] + severe[self.second][:, None, :]
        self.trail: list[tuple[Sighting | str, Numbers]] = [(PRIOR, self._odds(log))]
        """After each thing that is known, the logarithms of the odds of each cause's part: what speaks for which."""
        for what, term in self._terms():
            log = log + term
            self.trail.append((what, self._odds(log)))
        self.weights: Numbers = _normal(log)

    def _terms(self) -> Iterator[tuple[Sighting | str, Numbers]]:
        """Logarithms of likelihoods, one thing after the other."""
        if self.known.symptoms:
            yield TOLD, self._told()[:, None, None]
        for one in self.known.sightings:
            yield one, self._seen(one)
        yield SENSED, self._sensed()[:, None, None]
        yield SIDES, self._sides()[:, None, None]

    def _odds(self, log: Numbers) -> Numbers:
        by_pair = _normal(log).sum(axis=(1, 2))
        found = np.array([by_pair[mask].sum() for mask in self._of_parts])
        return np.asarray(np.log(np.maximum(found, 1e-12)) - np.log(np.maximum(1 - found, 1e-12)))

    # -- what there is to weigh ----------------------------------------

    def _pairs(self) -> None:
        """Every cause alone (the second is none: number of causes), and every two that are not of one part."""
        count = len(self.causes)
        trusted = {suspect: TRUSTED.get(state, 1.0) for suspect, state in self.known.trusted}
        singles = np.array([one.weight * trusted.get(one.suspect, 1.0) for one in self.causes])
        singles = singles / singles.sum()
        first, second, prior = [np.arange(count)], [np.full(count, count)], [singles * (1 - self.table.two_faults)]
        faulty = [place for place, one in enumerate(self.causes) if one.kind is not CauseKind.NOTHING]
        pairs = [
            (a, b)
            for place, a in enumerate(faulty)
            for b in faulty[place + 1 :]
            if _go_together(self.causes[a], self.causes[b])
        ]
        if pairs:
            a, b = np.array(pairs).T
            weight = singles[a] * singles[b]
            first.append(a)
            second.append(b)
            prior.append(weight / weight.sum() * self.table.two_faults)
        self.first, self.second = np.concatenate(first), np.concatenate(second)
        self._prior = np.concatenate(prior)

    # -- what was told and sensed ----------------------------------------

    def _told(self) -> Numbers:
        """By the symptoms: of two causes either may bring one about."""
        if not self.known.symptoms:
            return np.zeros(len(self.first))
        found, first, sound = np.zeros(len(self.first)), self.known.fittings[0], self.table.kinds[CauseKind.NOTHING]
        # What could not make itself felt as the parts stood then has not brought the rig here.
        told_by = zip(self.causes, self._tables, strict=True)
        tables = [table if cause.acts_in(first) else sound for cause, table in told_by]
        for symptom in Symptom:
            usual = sum(one.prior * one.symptoms.get(symptom, 0.0) for one in self.table.kinds.values())
            said = [one.symptoms.get(symptom, 0.0) * (1 - MISTOLD) + usual * MISTOLD for one in tables]
            by = np.array([min(0.98, max(0.004, one)) for one in said] + [0.0])
            has = 1 - (1 - by[self.first]) * (1 - by[self.second])
            found += np.log(has if symptom in self.known.symptoms else 1 - has)
        return found * TOLD_PART

    def _sensed(self) -> Numbers:
        """By heat and by the supply's rail: once for each way that cooler and supply stood."""
        found, heats = np.zeros(len(self.first)), len(self.table.looks("heat"))
        before, supplies = dict[int, float](), dict[int, list[Sighting]]()
        for one in self.known.sightings:
            if one.seconds < WORTH_READING_S:
                continue
            supplies.setdefault(one.fitting.supplies, []).append(one)
            heat, warms = heat_key(one.sensed), strain_of(one.ran[0].kind) == "cores"
            if not heat or not warms or "cores" in one.eased or one.fitting.cleanings in before:
                continue
            if before:
                found += self._cleaned(one.sensed.k_per_w or 1.0, next(iter(before.values())))
            else:
                found += self._by_part(CauseKind.COOLER, one, "heat", heat, heats)
            before[one.fitting.cleanings] = one.sensed.k_per_w or 1.0
        for several in supplies.values():
            if sag := sag_key([one.sensed for one in several]):
                found += self._by_part(CauseKind.SUPPLY, several[0], "sag", sag, len(self.table.looks("sag")))
        return found

    def _cleaned(self, after_k_per_w: float, before_k_per_w: float) -> Numbers:
        """By what cleaning did: nothing to a cooler that was clean."""
        folds = float(np.log(max(after_k_per_w, 1e-3) / max(before_k_per_w, 1e-3)))
        same = _log_normal(folds, 0.0, CLEAN_SCATTER)
        better = _log_normal(folds, CLEANED_FOLDS, CLEANED_SCATTER)
        acts = np.array([one.kind is CauseKind.COOLER for one in self.causes] + [False])
        return np.asarray(np.where(acts[self.first] | acts[self.second], better, same))

    def _by_part(self, kind: CauseKind, one: Sighting, table: str, key: str, keys: int) -> Numbers:
        """Chance of a reading with one cause that changes it, and with all others."""
        usual = np.log(chance(getattr(self.table.kinds[CauseKind.NOTHING], table), key, keys))
        changed = np.log(chance(getattr(self.table.kinds[kind], table), key, keys))
        acts = np.array([cause.kind is kind and cause.acts_in(one.fitting) for cause in self.causes] + [False])
        return np.asarray(np.where(acts[self.first] | acts[self.second], changed, usual))

    # -- what trials showed ----------------------------------------

    def log_rates(self, fitting: Fitting, ran: Sequence[Ran], eased: Sequence[str]) -> Numbers:
        """Logarithms of failures an hour by (cause, severity), of loads side by side; far below where none can be."""
        stands = fitting, tuple(eased)
        if stands not in self._shifted:
            self._shifted[stands] = self._shifts(fitting, eased)
        shifts = self._shifted[stands]
        found = np.full((len(self.causes) + 1, SEVERITIES), -60.0)
        for one in ran:
            met = np.where(self._of_cells, np.log(max(0.01, one.share) / 0.9), 0.0)
            if one.cores:
                # Of cores that take turns each has more of them when there are fewer.
                turns = np.log(self.known.cores / len(one.cores)) if one.kind.declared.takes_turns else 0.0
                idle = np.where(self._hard_cores, -WITHOUT_WEAKEST, -60.0)
                met = met + np.where(self._cores >= 0, np.where(np.isin(self._cores, one.cores), turns, idle), 0.0)
            rates_of = self._rates[LOADS.index(one.kind)] + shifts + met[:, None]
            found[:-1] = np.logaddexp(found[:-1], rates_of)
        return np.asarray(np.maximum(found, -60.0))

    def _shifts(self, fitting: Fitting, eased: Sequence[str]) -> Numbers:
        """What the way in which the parts stand adds to the logarithm of a rate, by (cause, severity)."""
        first = self.known.fittings[0]
        helps = [
            *eased,
            *(["fan"] if fitting.fan else []),
            *(["alone"] if len(fitting.fitted) < len(first.fitted) else []),
        ]
        found = np.full((len(self.causes), SEVERITIES), -60.0)
        for place, (cause, table) in enumerate(zip(self.causes, self._tables, strict=True)):
            if cause.kind is CauseKind.NOTHING or not cause.acts_in(fitting):
                continue
            folds = sum((np.array(table.reliefs[help_]) for help_ in helps), np.zeros(SEVERITIES))
            if _weakest_gone(cause, fitting):
                folds = folds + WITHOUT_WEAKEST
            if cause.kind is CauseKind.CONTACT:
                seated = fitting.seated(cause.place) - first.seated(cause.place)
                folds = folds + np.array(table.reliefs["reseat"]) * seated
            found[place] = -folds
        return found

    def hazards(
        self, fitting: Fitting, ran: Sequence[Ran], eased: Sequence[str], seconds: float
    ) -> tuple[Numbers, Numbers]:
        """Failures expected by a time, and failures an hour then, by (cause, severity)."""
        log = np.exp(self.log_rates(fitting, ran, eased))
        kind = ran[0].kind
        spans = np.array([effective_h(table, kind, seconds) for table in self._tables] + [(0.0, 0.0)])
        return log * spans[:, :1], log * spans[:, 1:]

    def spans(self, kind: LoadKind, seconds: float) -> Numbers:
        """Hours at its full rate that a load counts as, by cause."""
        by_kind = {kind_: effective_h(table, kind, seconds)[0] for kind_, table in self.table.kinds.items()}
        return np.array([by_kind[one.kind] for one in self.causes] + [0.0])

    def _seen(self, one: Sighting) -> Numbers:
        """Logarithm of the likelihood of one trial, by (pair, severity, severity)."""
        if one.outcome is Outcome.NO_BOOT:
            return self._no_start(one)[:, None, None]
        unseen = self._unseen(one)[:, None, None]
        if not one.outcome.machine_went_down and not one.failed and one.seconds <= 0:
            return unseen
        if one.fitting.modules == self.known.fittings[0].modules:
            return unseen + self._under_load(one, 0.0)
        # In other places what is set too hard has another edge: nobody knows which way.
        ways = [
            np.log(part) + self._under_load(one, folds) for folds, part in zip(SEAT_FOLDS, SEAT_CHANCES, strict=True)
        ]
        return np.asarray(unseen + np.logaddexp.reduce(np.array(ways), axis=0))

    def _no_start(self, one: Sighting) -> Numbers:
        """By a start that failed."""
        fails = [NO_START.get(cause.kind, OTHER_NO_START) * cause.acts_in(one.fitting) for cause in self.causes] + [0.0]
        by = np.array(fails)
        return np.asarray(np.log(1 - (1 - by[self.first]) * (1 - by[self.second]) * (1 - OTHER_NO_START)))

    def _under_load(self, one: Sighting, seat_folds: float) -> Numbers:
        """The same of the load alone, with memory that is set too hard so many e-folds worse than it was."""
        at = one.seconds if one.failed_after_s is None else one.failed_after_s
        expected, now = self.hazards(one.fitting, one.ran, one.eased, at)
        if seat_folds:
            worse = np.where(self._hard_memory, np.exp(seat_folds), 1.0)[:, None]
            expected, now = expected * worse, now * worse
        log = -(expected[self.first][:, :, None] + expected[self.second][:, None, :]) - STRAY_PER_H * at / 3600
        if not one.failed:
            return np.asarray(log)
        looks = self._looks(one)
        rate = (now[self.first] * looks[self.first][:, None])[:, :, None]
        rate = rate + (now[self.second] * looks[self.second][:, None])[:, None, :]
        return np.asarray(log + np.log(rate + STRAY_PER_H * looks[-1]))

    def _looks(self, one: Sighting) -> Numbers:
        """Chance that a failure of each cause ends so and leaves that; last: of a stray one."""
        return self.chances_of(one.ran[0], one.outcome.value, print_key(one.wrong), _core_blamed(one), one.fitting)

    def chances_of(self, ran: Ran, end: str, key: str, core: int | None, fitting: Fitting) -> Numbers:
        """The same, of an end and a print."""
        strain, keys = strain_of(ran.kind), len(self.table.looks("prints"))
        place = next((at for at, other in enumerate(ENDS) if other.value == end), None)
        cores_on = max(1, self.known.cores - len(fitting.cores_off))
        found = np.empty(len(self.causes) + 1)
        for at, (cause, table) in enumerate(zip(self.causes, self._tables, strict=True)):
            ends = table.ends[strain]
            found[at] = 0.02 if place is None else (ends[place] + 0.01) / (sum(ends) + 0.03)
            if end == ENDS[0].value and strain == "memory" and key != "none":
                found[at] *= chance(table.prints, key, keys)
            if core is not None:
                other = OTHERS_BLAMED.get(cause.kind)
                if other is None:
                    found[at] /= cores_on
                else:
                    found[at] *= other / cores_on + (1 - other) * (int(cause.place) == core)
        found[-1] = 1 / 3 / (keys if end == ENDS[0].value and strain == "memory" else 1)
        found[-1] /= cores_on if core is not None else 1
        return found

    def _unseen(self, one: Sighting) -> Numbers:
        """By the modules that the firmware saw at the start of the trial, and did not see."""
        found = np.zeros(len(self.first))
        if len(one.fitting.fitted) < 2:
            return found
        for slot in one.fitting.fitted:
            hides = np.full(len(self.causes) + 1, 0.0)
            for at, (cause, table) in enumerate(zip(self.causes, self._tables, strict=True)):
                if cause.kind in (CauseKind.SLOT, CauseKind.CONTACT) and cause.place == slot.slot:
                    seated = one.fitting.seated(slot.slot) > self.known.fittings[0].seated(slot.slot)
                    hides[at] = table.unseen * (0.1 if seated and cause.kind is CauseKind.CONTACT else 1.0)
            hidden = 1 - (1 - hides[self.first]) * (1 - hides[self.second]) * (1 - OTHER_UNSEEN)
            found += np.log(hidden if slot.slot in one.unseen else 1 - hidden)
        return found

    def _sides(self) -> Numbers:
        """By where wrong values lie, as far as the map from address to channel can be learnt."""
        by_map = side_likelihoods(self.causes, self.first, self.second, self.known.sightings, self._usual_rates)
        self._by_map = np.exp(by_map - np.logaddexp.reduce(by_map, axis=1, keepdims=True))
        return np.asarray(np.logaddexp.reduce(by_map, axis=1))

    def _usual_rates(self, one: Sighting) -> Numbers:
        return np.asarray(np.exp(self.log_rates(one.fitting, one.ran, one.eased)).mean(axis=1))

    # -- what comes out ----------------------------------------

    @cached_property
    def by_pair(self) -> Numbers:
        """Chance of each pair, severities summed up."""
        return np.asarray(self.weights.sum(axis=(1, 2)))

    @property
    def address_map(self) -> str:
        """How addresses go to channels, where that was learnt."""
        return map_in_words(self.by_pair @ self._by_map)

    @cached_property
    def by_cause(self) -> Numbers:
        """Chance that each cause is there."""
        count = len(self.causes) + 1
        found = np.bincount(self.first, self.by_pair, count) + np.bincount(self.second, self.by_pair, count)
        return np.asarray(found[:-1], dtype=np.float64)

    @cached_property
    def suspects(self) -> tuple[tuple[Suspect, float], ...]:
        """Chance that each part is at fault, likeliest first; with two faults both are."""
        found: dict[Suspect, float] = {}
        for cause, sure in zip(self.causes, self.by_cause.tolist(), strict=True):
            found[cause.suspect] = found.get(cause.suspect, 0.0) + sure
        return tuple(sorted(found.items(), key=lambda item: (-item[1], item[0].part, item[0].place)))

    def sure_of(self, suspect: Suspect) -> float:
        """Chance that one part is at fault."""
        return dict(self.suspects).get(suspect, 0.0)

    @property
    def nothing(self) -> float:
        """Chance that nothing that is looked at is at fault."""
        return self.sure_of(NOTHING)

    def kinds_of(self, suspect: Suspect) -> tuple[tuple[Cause, float], ...]:
        """What may be wrong with a part, likeliest first."""
        found = [(one, float(s)) for one, s in zip(self.causes, self.by_cause, strict=True) if one.suspect == suspect]
        return tuple(sorted(found, key=lambda item: -item[1]))


def _go_together(one: Cause, other: Cause) -> bool:
    """Whether two causes are weighed as a pair: not two of a kind or of a part, nor two about cores."""
    both = {one.kind, other.kind}
    return one.kind is not other.kind and one.suspect != other.suspect and not both <= {*OF_CORES}


def _weakest_gone(cause: Cause, fitting: Fitting) -> bool:
    """Whether what shows first that all is set too hard is not there."""
    if cause.kind is CauseKind.HARD_MEMORY:
        return not fitting.sitting(cause.place)
    return cause.kind is CauseKind.HARD_CORES and int(cause.place) in fitting.cores_off


def _log_normal(x: float, mean: float, scatter: float) -> float:
    """Logarithm of the density, with a little left for what nobody thought of."""
    return float(np.logaddexp(-0.5 * ((x - mean) / scatter) ** 2 - np.log(scatter), -5.0))


def _normal(log: Numbers) -> Numbers:
    weights = np.exp(log - log.max())
    return np.asarray(weights / weights.sum())


def _core_blamed(one: Sighting) -> int | None:
    """The core on which results were wrong; None where it is about memory, or nobody knows."""
    wrong = [m for m in one.wrong if m.kind in (MismatchKind.COMPUTED, MismatchKind.COMPARED) and m.core is not None]
    return wrong[0].core if wrong else None
