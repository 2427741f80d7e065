"""A program of one's own as a load, in one line."""

import shlex
from dataclasses import replace

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import checked_line
from tenaz.core.base.typed import parse_duration_s
from tenaz.core.loads.plan import USUAL_DURATION_S, LoadKind, LoadPlan

PROGRAM_EXAMPLE = "program 1h: ./render --scene stone  ·  program 2h bad=MISMATCH good=done: ./verify"


def names_program(text: str) -> bool:
    """Whether a line is about a program of one's own."""
    return text.strip().lower().split(maxsplit=1)[:1] in (["program"], ["program:"])


def parse_program(text: str, usual_s: float | None = USUAL_DURATION_S) -> LoadPlan:
    """Read ``program 1h bad=WORDS good=WORDS: COMMAND``. On a rig by hand the command may be any name: there it is the
    technician who runs it.

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
        elif word.lower() in ("once", "1lap"):
            plan = replace(plan, duration_s=None, laps=1)
        else:
            plan = replace(plan, duration_s=parse_duration_s(word))
    return plan


def program_text(plan: LoadPlan) -> str:
    """The line that :func:`parse_program` reads as this plan."""
    length = "once" if plan.duration_s is None else f"{plan.duration_s:g}s"
    words = [
        f"{name}={shlex.quote(value)}" for name, value in (("bad", plan.bad_words), ("good", plan.good_words)) if value
    ]
    return f"{' '.join(['program', length, *words])}: {shlex.join(plan.command)}"
