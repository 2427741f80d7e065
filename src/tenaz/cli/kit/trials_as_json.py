"""All trials of a book as one JSON object, a trial a line, in memory that does not grow with the book."""

import json
import multiprocessing
from collections import deque
from collections.abc import Iterable, Iterator, Mapping, Sequence
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from functools import lru_cache
from typing import Any

from tenaz.cli.kit.as_json import head_of
from tenaz.cli.kit.options import say_ascii
from tenaz.core.base.errors import BookError
from tenaz.core.base.systems import cores_free
from tenaz.core.loads.plan import Mismatch
from tenaz.core.trials.trial import Trial
from tenaz.journal.opening.opening import OpenBook, open_book
from tenaz.journal.store import Store

PAGE = 300
"""Trials that are in memory at once, in each process."""

WORTH_TWO = 2000
"""From so many trials on it is worth starting processes that read side by side."""

MOST_READERS, AHEAD = 4, 2
"""So many processes at most, and so many pages for each that wait to be written."""

Told = tuple[str, dict[str, str]]
"""A page as text, and the rows that could not be read."""


def stream_json(place: str | None, counts: Mapping[str, int]) -> dict[str, str]:
    """Write the trials of these rigs, of which so many numbers are given; gives the rows that could not be read."""
    pages = [(rig, first) for rig, count in counts.items() for first in range(1, count + 1, PAGE)]
    unread: dict[str, str] = {}
    say_ascii(_BEGIN)
    started = False
    for text, damaged in _read(place, pages, sum(counts.values())):
        unread |= damaged
        if text:
            say_ascii((",\n" if started else "\n") + text)
            started = True
    say_ascii(_END)
    return unread


def say_found(store: Store, found: Iterable[Trial]) -> None:
    """The same of trials that were looked for."""
    say_ascii(_BEGIN)
    started = False
    for trial in found:
        wrong = store.load.mismatches_of(trial.id) if trial.errors else ()
        say_ascii((",\n" if started else "\n") + _as_json(trial, wrong))
        started = True
    say_ascii(_END)


_BEGIN, _END = f'{json.dumps(head_of("trials"))[:-1]}, "trials": [', "\n]}\n"


def _read(place: str | None, pages: Sequence[tuple[str, int]], trials: int) -> Iterator[Told]:
    """Each page in its turn; a large book is read by several processes side by side."""
    readers = min(MOST_READERS, cores_free())
    if trials < WORTH_TWO or readers < 2:
        _open(place)
        try:
            yield from (_page(rig, first) for rig, first in pages)
        finally:
            _opened.pop().close()
        return
    # Nothing of the book is open here: each process opens its own.
    fork = multiprocessing.get_context("fork")
    try:
        with ProcessPoolExecutor(readers, fork, _open, (place,)) as pool:
            waiting: deque[Future[Told]] = deque()
            for rig, first in pages:
                waiting.append(pool.submit(_page, rig, first))
                if len(waiting) > AHEAD * readers:
                    yield waiting.popleft().result()
            while waiting:
                yield waiting.popleft().result()
    except BrokenProcessPool as broken:
        raise BookError(
            f"A process that read the book {place or ''} ended early; the list is not whole. Try again."
        ) from broken


_opened: list[OpenBook] = []
"""The book as this process has it open."""


def _open(place: str | None) -> None:
    _opened.append(open_book(place, read_only=True))


def _page(rig: str, first: int) -> Told:
    store = _opened[-1].store
    trials = store.trials.numbered(rig, first, first + PAGE - 1)
    wrong = store.load.mismatches_of_all([trial.id for trial in trials if trial.errors])
    text = ",\n".join(_as_json(trial, wrong.get(trial.id, ())) for trial in trials)
    unread = dict(store.unread)
    store.unread.clear()
    return text, unread


def _as_json(trial: Trial, wrong: Sequence[Mismatch]) -> str:
    """A trial as a JSON object; words and addresses as hexadecimal text, which no reader rounds."""
    told = {
        "number": trial.number,
        "rig": trial.rig,
        "bench": trial.bench,
        "begun_utc": trial.begun_utc.isoformat(),
        "asked_otherwise": {change.knob: change.before for change in trial.otherwise},
        "known_by": dict(trial.sources),
        "fitted": trial.fitted or None,
        "load": trial.plan.kind,
        "load_duration_s": trial.plan.duration_s,
        "load_laps": trial.plan.laps,
        "station": trial.station,
        "outcome": trial.outcome,
        "verdict": trial.verdict,
        "elapsed_s": trial.elapsed_s,
        "failed_after_s": trial.failed_after_s,
        "errors": trial.errors,
        "room_c": trial.facts.room_c,
        "wrong_values": [
            {
                **_plain(one),
                **{key: f"{getattr(one, key):#018x}" for key in ("address", "expected", "read", "read_again")},
                "physical": None if one.physical is None else f"{one.physical:#018x}",
            }
            for one in wrong
        ],
        "seen_by": trial.seen_by or None,
        "reason": trial.reason or None,
        "note": trial.note or None,
    }
    parts = (
        f'"setpoint": {_setpoint_json(trial.setpoint.items_by_name)}',
        f'"loads": {_facts_json(trial.facts.loads)}',
        f'"stations": {_facts_json(trial.stations)}',
        f'"sensors": {_facts_json(trial.facts.sensors)}',
    )
    return f"{json.dumps(told)[:-1]}, {', '.join(parts)}}}"


@lru_cache(4096)
def _setpoint_json(items: tuple[tuple[str, object], ...]) -> str:
    """Values by knob; the same ones come again and again."""
    return json.dumps(dict(items))


@lru_cache(4096)
def _facts_json(facts: tuple[object, ...]) -> str:
    return json.dumps([_plain(fact) for fact in facts])


def _plain(value: Any) -> dict[str, Any]:
    """A flat record's fields by name; nothing is copied, since it is only written out."""
    return {name: getattr(value, name) for name in value.__slots__}
