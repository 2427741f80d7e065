"""How safe a setpoint is for its purpose: one verdict, from wherever it is asked, in three parts.

What the model says of the knobs that were moved; the same with all the ways in which few rigs fail; and failures that
no setting causes, of which only clean hours tell. *Safe* is what is shown in all three.

What holds a setpoint back is the worst of all lines through it on which a knob was moved, and of all loads that the
purpose asks for. It never depends on which knob is in hand, and what was never tried is not known.
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from weakref import WeakKeyDictionary

from tenaz.core.base.amounts import show_sure, to_digits
from tenaz.core.base.outcomes import Verdict
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.felt import asked_along
from tenaz.core.rigs.rig import Purpose, Rig, stock_strain
from tenaz.core.searches.search import TrialFacts, facts_of
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.margins.all_tails import AllTails, for_all_tails
from tenaz.margins.background import Background, background_of
from tenaz.margins.judging import Judgement, judge
from tenaz.margins.priors import prior_of
from tenaz.margins.warmest import WarmestDay, on_warmest_day

LONG_H = 1.0
A_WHILE_H, HARDLY_FAILS, MOST_FURTHER = 20 / 60, 0.15, 12
LEAST_VALUES = 2
"""A knob was moved where so many of its values were tried; from one alone nothing follows for others."""


NOTHING_CLEAN = Background(0.0)


@dataclass(frozen=True)
class AlongKnob:
    """One knob's line through a setpoint. ``judged`` is the load under which it is judged here: of those that were
    tried as far as this value the one that is least sure, else the one that ran most; ``under`` are all that were tried
    as far; ``trials`` the closed ones on the line.
    """

    knob: Knob
    value: int
    judged: Judgement
    under: Mapping[LoadKind, Judgement]
    trials: tuple[Trial, ...]

    @property
    def strain(self) -> int:
        """Of the value."""
        return self.knob.strain(self.value)

    @property
    def known(self) -> bool:
        """Whether it was tried as far as this value under any load that is judged."""
        return bool(self.under)

    def further(self, kind: LoadKind) -> tuple[int, float] | None:
        """Where a load tells how far its edge is: the hardest value past this one that held, easier than all that
        failed (where none did: that most likely holds for a while), and the hours for which it held there already; None
        where there is none, or where it ran there for long.
        """
        at = [(self.knob.strain(one.setpoint.number(self.knob.name)), one) for one in self.trials]
        failed = min((strain for strain, one in at if one.verdict is Verdict.FAIL), default=None)
        held = (strain for strain, one in at if one.verdict is Verdict.PASS and strain > self.strain)
        hardest = max((strain for strain in held if failed is None or strain < failed), default=None)
        if hardest is None:
            hardest = self._likely_to_hold(failed)
        if hardest is None:
            return None
        there = [one for strain, one in at if strain >= hardest and kind in one.plan.kinds]
        hours = sum(one.elapsed_s for one in there if one.verdict is Verdict.PASS) / 3600
        return None if hours >= LONG_H else (self.knob.at_strain(hardest), hours)

    def _likely_to_hold(self, failed: int | None) -> int | None:
        """The hardest value past this one that most likely holds for a while under the load that ran most."""
        ran = Counter(kind for one in self.trials for kind in one.plan.kinds).most_common(1)
        known = self.under.get(ran[0][0]) if ran else None
        most = self.knob.ends[1] if failed is None else failed - 1
        strains = range(self.strain + 1, min(most, self.strain + MOST_FURTHER) + 1)
        rates = known.rates(strains) if known is not None else ()
        return max((one.strain for one in rates if one.high * A_WHILE_H < HARDLY_FAILS), default=None)

    @property
    def sure(self) -> float:
        """How sure it is, by this line, that the purpose tolerates the value's failure rate."""
        return self.judged.edge.tolerated(self.strain)


