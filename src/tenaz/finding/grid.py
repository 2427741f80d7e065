"""What there is to weigh: every cause and every pair of causes by their severities, and how fast each fails when."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tenaz.core.loads.kinds import LoadKind
from tenaz.core.parts.fitting import Fitting
from tenaz.core.parts.works import PartState
from tenaz.finding.causes import OF_CELLS, Cause, CauseKind, Suspect, causes_of
from tenaz.finding.learnt import ENDS, SEVERITIES, WEIGHED, KindTable, Learnt, chance, effective_h, rates, strain_of
from tenaz.finding.sightings import FaultSighting, Ran
from tenaz.finding.symptoms import Symptom

Numbers = NDArray[np.float64]

WITHOUT_WEAKEST = 2.5
"""What is set too hard shows on the weakest module or core first: without it, failures are so many e-folds fewer."""
TRUSTED = {PartState.GOOD: 0.05, PartState.SUSPECT: 2.0, PartState.BAD: 200.0}
"""What a label does to the chance that a part had before anything was seen: whoever wrote it may be wrong."""
OF_CORES = (CauseKind.CORE, CauseKind.HARD_CORES)
OTHERS_BLAMED = {CauseKind.CORE: 0.02, CauseKind.HARD_CORES: 0.25}
"""Part of wrong results that any core is blamed for: of a weak one, and of cores that are all set too hard."""
NEVER = -60.0
"""The logarithm of a rate that is none."""


@dataclass(frozen=True, slots=True)
class KnownOfFaults:
    """What a judgement is made of: how the parts stood at first and after each piece of work, cores, what was told,
    what was seen, and what somebody who knows more wrote on a part.
    """

    fittings: tuple[Fitting, ...]
    cores: int
    symptoms: tuple[Symptom, ...] = ()
    sightings: tuple[FaultSighting, ...] = ()
    trusted: tuple[tuple[Suspect, PartState], ...] = ()


class Grid:
    """Arrays by cause end with one for none: the second of a cause that is weighed alone."""

    def __init__(self, known: KnownOfFaults, table: Learnt) -> None:
        self.known, self.table = known, table
        self.causes = causes_of(known.fittings, known.cores, table.prior)
        self.tables: list[KindTable] = [table.kinds[one.kind] for one in self.causes]
        self.hard_memory = np.array([one.kind is CauseKind.HARD_MEMORY for one in self.causes] + [False])
        self._rates = {kind: np.array([rates(one, kind) for one in self.tables]) for kind in WEIGHED}
        self._of_cells = np.array([one.kind in OF_CELLS for one in self.causes])
        self._cores = np.array([int(one.place) if one.kind in OF_CORES else -1 for one in self.causes])
        self._hard_cores = np.array([one.kind is CauseKind.HARD_CORES for one in self.causes])
        self._shifted: dict[tuple[Fitting, tuple[str, ...]], Numbers] = {}
        self._pairs()

    def prior(self) -> Numbers:
        """Logarithms of chances before anything is known, by (pair, severity, severity)."""
        none = (1.0,) + (0.0,) * (SEVERITIES - 1)
        severe = np.log(np.array([one.chances for one in self.tables] + [none]) + 1e-300)
        log = np.log(self._prior)[:, None, None] + severe[self.first][:, :, None]
        return np.asarray(log + severe[self.second][:, None, :])

    def either(self, by_cause: Sequence[float], stray: float = 0.0) -> Numbers:
        """Chance that either cause of a pair does something, or a stray one, by the chances that each does."""
        by = np.array([*by_cause, 0.0])
        return np.asarray(1 - (1 - by[self.first]) * (1 - by[self.second]) * (1 - stray))

    def is_one(self, by_cause: Sequence[bool]) -> NDArray[np.bool_]:
        """Whether one of a pair's causes is among these."""
        among = np.array([*by_cause, False])
        return np.asarray(among[self.first] | among[self.second])

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

    def log_rates(self, fitting: Fitting, ran: Sequence[Ran], eased: Sequence[str]) -> Numbers:
        """Logarithms of failures an hour by (cause, severity), of loads side by side; far below where none can be."""
        stands = fitting, tuple(eased)
        if stands not in self._shifted:
            self._shifted[stands] = self._shifts(fitting, eased)
        shifts = self._shifted[stands]
        found = np.full((len(self.causes) + 1, SEVERITIES), NEVER)
        for one in ran:
            met = np.where(self._of_cells, np.log(max(0.01, one.share) / 0.9), 0.0)
            if one.cores:
                # Of cores that take turns each has more of them when there are fewer.
                turns = np.log(self.known.cores / len(one.cores)) if one.kind.declared.takes_turns else 0.0
                idle = np.where(self._hard_cores, -WITHOUT_WEAKEST, NEVER)
                met = met + np.where(self._cores >= 0, np.where(np.isin(self._cores, one.cores), turns, idle), 0.0)
            rates_of = self._rates[one.kind] + shifts + met[:, None]
            found[:-1] = np.logaddexp(found[:-1], rates_of)
        return np.asarray(np.maximum(found, NEVER))

    def _shifts(self, fitting: Fitting, eased: Sequence[str]) -> Numbers:
        """What the way in which the parts stand adds to the logarithm of a rate, by (cause, severity)."""
        first = self.known.fittings[0]
        helps = [
            *eased,
            *(["fan"] if fitting.fan else []),
            *(["alone"] if len(fitting.fitted) < len(first.fitted) else []),
        ]
        found = np.full((len(self.causes), SEVERITIES), NEVER)
        for place, (cause, table) in enumerate(zip(self.causes, self.tables, strict=True)):
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
        spans = np.array([effective_h(table, kind, seconds) for table in self.tables] + [(0.0, 0.0)])
        return log * spans[:, :1], log * spans[:, 1:]

    def spans(self, kind: LoadKind, seconds: float) -> Numbers:
        """Hours at its full rate that a load counts as, by cause."""
        by_kind = {kind_: effective_h(table, kind, seconds)[0] for kind_, table in self.table.kinds.items()}
        return np.array([by_kind[one.kind] for one in self.causes] + [0.0])

    def chances_of(self, ran: Ran, end: str, key: str, core: int | None, fitting: Fitting) -> Numbers:
        """The same, of an end and a print."""
        strain, keys = strain_of(ran.kind), len(self.table.looks("prints"))
        place = next((at for at, other in enumerate(ENDS) if other.value == end), None)
        cores_on = max(1, self.known.cores - len(fitting.cores_off))
        found = np.empty(len(self.causes) + 1)
        for at, (cause, table) in enumerate(zip(self.causes, self.tables, strict=True)):
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


def _go_together(one: Cause, other: Cause) -> bool:
    """Whether two causes are weighed as a pair: not two of a kind or of a part, nor two about cores."""
    both = {one.kind, other.kind}
    return one.kind is not other.kind and one.suspect != other.suspect and not both <= {*OF_CORES}


def _weakest_gone(cause: Cause, fitting: Fitting) -> bool:
    """Whether what shows first that all is set too hard is not there."""
    if cause.kind is CauseKind.HARD_MEMORY:
        return not fitting.sitting(cause.place)
    return cause.kind is CauseKind.HARD_CORES and int(cause.place) in fitting.cores_off
