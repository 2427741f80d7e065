"""A program of one's own as a load, in one line."""

import shlex
from dataclasses import replace

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import checked_line
from tenaz.core.base.typed import parse_duration_s
from tenaz.core.loads.called import load_called
from tenaz.core.loads.plan import USUAL_DURATION_S, LoadKind, LoadPlan
from tenaz.core.words.finding import near_it
from tenaz.core.words.word import About

PROGRAM_EXAMPLE = (
    "program 1h: ./render --scene stone  ·  program 2h bad=MISMATCH good=done: ./verify  ·  "
    "program 8h as=march: a memory test"
)


def names_program(text: str) -> bool:
    """Whether a line is about a program of one's own."""
    return text.strip().lower().split(maxsplit=1)[:1] in (["program"], ["program:"])


def parse_program(text: str, usual_s: float | None = USUAL_DURATION_S) -> LoadPlan:
    """Read ``program 1h bad=WORDS good=WORDS as=march,solo: COMMAND``; it counts as what it is said to strain like. On
    a rig by hand the command may be any name: there it is the technician who runs it.

    Raises:
        Refused: no command, or something before it that is not understood.
    """
    head, colon, command = checked_line(text).strip().partition(":")
    try:
        words, parts = shlex.split(head)[1:], tuple(shlex.split(command))
    except ValueError as error:
        raise Refused(f"a quotation mark is not closed; type it like: {PROGRAM_EXAMPLE}.") from error
    if not colon or not parts:
        raise Refused(f"a program of your own needs a colon and its command or name; type it like: {PROGRAM_EXAMPLE}.")
    plan = LoadPlan(LoadKind.PROGRAM, duration_s=usual_s, command=parts)
    for word in words:
        name, equals, value = word.partition("=")
        if equals and name.lower() in ("bad", "good") and value:
            plan = replace(plan, **{f"{name.lower()}_words": value})  # type: ignore[arg-type] # both are texts
        elif equals and name.lower() == "as":
            plan = replace(plan, counts_as=tuple(dict.fromkeys(map(_counts_as, value.split(",")))))
        elif word.lower() in ("once", "1lap"):
            plan = replace(plan, duration_s=None, laps=1)
        else:
            plan = replace(plan, duration_s=parse_duration_s(word))
    return plan


def _counts_as(text: str) -> LoadKind:
    """A kind of load by its name, or by what the trade calls it."""
    kind = load_called(text)
    if kind is None:
        raise Refused(
            f"{text.strip()[:40]!r} is no kind of load that a program could count as; there are: "
            f"{', '.join(one for one in LoadKind if one is not LoadKind.PROGRAM)}." + near_it(text, About.LOAD)
        )
    return kind


def program_text(plan: LoadPlan) -> str:
    """The line that :func:`parse_program` reads as this plan."""
    length = "once" if plan.duration_s is None else f"{plan.duration_s:g}s"
    words = [
        f"{name}={shlex.quote(value)}" for name, value in (("bad", plan.bad_words), ("good", plan.good_words)) if value
    ]
    words += [f"as={','.join(plan.counts_as)}"] if plan.counts_as else []
    return f"{' '.join(['program', length, *words])}: {shlex.join(plan.command)}"
