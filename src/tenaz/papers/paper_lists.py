"""Trials as people jot them down: a line a trial, its parts divided by bars."""

import re
from datetime import UTC, datetime

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import MOST_TEXT_LETTERS, checked_line
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.parsing import in_our_words, parse_load
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.loads.programs import names_program
from tenaz.core.rigs.rig import Rig
from tenaz.core.rigs.trade_line import BETWEEN_VALUES, is_trade_line, with_trade_line
from tenaz.core.trials.past_trials import PastTrial
from tenaz.core.trials.record_text import WORDS, parse_record

EXAMPLE = "data rate 6200, tCL 38 | march 1h | erred 12m 3 errors | 2026-11-20 | fan header loose"


def trial_of_line(line: str, rig: Rig, base: Setpoint, usual: LoadPlan) -> PastTrial:
    """Read ``VALUES | LOAD | WHAT WAS SEEN | WHEN | NOTE``. Each part is known by what it says; only what was seen is
    needed: values that are not named are as in ``base``, a load that is not named is ``usual``.

    Raises:
        Refused: nothing was said of how it ended, or a part that is not understood.
    """
    setpoint, plan, record, note = base, usual, None, ""
    when, day_only = None, False
    for part in (one.strip() for one in checked_line(line, MOST_TEXT_LETTERS).split("|")):
        if not part:
            continue
        if record is None and any(re.match(rf"{re.escape(word)}\b", part.lower()) for word in WORDS):
            record = parse_record(part)
        elif _names_load(part if record else in_our_words(part)):
            plan = parse_load(part)
        elif when is None and (found := read_when(part, lenient=True))[0] is not None:
            when, day_only = found
        elif record is None:
            setpoint = moved_values(part, rig, setpoint)
        else:
            note = part
    if record is None:
        raise Refused(f"{line[:60]!r} does not say how it ended; a trial in a line is like: {EXAMPLE}.")
    rig.check_past(setpoint)
    return PastTrial(setpoint, plan, record, when, day_only, note)


def _names_load(part: str) -> bool:
    return part.lower().split()[0].strip(",;") in tuple(LoadKind) or names_program(part)


def moved_values(part: str, rig: Rig, setpoint: Setpoint) -> Setpoint:
    """A setpoint with values like ``data rate 6200, tCL=38``; a number alone is a data rate, and a piece may be a whole
    sheet in trade notation: ``6000 30-38-38-96 1.35V``.

    Raises:
        Refused: naming the piece that is no value.
    """
    for piece in (one.strip() for one in re.split(BETWEEN_VALUES, checked_line(part))):
        if is_trade_line(piece):
            setpoint = with_trade_line(piece, rig, setpoint)
            continue
        found = re.fullmatch(r"(?:(.*?)[\s=:]+)?(auto|[-+]?\d[\d.]*\s*[A-Za-z/%°µ]*)", piece)
        if not found:
            raise Refused(f"{piece[:40]!r} is no value of a knob; name it and its number, like: tCL 38.")
        knob = rig.knob(found[1] or DATA_RATE)
        setpoint = setpoint.replacing(knob.name, knob.parse(found[2]))
    return setpoint


def read_when(text: str, lenient: bool = False) -> tuple[datetime | None, bool]:
    """When a trial was: an instant, or a day (then True); nothing where nobody knows. Without a zone it is this
    computer's.

    Raises:
        Refused: it is no date, unless ``lenient``.
    """
    text = text.strip()
    if not text or text in ("?", "unknown"):
        return None, False
    day_only = bool(re.fullmatch(r"\d{4}-\d{2}-\d{2}", text))
    try:
        when = datetime.fromisoformat(text) if re.match(r"\d{4}-\d{2}-\d{2}", text) else None
    except ValueError:
        when = None
    if when is None:
        if lenient:
            return None, False
        raise Refused(f"{text[:40]!r} is no date; write it like 2026-11-20 or 2026-11-20 14:30, or leave it empty.")
    if day_only:
        when = when.replace(hour=12)
    return when.astimezone(UTC), day_only
