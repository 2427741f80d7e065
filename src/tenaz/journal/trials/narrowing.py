"""What must be so of trials that are looked for, as a database asks it."""

from datetime import UTC, datetime, time, timedelta

from sqlalchemy import ColumnElement, Text, cast, exists, func, or_, select, true

from tenaz.core.trials.narrowing import Narrow
from tenaz.journal.base import tables as t

SLACK = timedelta(days=1)
"""A day is another one elsewhere: a day more on either side is read, and looked at."""


def condition_of(narrow: Narrow) -> ColumnElement[bool]:
    """All that it says; where it says nothing, every trial."""
    told: list[ColumnElement[bool]] = [true()]
    if narrow.outcomes is not None:
        standing = (t.records.c.trial_id == t.trials.c.id) & t.records.c.undone_utc.is_(None)
        named = t.records.c.outcome.in_([one.value for one in narrow.outcomes])
        told.append(exists(select(t.records.c.id).where(standing, named)))
    if narrow.number is not None:
        told.append(t.trials.c.number == narrow.number)
    if narrow.first is not None:
        told.append(t.trials.c.begun_utc >= datetime.combine(narrow.first, time(), UTC) - SLACK)
    if narrow.last is not None:
        told.append(t.trials.c.begun_utc <= datetime.combine(narrow.last, time(), UTC) + 2 * SLACK)
    if narrow.noted:
        told.append(t.trials.c.note != "")
    load = cast(t.trials.c.load, Text)
    told += [load.contains(f'"{kind.value}"', autoescape=True) for kind in narrow.kinds]
    for text in narrow.texts:
        written = (t.trials.c.note, t.trials.c.reason, t.trials.c.fitted, load, cast(t.rigs.c.data, Text))
        told.append(or_(*(func.lower(one).contains(text, autoescape=True) for one in written)))
    found = told[0]
    for one in told[1:]:
        found &= one
    return found
