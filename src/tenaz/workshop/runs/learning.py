"""Before a climb: what the workshop's past rigs say of the knob, or those of another workshop, kept with the rig."""

from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import replace

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.rigs.rig import Rig, stock_strain
from tenaz.core.searches.search import facts_of
from tenaz.core.trials.index import TrialIndex
from tenaz.journal.store import Store
from tenaz.margins.experience import Common, PastLine, carried_unit, common_of
from tenaz.margins.experience_files import read_experience
from tenaz.margins.priors import EdgePrior, prior_text
from tenaz.margins.sightings import sightings_of
from tenaz.settings.files import read_what_is_right
from tenaz.workshop.bench.at_work import AtWork

MOST_RIGS, MOST_TRIALS = 100, 600
"""The newest of each: what was done years ago on other boards says least."""
FARTHER_COUNTS = 0.5
"""So much counts a rig that shares neither board nor memory kit with this one."""
NEAR_BY = ("board", "memory")
OURS, ANOTHERS = "this workshop", "another workshop"


def learn_of(at: AtWork, name: str, base: Setpoint) -> None:
    """Learn of a knob, all others as at ``base``, from past rigs of the same memory, on this side, where there are
    enough of them, or from the file that the settings name, where that knows more; what was learnt before is put in its
    place. Without the setting nothing of past rigs is believed.
    """
    rig, knob = at.rig, at.rig.knob(name)
    learnt = _learnt(at, knob, base)
    others = tuple((one, text) for one, text in rig.experience if one != knob.name)
    now = (*others, *(((knob.name, prior_text(learnt)),) if learnt is not None else ()))
    if now != rig.experience:
        at.put(replace(rig, experience=now))
        if learnt is not None:
            at.log("climb", f"{knob.label}: begins with what {learnt.learnt_from} say of it")


def known_in_common(at: AtWork) -> tuple[Common, ...]:
    """All that the workshop's rigs of this memory have in common, this one among them; for another workshop."""
    past = list(_past_rigs(at, with_mine=True))
    found = (common_of(list(past_lines(at.rig, past, knob)), at.rig.family) for knob in at.rig.knobs)
    return tuple(one for one in found if one is not None)


def _learnt(at: AtWork, knob: Knob, base: Setpoint) -> EdgePrior | None:
    rig, work = at.rig, read_what_is_right()[0].work
    came = stock_strain(rig, knob)
    if not work.experience or came is None:
        return None
    unit = carried_unit(knob, base, rig.stock, rig.family)
    ours, theirs = common_of(list(past_lines(rig, _past_rigs(at), knob)), rig.family), None
    if work.experience_file is not None:
        theirs = read_experience(work.experience_file).of(knob.name, rig.family)
    known = [(one, whose) for one, whose in ((ours, OURS), (theirs, ANOTHERS)) if one and one.unit == unit.name]
    most = max(known, key=lambda one: one[0].rigs, default=None)
    return None if most is None else most[0].on(knob, came, unit.step, most[1])


def _past_rigs(at: AtWork, with_mine: bool = False) -> Iterator[tuple[Rig, TrialIndex]]:
    """The workshop's rigs of the same memory, with what was tried last on this side."""
    mine = at.rig
    alike = [one for one in at.store.rigs.all() if one.family is mine.family and (with_mine or one.name != mine.name)]
    for rig in alike[-MOST_RIGS:]:
        yield rig, last_trials(at.store, rig, at.bench.real)


def last_trials(store: Store, rig: Rig, real: bool) -> TrialIndex:
    """What was tried last on a rig, on one side: real, or simulated."""
    last = store.trials.count(rig.name)
    trials = store.trials.numbered(rig.name, max(1, last - MOST_TRIALS + 1), last)
    return TrialIndex([one for one in trials if one.bench.real is real], rig.fitted)


def past_lines(mine: Rig, past: Iterable[tuple[Rig, TrialIndex]], knob: Knob) -> Iterator[PastLine]:
    """Of each past rig the line of this knob that was worked on last."""
    for rig, index in past:
        known = next((one for one in rig.knobs if one.name == knob.name), None)
        came = stock_strain(rig, known) if known is not None else None
        if known is None or came is None or known.unit != knob.unit or known.harder is not knob.harder:
            continue
        closed = [one for one in next(index.lines(known.name), ()) if one.outcome is not None]
        ran = Counter(kind for one in closed for kind in one.plan.kinds).most_common(1)
        if not ran:
            continue
        kind = ran[0][0]
        seen = sightings_of(known, [facts_of(one) for one in closed], kind, rig.purpose.least_reach(kind))
        unit = carried_unit(known, closed[-1].setpoint, rig.stock, rig.family)
        yield PastLine(rig.name, known, came, kind, tuple(seen), unit, 1.0 if _near(rig, mine) else FARTHER_COUNTS)


def _near(one: Rig, other: Rig) -> bool:
    """Whether both have a board, or a memory kit, of the same name."""
    parts, others = dict(one.parts), dict(other.parts)
    return any(parts.get(name) and parts.get(name) == others.get(name) for name in NEAR_BY)
