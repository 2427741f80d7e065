"""What everything that is known says of each cause and pair: logarithms of likelihoods over the grid."""

from collections.abc import Iterator

import numpy as np

from tenaz.core.base.outcomes import Outcome
from tenaz.finding.causes import CauseKind
from tenaz.finding.grid import Grid, Numbers
from tenaz.finding.learnt import chance, strain_of
from tenaz.finding.maps import side_likelihoods
from tenaz.finding.sightings import WORTH_READING_S, FaultSighting, core_blamed, heat_key, print_key, sag_key
from tenaz.finding.symptoms import Symptom

SEAT_FOLDS, SEAT_CHANCES = (-2.0, 0.0, 2.0), (0.25, 0.5, 0.25)
"""A module that is set too hard does better or worse in another slot, and beside others."""
STRAY_PER_H = 3e-4
"""Failures of a sound rig, and of what nobody thought of."""
OTHER_UNSEEN = 3e-4
MISTOLD = 0.1
"""Part of what is told that another fault would have been told of as well."""
TOLD_PART = 0.75
"""Symptoms go together: each counts for less than if it had come alone."""
NO_START = {CauseKind.HARD_MEMORY: 0.08, CauseKind.SLOT: 0.03, CauseKind.CONTACT: 0.03, CauseKind.BOARD: 0.02}
OTHER_NO_START = 0.003
"""Chances that a start fails, by cause: the trade's order of magnitude, not learnt."""
CLEAN_SCATTER, CLEANED_FOLDS, CLEANED_SCATTER = 0.08, -0.7, 0.35
"""What cleaning does to the kelvins a watt, as natural logarithms: to a clean cooler, and to a dusty one."""
TOLD, SENSED, SIDES = "what was told", "what sensors told", "where values lay"


