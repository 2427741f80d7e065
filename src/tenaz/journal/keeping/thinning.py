"""Telemetry that is old enough is thinned: of each stretch of time its lowest, its highest and its last sample stay for
every sensor. Records, facts and wrong values stay as they are, always.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select, update

from tenaz.core.sensors.telemetry import Sample
from tenaz.core.sensors.trace import pack, unpack
from tenaz.journal.base import tables as t
from tenaz.journal.store import Store
from tenaz.journal.trials.under_load import chunk_of

STRETCH_S = 60.0
AT_ONCE = 100


@dataclass(frozen=True, slots=True)
class Thinned:
    """What came of it: stretches of telemetry looked at, samples before and after, bytes before and after."""

    chunks: int = 0
    samples: int = 0
    kept: int = 0
    size: int = 0
    size_kept: int = 0

    def __add__(self, other: "Thinned") -> "Thinned":
        return Thinned(
            self.chunks + other.chunks, self.samples + other.samples, self.kept + other.kept,
            self.size + other.size, self.size_kept + other.size_kept,
        )  # fmt: skip


def thin(store: Store, before_utc: datetime) -> Thinned:
    """Thin the telemetry of trials that began before an instant; some at a time, each on the disk before the next, so
    that it may be ended anywhere and begun anew.
    """
    done, last = Thinned(), 0
    while True:
        came, last = _some(store, before_utc, last)
        if came is None:
            return done
        done += came


def _some(store: Store, before_utc: datetime, after_id: int) -> tuple[Thinned | None, int]:
    query = (
        select(t.traces)
        .join(t.trials, t.trials.c.id == t.traces.c.trial_id)
        .where(t.trials.c.begun_utc < before_utc, t.traces.c.id > after_id)
        .order_by(t.traces.c.id)
        .limit(AT_ONCE)
    )
    with store.database.writing() as connection:
        rows = connection.execute(query).mappings().all()
        if not rows:
            return None, after_id
        done = Thinned()
        for row in rows:
            try:
                chunk = chunk_of(row)
                samples = unpack(chunk)
            except ValueError:
                continue
            kept = thinned(samples)
            size, smaller = len(row["packed"]), len(row["packed"])
            if len(kept) < len(samples):
                packed = pack(chunk.sensors, kept)
                smaller = len(packed.packed)
                mine = update(t.traces).where(t.traces.c.id == row["id"])
                connection.execute(mine.values(samples=len(kept), packed=packed.packed))
            done += Thinned(1, len(samples), len(kept), size, smaller)
    return done, int(rows[-1]["id"])


def thinned(samples: Sequence[Sample]) -> list[Sample]:
    """Of each stretch the samples that hold the lowest and the highest value of some sensor, and the last."""
    kept: list[Sample] = []
    stretch: list[Sample] = []
    for sample in samples:
        if stretch and sample.at_s - stretch[0].at_s >= STRETCH_S:
            kept += _extremes(stretch)
            stretch = []
        stretch.append(sample)
    return kept + _extremes(stretch)


def _extremes(stretch: Sequence[Sample]) -> list[Sample]:
    if not stretch:
        return []
    chosen = {len(stretch) - 1}
    for place in range(len(stretch[0].values)):
        known = [(value, at) for at, one in enumerate(stretch) if (value := one.values[place]) is not None]
        if known:
            chosen |= {min(known)[1], max(known)[1]}
    return [stretch[at] for at in sorted(chosen)]