@dataclass(frozen=True)
class Safety:
    """The verdict on a setpoint. ``unknown`` are loads that the purpose asks for and that were not tried as far as this
    on any line; ``failed`` says whether it failed itself.
    """

    setpoint: Setpoint
    purpose: Purpose
    lines: tuple[AlongKnob, ...]
    unknown: tuple[LoadKind, ...]
    tried: bool
    failed: bool
    background: Background = NOTHING_CLEAN
    warmest: WarmestDay | None = None
    """The least sure of its lines on the warmest day that the purpose names."""

    @property
    def held_back(self) -> AlongKnob | None:
        """The line that is least sure."""
        return min((one for one in self.lines if one.known), key=lambda one: one.sure, default=None)

    @property
    def sure(self) -> float | None:
        """How sure it is that its failure rate is tolerated; None where that is not known. What is not known can only
        make it less: what falls short already is told all the same.
        """
        worst = self.held_back
        if worst is None or (self.unknown and worst.sure >= self.purpose.tolerance.confidence):
            return None
        return worst.sure

    @cached_property
    def all_tails(self) -> AllTails | None:
        """The least sure of its lines with all the ways in which few rigs fail; None where the model falls short."""
        if not self.as_asked:
            return None
        found = [for_all_tails(judged, one.strain) for one in self.lines for judged in one.under.values()]
        return min(found, key=lambda one: one.sure, default=None)

    @property
    def safe(self) -> bool:
        """Whether all three parts are shown: by the model, by it with all tails, and that nothing else fails."""
        return self.as_asked and not self.not_shown

    @property
    def not_shown(self) -> tuple[str, ...]:
        """What the hours so far cannot show, and the hours that would; empty where the model itself falls short."""
        tails, tolerance = self.all_tails, self.purpose.tolerance
        if tails is None:
            return ()
        found = []
        if tails.sure < tolerance.confidence:
            found.append(f"that no flatter weakness lies below ({show_hours_more(tails.owed_h)} clean here)")
        if not self.background.shows(tolerance):
            owed = show_hours_more(self.background.owed_h(tolerance))
            found.append(f"that nothing else makes it fail ({owed} clean, here or in use)")
        if self.warmest is not None and self.warmest.sure < tolerance.confidence:
            found.append(_on_warmest_day(self.warmest))
        if self.warmest is None and self.purpose.warmest_room_c is not None:
            room = f"how warm the room is that it was tried in, for a day of {self.purpose.warmest_room_c:g} °C"
            found.append(f"{room} (the rig's form takes it)")
        return tuple(found)

    @property
    def as_asked(self) -> bool:
        """Whether the model is as sure as the purpose asks, and nothing failed here."""
        sure = self.sure
        return not self.failed and sure is not None and sure >= self.purpose.tolerance.confidence

    def under(self, kind: LoadKind) -> AlongKnob | None:
        """The line on which one load is least sure; None where it was tried on none as far as this."""
        with_it = [one for one in self.lines if kind in one.under]
        return min(with_it, key=lambda one: one.under[kind].edge.tolerated(one.strain), default=None)

    @property
    def figure(self) -> str:
        """Like ``92% sure by the model``, or that it is not known."""
        return "not known" if self.sure is None else f"{show_sure(self.sure)} sure by the model"

    @property
    def headline(self) -> str:
        """*Safe* only where all is shown."""
        return f"safe: {self.figure}" if self.safe else self.figure

    @property
    def why(self) -> str:
        """What holds it back, or what is not known of it."""
        worst = self.held_back
        if self.sure is not None and worst is not None:
            rest = f"; {_loads(self.unknown)} not tried" if self.unknown else ""
            rigs = worst.judged.prior.rigs
            known = f" (it begins with {rigs} rigs before)" if rigs else ""
            return f"held back by {worst.knob.label} under {worst.judged.kind}{known}{rest}"
        if worst is not None:
            return f"{_loads(self.unknown)} not tried as far"
        return "no knob was moved from here" if self.tried else "never tried"

    @property
    def brief(self) -> str:
        """The model's part in one line."""
        return f"{self.headline}, {self.why}" if self.sure is not None else f"{self.figure}: {self.why}"

    @property
    def words(self) -> str:
        """All of it in one line."""
        return f"{self.brief}; not shown: {'; '.join(self.not_shown)}" if self.not_shown else self.brief


def _on_warmest_day(warmest: WarmestDay) -> str:
    """What cannot be said of it, and the load that tells."""
    day = f"that it stands a day of {warmest.room_c:g} °C, {warmest.warmer_k:.0f} K warmer than it was here"
    usual = "" if warmest.measured else " by what warmth usually does"
    told = f"{show_sure(warmest.sure)} sure{usual}"
    then = "" if warmest.part_c is None else f"; a load held at {warmest.part_c:.0f} °C tells"
    how = f"; it would get {warmest.part_c:.0f} °C, past where is warned" if warmest.past_ceiling else then
    return f"{day} ({told}{how})"


