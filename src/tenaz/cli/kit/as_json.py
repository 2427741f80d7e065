"""JSON that other programs may rely on: one object with the name and the version of its form; where it is a stream, one
such object a line.
"""

import json
from collections.abc import Mapping

from tenaz.cli.kit.options import say_ascii

FORMATS = {
    "counts": "trials that were found, counted by what was asked (tenaz book … by:…)",
    "drift": "margins then and now",
    "due": "rigs that are due for a check",
    "field": "which pairs of values of two knobs hold",
    "find": "which part may be at fault, why, and what tells most",
    "follow-ups": "what is to be come back to",
    "goldens": "digests of results at stock",
    "load": "what came of a load; a line each",
    "margins": "how far what is set is from the edge",
    "memory": "physical memory, and what loads reached of it",
    "next": "what comes next on a rig, and why",
    "night": "a whole rig tuned alone",
    "proof": "what each march test finds of each fault",
    "sample": "the sensors at one moment; a line each",
    "scores": "what was measured, and what a step gained",
    "sheet": "a setpoint, checked",
    "step": "what differs between two setpoints",
    "trials": "trials of the book, all or those that the words fit",
    "words": "what words of the trade are here",
}
"""Every form, with what it tells."""

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
