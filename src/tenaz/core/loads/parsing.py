"""Reading a load in one line, as people type it."""

import re
from collections.abc import Callable
from dataclasses import replace

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import MOST_DIGITS, MOST_LOAD_LETTERS
from tenaz.core.base.typed import MOST_LETTERS, parse_bytes, parse_cards, parse_cores, parse_duration_s, parse_share
from tenaz.core.loads.kinds import LOAD_TYPES, check_fields
from tenaz.core.loads.plan import USUAL_DURATION_S, CacheLevel, DataKind, LoadKind, LoadPlan, MarchMode
from tenaz.core.loads.programs import names_program, parse_program
from tenaz.core.words.finding import near_it, phrases
from tenaz.core.words.word import About

WARM_C = 25.0, 105.0
"""What a part may be held at: above most rooms, and below where it would be shut off."""
STEPS_HZ = 0.01, 10.0
"""What runs side by side is in step at: slower than that is no step, and faster is shorter than its pieces of work."""
MARCH_NAMES = {"mats+": "MATS+", "c-": "C-", "c−": "C-", "lr": "LR", "ss": "SS"}
"""March tests that can be named; see tenaz.loads.march."""

_CALLED = {phrase: name for phrase, name in phrases(About.LOAD) if name != LoadKind.PROGRAM}
_TRADE = re.compile(rf"\b(?:{'|'.join(map(re.escape, _CALLED))})\b")
_OURS = re.compile(rf"\b(?:{'|'.join(LoadKind)})\b(?!\s+(?:test|stress))")
_KINDS = ", ".join(kind for kind in LoadKind if kind is not LoadKind.PROGRAM)

EXAMPLES = "like 'march 30m 50%', 'march ss blocks 2 laps', 'transform L1-L3 1h', 'solo 10m beside checker 25%'"

_SAID_ALWAYS = "|".join(
    re.escape(one.how(LoadPlan(kind))) for kind, one in LOAD_TYPES.items() if not {*one.fields} - {"cards"}
)
"""What a load whose manner nothing changes says whenever it is shown: it sets nothing."""

JOINED = (
    (
        rf"\b(?:{_SAID_ALWAYS}|pictures of|pictures|of the card's memory|of memory|for|in(?! step)|a core)\b|,(?=\s|$)",
        " ",
    ),
    (r"\s+times a second\b", "hz"),
    (r"\bwaiting\b", "wait"),
    (r"\b(l\d) to (l\d)\b", r"\1-\2"),
    (r"(?<=\d)\s+(laps?|workers?)\b", r"\1"),
    (r"\bgo\s+on\b", "goon"),
    (r"\buntil\s+stopped\b", "open"),
    (r"\bone\s+thread\b", "onethread"),
    (r"\b(held\s+)?at\s+(?=\d)", ""),
    (r"(?<=\d)\s*°\s*c\b", "°c"),
    (r"\bin step( at)?\s+", "step="),
    (r"\bcards?\s+(\d[\d,-]*)", r"cards=\1"),
    (r"\b(wait|cores)\s+(\S)", r"\1=\2"),
    (r"(\d)\s*(hz|px|kib|mib|gib)\b", r"\1\2"),
)
"""Words that belong together, before a line is taken apart at its spaces; and those that only a shown load has."""


def parse_load(text: str, before: LoadPlan | None = None, usual_s: float | None = USUAL_DURATION_S) -> LoadPlan:
    """Read a load in one line, like ``march 30m 50%`` or ``transform 10 laps L2 go on``.

    It begins with its kind, and what is not said is as usual, whatever ran before; ``but 25%`` is the load ``before``
    with that changed, and nothing at all is that load. ``go on`` goes on after an error, ``stop`` stops at the first;
    ``2 workers`` leaves the other cores free, ``cores 0,2`` names them, ``one thread`` leaves siblings idle; ``60 °C``
    holds the part that it strains at that temperature. After ``beside`` comes another load that runs at the same time.
    A march test stands in braces, or by its name. A load as it is shown, ``march for 1h, 50% of memory``, is read too.

    Raises:
        Refused: naming the word that cannot be read, or that no load is named.
    """
    words = in_our_words(text.strip())
    if len(words) > MOST_LOAD_LETTERS:
        raise Refused(f"{len(words)} letters are too long for a load; type it {EXAMPLES}.")
    if not words and before is not None:
        return before
    if names_program(words):
        return parse_program(words, usual_s)
    if len(in_turn(words)) > 1:
        raise Refused(
            "these are several loads in turn: they are a routine. In the workbench T runs them, on the command line "
            "tenaz load does."
        )
    own, *others = re.split(r"\bbeside\b", words, flags=re.IGNORECASE)
    first, _, changed = own.partition(" ")
    if first.lower() == "but":
        if before is None:
            raise Refused(f"there is no load before it that {words!r} could change; name one, {EXAMPLES}.")
        plan = _parse_one(changed, before)
        return replace(plan, beside=_beside(others)) if others else plan
    return replace(_parse_named(own, usual_s), beside=_beside(others))


def in_our_words(text: str) -> str:
    """A line in which loads are called by their names, whatever the trade calls them: ``memory test 30m`` is ``march
    30m``. One that names a load of ours, or a program, is left as it is.
    """
    line = text.lower()
    if len(text) > MOST_LOAD_LETTERS or names_program(text) or re.search(_OURS, line):
        return text
    found = re.search(_TRADE, line)
    return text if found is None else f"{text[: found.start()]}{_CALLED[found[0]]}{text[found.end() :]}"


