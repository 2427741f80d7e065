"""Before a climb: what the workshop's past rigs say of the knob, kept with the rig."""

from collections import Counter
from collections.abc import Iterator
from dataclasses import replace

from tenaz.core.knobs.knob import Knob
from tenaz.core.rigs.rig import Rig, stock_strain
from tenaz.core.searches.search import facts_of
from tenaz.core.trials.index import TrialIndex
from tenaz.margins.experience import PastLine, learnt_from
from tenaz.margins.priors import prior_text
from tenaz.margins.sightings import sightings_of
from tenaz.settings.files import read_what_is_right
from tenaz.workshop.bench.at_work import AtWork

MOST_RIGS, MOST_TRIALS = 100, 600
"""The newest of each: what was done years ago on other boards says least."""


def learn_of(at: AtWork, name: str) -> None:
    """Learn of a knob from past rigs of the same memory, on this side, where there are enough of them; what was learnt
    before is put in its place. Without the setting nothing of past rigs is believed.
    """
    rig, knob = at.rig, at.rig.knob(name)
    came = stock_strain(rig, knob)
    wanted = read_what_is_right()[0].work.experience and came is not None
    learnt = learnt_from(list(_past_lines(at, knob)), knob, came) if wanted and came is not None else None
    others = tuple((one, text) for one, text in rig.experience if one != knob.name)
    now = (*others, *(((knob.name, prior_text(learnt)),) if learnt is not None else ()))
    if now != rig.experience:
        at.put(replace(rig, experience=now))
        if learnt is not None:
            at.log("climb", f"{knob.label}: begins with what {learnt.learnt_from} say of it")


def _past_lines(at: AtWork, knob: Knob) -> Iterator[PastLine]:
    """Of each past rig the line of this knob that was worked on last."""
    real, mine = at.bench.real, at.rig
    alike = [one for one in at.store.rigs.all() if one.name != mine.name and one.family is mine.family]
    for rig in alike[-MOST_RIGS:]:
        known = next((one for one in rig.knobs if one.name == knob.name), None)
        came = stock_strain(rig, known) if known is not None else None
        if known is None or came is None or known.unit != knob.unit or known.harder is not knob.harder:
            continue
        line = _line(at, rig, known, came, real)
        if line is not None:
            yield line


def _line(at: AtWork, rig: Rig, knob: Knob, came: int, real: bool) -> PastLine | None:
    last = at.store.trials.count(rig.name)
    trials = at.store.trials.numbered(rig.name, max(1, last - MOST_TRIALS + 1), last)
    index = TrialIndex([one for one in trials if one.bench.real is real], rig.fitted)
    line = next(index.lines(knob.name), ())
    closed = [one for one in line if one.outcome is not None]
    ran = Counter(kind for one in closed for kind in one.plan.kinds).most_common(1)
    if not ran:
        return None
    kind = ran[0][0]
    seen = sightings_of(knob, [facts_of(one) for one in closed], kind, rig.purpose.least_reach(kind))
    return PastLine(rig.name, knob, came, kind, tuple(seen))
