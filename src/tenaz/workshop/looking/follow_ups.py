"""What is to be come back to, rig by rig: notes that were left open, and rigs that are due for a check."""

from datetime import datetime

from tenaz.core.trials.due import Due, FollowUp, due
from tenaz.journal.store import Store

LAST = 100


def due_for_check(store: Store, now: datetime) -> tuple[Due, ...]:
    """Rigs of the workshop that are due, the longest first."""
    found = []
    for rig in store.rigs.all():
        newest = store.trials.newest_of(rig.name)
        # What a rig was left at stands among its last trials; a large book is not gone through for it.
        last = store.trials.numbered(rig.name, newest.number - LAST, newest.number) if newest is not None else ()
        for real in (True, False):
            trials = [one for one in last if one.bench.real is real]
            one = due(rig, trials, now) if trials else None
            if one is not None:
                found.append(one)
    return tuple(sorted(found, key=lambda one: one.last_utc))


def follow_ups(store: Store, now: datetime, rig: str = "") -> tuple[FollowUp, ...]:
    """Of one rig, or of all."""
    found = []
    for one in store.rigs.all():
        if rig and one.name != rig:
            continue
        knobs = {knob.name: knob for knob in one.knobs}
        for note in store.sheets.notes(one.name):
            if note.open:
                knob = knobs.get(note.knob)
                what = f"{knob.label} {knob.show(note.value)}" if knob else f"{note.knob} {note.value}"
                found.append(FollowUp(one.name, what, note.show(), note.id))
    found += [
        FollowUp(one.rig, "due for a check", one.why) for one in due_for_check(store, now) if rig in ("", one.rig)
    ]
    return tuple(found)