class FaultEvidence:
    """Of all that is known, one thing after the other."""

    def __init__(self, grid: Grid) -> None:
        self._grid, self._known, self._table = grid, grid.known, grid.table
        self.by_map: Numbers = np.zeros((len(grid.first), 1))
        """Chances of maps from address to channel, by pair; once where values lay was looked at."""

    def terms(self) -> Iterator[tuple[FaultSighting | str, Numbers]]:
        """Logarithms of likelihoods."""
        if self._known.symptoms:
            yield TOLD, self._told()[:, None, None]
        for one in self._known.sightings:
            yield one, self._seen(one)
        yield SENSED, self._sensed()[:, None, None]
        yield SIDES, self._sides()[:, None, None]

    # -- what was told and sensed ----------------------------------------

    def _told(self) -> Numbers:
        """By the symptoms: of two causes either may bring one about."""
        found, first = np.zeros(len(self._grid.first)), self._known.fittings[0]
        sound = self._table.kinds[CauseKind.NOTHING]
        # What could not make itself felt as the parts stood then has not brought the rig here.
        told_by = zip(self._grid.causes, self._grid.tables, strict=True)
        tables = [table if cause.acts_in(first) else sound for cause, table in told_by]
        for symptom in Symptom:
            usual = sum(one.prior * one.symptoms.get(symptom, 0.0) for one in self._table.kinds.values())
            said = [one.symptoms.get(symptom, 0.0) * (1 - MISTOLD) + usual * MISTOLD for one in tables]
            has = self._grid.either([min(0.98, max(0.004, one)) for one in said])
            found += np.log(has if symptom in self._known.symptoms else 1 - has)
        return found * TOLD_PART

    def _sensed(self) -> Numbers:
        """By heat and by the supply's rail: once for each way that cooler and supply stood."""
        found, heats = np.zeros(len(self._grid.first)), len(self._table.looks("heat"))
        before, supplies = dict[int, float](), dict[int, list[FaultSighting]]()
        for one in self._known.sightings:
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
                found += self._by_part(CauseKind.SUPPLY, several[0], "sag", sag, len(self._table.looks("sag")))
        return found

    def _cleaned(self, after_k_per_w: float, before_k_per_w: float) -> Numbers:
        """By what cleaning did: nothing to a cooler that was clean."""
        folds = float(np.log(max(after_k_per_w, 1e-3) / max(before_k_per_w, 1e-3)))
        same = _log_normal(folds, 0.0, CLEAN_SCATTER)
        better = _log_normal(folds, CLEANED_FOLDS, CLEANED_SCATTER)
        acts = self._grid.is_one([one.kind is CauseKind.COOLER for one in self._grid.causes])
        return np.asarray(np.where(acts, better, same))

    def _by_part(self, kind: CauseKind, one: FaultSighting, table: str, key: str, keys: int) -> Numbers:
        """Chance of a reading with one cause that changes it, and with all others."""
        usual = np.log(chance(getattr(self._table.kinds[CauseKind.NOTHING], table), key, keys))
        changed = np.log(chance(getattr(self._table.kinds[kind], table), key, keys))
        acts = self._grid.is_one([cause.kind is kind and cause.acts_in(one.fitting) for cause in self._grid.causes])
        return np.asarray(np.where(acts, changed, usual))

    # -- what trials showed ----------------------------------------

    def _seen(self, one: FaultSighting) -> Numbers:
        """Logarithm of the likelihood of one trial, by (pair, severity, severity)."""
        if one.outcome is Outcome.NO_BOOT:
            return self._no_start(one)[:, None, None]
        unseen = self._unseen(one)[:, None, None]
        if not one.outcome.machine_went_down and not one.failed and one.seconds <= 0:
            return unseen
        if one.fitting.modules == self._known.fittings[0].modules:
            return unseen + self._under_load(one, 0.0)
        # In other places what is set too hard has another edge: nobody knows which way.
        ways = [
            np.log(part) + self._under_load(one, folds) for folds, part in zip(SEAT_FOLDS, SEAT_CHANCES, strict=True)
        ]
        return np.asarray(unseen + np.logaddexp.reduce(np.array(ways), axis=0))

    def _no_start(self, one: FaultSighting) -> Numbers:
        """By a start that failed."""
        fails = [NO_START.get(cause.kind, OTHER_NO_START) * cause.acts_in(one.fitting) for cause in self._grid.causes]
        return np.asarray(np.log(self._grid.either(fails, OTHER_NO_START)))

    def _under_load(self, one: FaultSighting, seat_folds: float) -> Numbers:
        """The same of the load alone, with memory that is set too hard so many e-folds worse than it was."""
        at = one.clean_s
        expected, now = self._grid.hazards(one.fitting, one.ran, one.eased, at)
        if seat_folds:
            worse = np.where(self._grid.hard_memory, np.exp(seat_folds), 1.0)[:, None]
            expected, now = expected * worse, now * worse
        log = (
            -(expected[self._grid.first][:, :, None] + expected[self._grid.second][:, None, :])
            - STRAY_PER_H * at / 3600
        )
        if not one.failed:
            return np.asarray(log)
        looks = self._looks(one)
        rate = (now[self._grid.first] * looks[self._grid.first][:, None])[:, :, None]
        rate = rate + (now[self._grid.second] * looks[self._grid.second][:, None])[:, None, :]
        return np.asarray(log + np.log(rate + STRAY_PER_H * looks[-1]))

    def _looks(self, one: FaultSighting) -> Numbers:
        """Chance that a failure of each cause ends so and leaves that; last: of a stray one."""
        return self._grid.chances_of(
            one.ran[0], one.outcome.value, print_key(one.wrong), core_blamed(one.wrong), one.fitting
        )

    def _unseen(self, one: FaultSighting) -> Numbers:
        """By the modules that the firmware saw at the start of the trial, and did not see."""
        found = np.zeros(len(self._grid.first))
        if len(one.fitting.fitted) < 2:
            return found
        for slot in one.fitting.fitted:
            hides = [0.0] * len(self._grid.causes)
            for at, (cause, table) in enumerate(zip(self._grid.causes, self._grid.tables, strict=True)):
                if cause.kind in (CauseKind.SLOT, CauseKind.CONTACT) and cause.place == slot.slot:
                    seated = one.fitting.seated(slot.slot) > self._known.fittings[0].seated(slot.slot)
                    hides[at] = table.unseen * (0.1 if seated and cause.kind is CauseKind.CONTACT else 1.0)
            hidden = self._grid.either(hides, OTHER_UNSEEN)
            found += np.log(hidden if slot.slot in one.unseen else 1 - hidden)
        return found

    def _sides(self) -> Numbers:
        """By where wrong values lie, as far as the map from address to channel can be learnt."""
        by_map = side_likelihoods(
            self._grid.causes, self._grid.first, self._grid.second, self._known.sightings, self._usual_rates
        )
        self.by_map = np.exp(by_map - np.logaddexp.reduce(by_map, axis=1, keepdims=True))
        return np.asarray(np.logaddexp.reduce(by_map, axis=1))

    def _usual_rates(self, one: FaultSighting) -> Numbers:
        return np.asarray(np.exp(self._grid.log_rates(one.fitting, one.ran, one.eased)).mean(axis=1))


def _log_normal(x: float, mean: float, scatter: float) -> float:
    """Logarithm of the density, with a little left for what nobody thought of."""
    return float(np.logaddexp(-0.5 * ((x - mean) / scatter) ** 2 - np.log(scatter), -5.0))
