"""Looking for trials in words: by rig, knob, value, outcome, load, date, note."""

import re
import shlex
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import checked_line
from tenaz.core.knobs.setpoint import Auto
from tenaz.core.rigs.rig import Rig
from tenaz.core.trials.narrowing import Narrow, with_text, with_word
from tenaz.core.trials.trial import Trial

EXAMPLES = "failed 2026-11 · data rate>=6000 march · all held tcl<36 · since:2026-10-01 · part:g32 by:board · #12"
OPERATORS = ("<=", ">=", "!=", "=", "<", ">")
EVERYWHERE = "all"
"""The word that looks at all rigs instead of the one at work."""

BY = ("rig", "owner", "board", "cooling", "processor", "modules", "firmware", "load", "month")
"""What can be counted by."""

Test = Callable[[Trial, Rig], bool]


@dataclass(frozen=True, slots=True)
class Query:
    """What is looked for; all of its tests must hold. ``everywhere`` looks at all rigs, ``rig`` at one by its name.
    ``by`` is what those that are found are counted by (empty: they are listed), ``narrow`` what must be so of them that
    a book can tell by itself.
    """

    text: str
    tests: tuple[Test, ...] = ()
    everywhere: bool = False
    rig: str = ""
    by: str = ""
    narrow: Narrow = field(default_factory=Narrow)

    def matches(self, trial: Trial, rig: Rig) -> bool:
        """Whether a trial of a rig is one of those that are looked for."""
        return all(test(trial, rig) for test in self.tests)


def parse_query(text: str, today: date | None = None) -> Query:
    """Read words that must all hold: outcomes, ``failed`` or ``passed``, kinds of load, ``#12``, ``rig:NAME``, ``all``,
    ``owner:NAME``, ``part:WORDS`` (board, cooler, processor, modules, firmware), ``by:board`` (counted by that),
    dates (``2026``, ``2026-11``, ``2026-11-20``, ``today``, ``yesterday``, ``since:``, ``until:``), values
    (``tcl=32``, ``data rate>=6000``), knobs that were moved from stock (``moved:tcl``), ``noted``; anything else is
    looked for in notes, reasons and setpoints' values of programs.

    Raises:
        Refused: a quotation mark that is not closed, a date that is none, or nothing to count by.
    """
    now = today or datetime.now().astimezone().date()
    try:
        words = shlex.split(_joined(checked_line(text)))
    except ValueError as error:
        raise Refused(f"a quotation mark in {text[:60]!r} is not closed.") from error
    tests: list[Test] = []
    everywhere, rig, by, narrow = False, "", "", Narrow()
    for word in words:
        low = word.lower()
        if low == EVERYWHERE:
            everywhere = True
        elif low.startswith("by:"):
            by, everywhere = _by(low[3:]), True
        elif low.startswith(("owner:", "part:")):
            everywhere = True
            tests.append(_of_rig(*low.split(":", 1)))
        elif low.startswith("rig:"):
            everywhere, rig = True, word[4:]
            tests.append(_named(word[4:].lower()))
        else:
            tests.append(_test(word, now))
            narrow = _narrowed(narrow, word, now)
    return Query(text.strip(), tuple(tests), everywhere, rig, by, narrow)


def _narrowed(narrow: Narrow, word: str, today: date) -> Narrow:
    """What a word says that a book can tell by itself."""
    low = word.lower()
    if _known_word(low) is not None:
        return with_word(narrow, low)
    if _about_values(word) is not None:
        return narrow
    days = _days(low, today)
    return narrow.between(*days) if any(days) else with_text(narrow, low)


NAMES = r"data rate|command rate|refresh mode|memory \w+|\w[\w-]*"
COMPARISON = re.compile(rf"(?<!['\"\w])({NAMES})\s*({'|'.join(OPERATORS)})\s*(\S+)", re.IGNORECASE)


def _joined(text: str) -> str:
    """A comparison of a name with blanks is one word: ``data rate >= 6000``."""
    return COMPARISON.sub(lambda found: f"'{found[1].strip()}{found[2]}{found[3]}'", text)


def _by(word: str) -> str:
    if word not in BY:
        raise Refused(f"{word[:20]!r} is nothing that could be counted by; there are: {', '.join(BY)}.")
    return word


def _of_rig(what: str, words: str) -> Test:
    """Words in whose it is, or in what it is made of."""

    def test(trial: Trial, rig: Rig) -> bool:
        if what == "owner":
            return words in rig.owner.lower()
        return words in trial.fitted.lower() or made_of(rig, words)

    return test