def show_hours_more(hours: float) -> str:
    """Like ``210 h more``, to two digits: nobody counts them."""
    return f"{to_digits(hours, 2):,.0f} h more"


def _loads(kinds: Sequence[LoadKind]) -> str:
    return ", ".join(kinds)


def safety_of(rig: Rig, setpoint: Setpoint, trials: TrialIndex) -> Safety:
    """The verdict on a setpoint, by all closed trials on the lines through it; judged once for what is on the shelf."""
    kept = _KEPT.setdefault(trials, {})
    known = kept.get(setpoint.key)
    if known is None or known.version != trials.version or known.rig is not rig or known.safety.setpoint != setpoint:
        if len(kept) >= MOST_KEPT:
            kept.clear()
        known = kept[setpoint.key] = _Kept(trials.version, rig, _judged(rig, setpoint, trials))
    return known.safety


@dataclass(frozen=True, slots=True)
class _Kept:
    version: int
    rig: Rig
    safety: Safety


MOST_KEPT = 200
_KEPT: WeakKeyDictionary[TrialIndex, dict[int, _Kept]] = WeakKeyDictionary()


def _judged(rig: Rig, setpoint: Setpoint, trials: TrialIndex) -> Safety:
    lines = []
    for knob in rig.knobs:
        value = setpoint[knob.name]
        if not isinstance(value, Auto):
            line = _along(rig, knob, value, trials.along(setpoint, knob.name))
            if line is not None:
                lines.append(line)
    here = [one for one in trials.at(setpoint) if one.outcome is not None and one.verdict is not Verdict.VOID]
    known = {kind for line in lines for kind in line.under}
    unknown = tuple(kind for kind, _ in rig.purpose.hours_asked if kind not in known)
    failed = any(one.verdict is Verdict.FAIL for one in here)
    background = background_of(trials, rig.stock, rig.in_use_h)
    days = (on_warmest_day(judged, line.strain, line.trials, rig) for line in lines for judged in line.under.values())
    warmest = min((one for one in days if one is not None), key=lambda one: one.sure, default=None)
    return Safety(setpoint, rig.purpose, tuple(lines), unknown, bool(here), failed, background, warmest)


def _along(rig: Rig, knob: Knob, value: int, trials: Sequence[Trial]) -> AlongKnob | None:
    closed = tuple(trial for trial in trials if trial.outcome is not None)
    telling = [trial for trial in closed if trial.verdict is not Verdict.VOID]
    if len({trial.setpoint[knob.name] for trial in telling}) < LEAST_VALUES:
        return None
    facts, stock = [facts_of(trial) for trial in closed], stock_strain(rig, knob)

    def under(kind: LoadKind) -> Judgement | None:
        return judge(knob, rig.purpose, facts, kind, stock=stock, prior=prior_of(rig, knob))

    asked = {kind for kind, _ in asked_along(knob, rig.purpose).hours_asked}
    ran = [kind for kind, _ in Counter(kind for one in facts for kind in one.kinds).most_common()]
    as_far = [kind for kind in ran if _tried_as_far(knob, value, facts, kind)]
    counting = [kind for kind in as_far if kind in asked or _failed(facts, kind)] or as_far[:1]
    judged = {kind: found for kind in counting if (found := under(kind)) is not None}
    if judged:
        strain = knob.strain(value)
        worst = min(judged.values(), key=lambda one: (one.edge.tolerated(strain), one.edge.median))
        return AlongKnob(knob, value, worst, judged, closed)
    most = next((found for kind in ran if (found := under(kind)) is not None), None)
    return None if most is None else AlongKnob(knob, value, most, {}, closed)


def _failed(facts: Sequence[TrialFacts], kind: LoadKind) -> bool:
    return any(one.verdict is Verdict.FAIL and kind in one.kinds for one in facts)


def _tried_as_far(knob: Knob, value: int, facts: Sequence[TrialFacts], kind: LoadKind) -> bool:
    """Whether a value lies within what was tried under a kind of load, or no easier than what failed."""
    strain = knob.strain(value)
    mine = [one for one in facts if kind in one.kinds and one.verdict is not Verdict.VOID]
    tried = [knob.strain(one.setpoint.number(knob.name)) for one in mine]
    failed = [at for at, one in zip(tried, mine, strict=True) if one.verdict is Verdict.FAIL]
    return bool(tried) and (min(tried) <= strain <= max(tried) or any(at <= strain for at in failed))