def in_turn(text: str) -> list[str]:
    """Loads in turn, divided at ``;``, but not where one stands within the braces of a march test."""
    parts, within = [""], False
    for piece in re.split(r"([;{}])", text):
        if piece == ";" and not within:
            parts.append("")
            continue
        within = piece == "{" or (within and piece != "}")
        parts[-1] += piece
    return parts


def _beside(texts: list[str]) -> tuple[LoadPlan, ...]:
    return tuple(_parse_named(text, None) for text in texts)


def _parse_named(text: str, usual_s: float | None) -> LoadPlan:
    """A load that says its kind."""
    words = _words_of(re.sub(r"\{.*\}", " ", text))
    named = [LoadKind(word) for word in words if word in tuple(LoadKind) and word != LoadKind.PROGRAM]
    if not named:
        # What is no word of a load at all is named first.
        _understood(text)
        raise Refused(
            f"{text.strip()!r} names no load; begin with one ({_KINDS}), or with 'but' to change the one before: "
            f"but {text.strip() or '25%'}."
        )
    return _parse_one(text, LoadPlan(named[0], duration_s=usual_s))


def _parse_one(text: str, plan: LoadPlan) -> LoadPlan:
    if found := re.search(r"\{.*\}", text):
        check_fields((plan.kind,), ("test",))
        plan, text = replace(plan, test=found[0]), text.replace(found[0], " ")
    for word in _words_of(text):
        changes = _changes(word)
        check_fields((plan.kind,), tuple(name for name in changes if changes[name] is not None))
        plan = replace(plan, **changes)  # type: ignore[arg-type] # each value is of its field's type
    return plan


def _words_of(text: str) -> list[str]:
    line = text.lower()
    for pattern, joined in JOINED:
        line = re.sub(pattern, joined, line)
    return line.split()


def _understood(text: str) -> None:
    """Refuse words that no load knows."""
    for word in _words_of(re.sub(r"\{.*\}", " ", text)):
        _changes(word)


_LEVELS = {level.lower(): level for level in CacheLevel}
_LEVEL = "|".join(_LEVELS)

_WORDS: dict[str, dict[str, object]] = {
    **{kind.value: {"kind": kind} for kind in LoadKind if kind is not LoadKind.PROGRAM},
    **{mode.value: {"mode": mode} for mode in MarchMode},
    **{data.value: {"data": data} for data in DataKind},
    **{name: {"level": level, "level_to": None} for name, level in _LEVELS.items()},
    **{name: {"test": test} for name, test in MARCH_NAMES.items()},
    "goon": {"stop_at_first_error": False},
    "stop": {"stop_at_first_error": True},
    "open": {"duration_s": None, "laps": None},
    "onethread": {"siblings": False},
}
"""Words of a load that mean what they say, as the fields that they set."""


def _count(text: str, what: str) -> int:
    if len(text) > MOST_DIGITS or int(text) == 0:
        raise Refused(f"{text[:MOST_DIGITS]} {what}s are no load; give one or more.")
    return int(text)


def checked_warm(celsius: float) -> float:
    """A temperature at which a part may be held.

    Raises:
        Refused: outside of what makes sense.
    """
    low, high = WARM_C
    if not low <= celsius <= high:
        raise Refused(f"no part is held at {celsius:g} °C; give {low:g} to {high:g}.")
    return celsius


def checked_step(hz: float) -> float:
    """How often everything may work and rest in step.

    Raises:
        Refused: outside of what can be kept.
    """
    low, high = STEPS_HZ
    if not low <= hz <= high:
        raise Refused(f"no load works in step {hz:g} times a second; give {low:g} to {high:g} Hz.")
    return hz


_SHAPES: tuple[tuple[str, Callable[["re.Match[str]"], dict[str, object]]], ...] = (
    (r".*%", lambda m: {"share": parse_share(m[0]), "size_bytes": None}),
    (rf"({_LEVEL})-({_LEVEL})", lambda m: {"level": _LEVELS[m[1]], "level_to": _LEVELS[m[2]]}),
    (r"(\d+)laps?", lambda m: {"laps": _count(m[1], "lap"), "duration_s": None}),
    (r"(\d+)workers?", lambda m: {"workers": _count(m[1], "worker")}),
    (r"step=(\d{1,4}(?:\.\d{1,4})?)hz", lambda m: {"step_hz": checked_step(float(m[1]))}),
    (r"(\d{1,5})px", lambda m: {"side_px": int(m[1])}),
    (r"cards=(.+)", lambda m: {"cards": parse_cards(m[1])}),
    (r"(\d{1,6}(?:\.\d{1,6})?)hz", lambda m: {"pulse_hz": float(m[1])}),
    (r"(\d{1,4}(?:\.\d{1,3})?)°?c", lambda m: {"warm_c": checked_warm(float(m[1]))}),
    (r"\d+(\.\d+)?[kmg]i?b", lambda m: {"size_bytes": parse_bytes(m[0])}),
    (r"wait=(.+)", lambda m: {"wait_s": parse_duration_s(m[1])}),
    (r"cores=(.+)", lambda m: {"cores": parse_cores(m[1])}),
    (r"\d.*", lambda m: {"duration_s": parse_duration_s(m[0]), "laps": None}),
)
"""Words of a load with a figure in them."""


def _changes(word: str) -> dict[str, object]:
    """What one word of a line changes of a plan."""
    changes = _WORDS.get(word)
    for shape, read in _SHAPES if changes is None else ():
        if found := re.fullmatch(shape, word):
            return read(found)
    if changes is None:
        raise Refused(
            f"{word[:MOST_LETTERS]!r} is not understood; type a load {EXAMPLES}. Loads: {_KINDS}."
            + near_it(word[:MOST_LETTERS], About.LOAD)
        )
    return changes