def made_of(rig: Rig, words: str) -> bool:
    """Whether words, in small letters, stand in what a rig is made of."""
    modules = rig.machine.modules if rig.machine else ()
    told = [rig.processor, *(value for _, value in rig.parts)]
    told += [f"{one.part} {one.serial} {one.maker}" for one in modules if one.fitted]
    told += [rig.machine.board, rig.machine.firmware] if rig.machine else []
    return any(words in text.lower() for text in told)


def _named(name: str) -> Test:
    return lambda trial, _: trial.rig.lower() == name


def _test(word: str, today: date) -> Test:
    low = word.lower()
    return _known_word(low) or _about_values(word) or _dated(low, today) or _holding(low)


def _known_word(low: str) -> Test | None:
    """Outcomes, verdicts, kinds of load, numbers, whether it is noted or open."""
    if low == "open":
        return lambda trial, _: trial.open
    told = with_word(Narrow(), low)
    return None if told == Narrow() else lambda trial, _: told.fits(trial)


def _about_values(word: str) -> Test | None:
    """A knob that was moved from stock, or one compared with a value."""
    if word.lower().startswith("moved:"):
        name = word[6:]
        return lambda trial, rig: (knob := _knob(rig, name)) is not None and trial.setpoint[knob] != rig.stock[knob]
    for operator in OPERATORS:
        name, there, value = word.partition(operator)
        if there and name and value:
            return _compared(name, operator, value)
    return None


def _knob(rig: Rig, name: str) -> str | None:
    try:
        return rig.knob(name).name
    except Refused:
        return None


def _compared(name: str, operator: str, value: str) -> Test:
    def test(trial: Trial, rig: Rig) -> bool:
        known = _knob(rig, name)
        if known is None:
            return False
        try:
            wanted, stood = rig.knob(known).parse(value), trial.setpoint[known]
        except Refused:
            return False
        if operator in ("=", "!="):
            return (stood == wanted) is (operator == "=")
        if isinstance(wanted, Auto) or isinstance(stood, Auto):
            return False
        return {"<": stood < wanted, "<=": stood <= wanted, ">": stood > wanted, ">=": stood >= wanted}[operator]

    return test


def _dated(word: str, today: date) -> Test | None:
    """A day, a month, a year; from one on, or up to one."""
    begin, end = _days(word, today)
    if begin is None and end is None:
        return None
    return lambda trial, _: (begin or date.min) <= day_of(trial) <= (end or date.max)


def _days(word: str, today: date) -> tuple[date | None, date | None]:
    """From which day to which a word means; both None: it means none.

    Raises:
        Refused: ``since:`` or ``until:`` what is no date.
    """
    way, colon, text = word.rpartition(":")
    if colon and way not in ("since", "until"):
        return None, None
    first, last = _span(text, today)
    if first is None or last is None:
        if colon:
            raise Refused(f"{text[:20]!r} is no date; type it like 2026-11-20, 2026-11 or 2026.")
        return None, None
    return (None if way == "until" else first), (None if way == "since" else last)


def day_of(trial: Trial) -> date:
    """The day on which a trial began, as it was where this computer stands."""
    return trial.begun_utc.astimezone().date()


def _span(text: str, today: date) -> tuple[date | None, date | None]:
    """The first and the last day that are meant; None for what is no date."""
    if text in ("today", "yesterday"):
        day = today - timedelta(days=text == "yesterday")
        return day, day
    found = re.fullmatch(r"((?:19|20)\d\d)(?:-(\d\d)(?:-(\d\d))?)?", text)
    if not found:
        return None, None
    year, month, day_of = (int(part) if part else None for part in found.groups())
    assert year is not None
    try:
        if day_of is not None and month is not None:
            one = date(year, month, day_of)
            return one, one
        if month is not None:
            after = date(year + month // 12, month % 12 + 1, 1)
            return date(year, month, 1), after - timedelta(days=1)
    except ValueError as error:
        raise Refused(f"{text!r} is no date of any calendar.") from error
    return date(year, 1, 1), date(year, 12, 31)


def _holding(word: str) -> Test:
    def test(trial: Trial, rig: Rig) -> bool:
        texts = (trial.note, trial.reason, " ".join(trial.plan.command), rig.owner, trial.fitted)
        return any(word in text.lower() for text in texts)

    return test


@dataclass(frozen=True, slots=True)
class Found:
    """Trials that were looked for, the newest first, each with its rig; ``more`` were passed over."""

    query: Query
    trials: tuple[tuple[Trial, Rig], ...]
    more: int = 0


def found_in(query: Query, trials: Sequence[Trial], rig: Rig) -> tuple[Trial, ...]:
    """Those of a rig's trials that are looked for, the newest first."""
    return tuple(trial for trial in reversed(trials) if query.matches(trial, rig))
