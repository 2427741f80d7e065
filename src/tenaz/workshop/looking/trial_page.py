"""All that the book keeps of one trial, and trials found across rigs."""

from tenaz.core.trials.querying import Found, Query
from tenaz.journal.store import Store
from tenaz.pictures.book.trial import TrialPage

MOST_FOUND = 500
"""Trials that are looked at; whoever finds more looks more closely."""
MOST_WRONG = 200
MOST_LINES = 60


def trial_page(store: Store, trial_id: int) -> TrialPage:
    """All that is kept of a trial."""
    trial = store.trials.one(trial_id)
    read = store.trials.readings_of(trial_id)
    return TrialPage(
        trial,
        store.rigs.one(trial.rig),
        read[-1] if read else (),
        store.load.mismatches_of(trial_id)[:MOST_WRONG] if trial.errors else (),
        store.log.lines(trial.rig, MOST_LINES, trial_id),
    )


def found_everywhere(store: Store, query: Query) -> Found:
    """Trials of all rigs that are looked for, simulated ones among them."""
    rigs = {rig.name: rig for rig in store.rigs.all() if query.rig.lower() in ("", rig.name.lower())}
    found = [
        (trial, rigs[trial.rig])
        for page in store.trials.narrowed(query.narrow, list(rigs))
        for trial in page
        if query.matches(trial, rigs[trial.rig])
    ]
    found.sort(key=lambda one: one[0].id, reverse=True)
    return Found(query, tuple(found[:MOST_FOUND]), max(0, len(found) - MOST_FOUND))
