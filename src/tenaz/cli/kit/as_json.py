"""JSON that other programs may rely on: one object with the name and the version of its form; where it is a stream, one
such object a line.
"""

import json
from collections.abc import Mapping

from tenaz.cli.kit.options import say_ascii

FORMATS = {
    "card-proof": "what a card's loads find of faults in what it runs",
    "cards": "graphics cards that loads can reach",
    "climb": "what a climb came to",
    "counts": "trials that were found, counted by what was asked (tenaz book … by:…)",
    "culprit": "which of the values that were moved together fails",
    "devices": "what a stick can be made of",
    "door": "what a machine's own door offers, and which of it may be which knob",
    "drift": "margins then and now",
    "due": "rigs that are due for a check",
    "ended": "a search that was ended",
    "entered": "trials that were made elsewhere, as they were entered",
    "field": "which pairs of values of two knobs hold",
    "find": "which part may be at fault, why, and what tells most",
    "follow-ups": "what is to be come back to",
    "goldens": "digests of results at stock",
    "load": "what came of a load; a line each",
    "machine": "what a machine is, as it was read",
    "margins": "how far what is set is from the edge",
    "memory": "physical memory, and what loads reached of it",
    "next": "what comes next on a rig, and why",
    "night": "a whole rig tuned alone",
    "plan": "trials to come, and the newest run of them",
    "practice": "simulated rigs to practise on, faults, and what hands can do",
    "proof": "what each march test finds of each fault",
    "report": "a report that was given out, or would be",
    "reports": "which reports were given out",
    "rig": "a rig, as it can be read in again",
    "sample": "the sensors at one moment; a line each",
    "scores": "what was measured, and what a step gained",
    "searches": "climbs, fields and nights of the book",
    "session": "how far the work on a rig has come",
    "sheet": "a setpoint, checked",
    "step": "what differs between two setpoints",
    "study": "how strategies do on hidden rigs",
    "trials": "trials of the book, all or those that the words fit",
    "unfinished": "a trial that was cut short, or what was said of it",
    "wire": "who answers on a wire, and how it stands there",
    "words": "what words of the trade are here",
}
"""Every form, with what it tells."""

FORMS_OF = {
    "book": ("trials", "counts"), "cards": ("cards",), "chart": ("searches",), "climb": ("climb",),
    "culprit": ("culprit",), "drift": ("drift", "due"), "end": ("ended",),
    "enter": ("entered",), "field": ("field",), "find": ("find",),
    "follow-ups": ("follow-ups",), "golden": ("goldens",), "load": ("load",), "margins": ("margins",),
    "measure": ("scores",), "next": ("next",), "night": ("night",), "plan": ("plan",), "probe": ("machine",),
    "proof": ("proof", "card-proof"), "report": ("report", "reports"), "rig": ("rig",), "scores": ("scores",),
    "seen": ("unfinished",), "session": ("session",), "set probe": ("door",), "sheet": ("sheet", "step"),
    "sim list": ("practice",), "stick list": ("devices",), "stick reached": ("memory",), "study": ("study",),
    "trial": ("trials",),
    "watch": ("sample",), "wire look": ("wire",), "words": ("words",),
}  # fmt: skip
"""By command, the forms that it prints. Others only do something, and say that they did."""

VERSION = 1
"""Of all forms: raised where one of them changes otherwise than by a field more."""


def head_of(name: str) -> dict[str, object]:
    """How an object of this form begins."""
    assert name in FORMATS, name
    return {"format": f"tenaz/{name}", "version": VERSION}


def say_object(name: str, data: Mapping[str, object]) -> None:
    """Print one object."""
    say_ascii(json.dumps({**head_of(name), **data}, indent=1, default=str) + "\n")


def say_line(name: str, data: Mapping[str, object]) -> None:
    """Print one object of a stream, on a line."""
    say_ascii(json.dumps({**head_of(name), **data}, default=str) + "\n")
