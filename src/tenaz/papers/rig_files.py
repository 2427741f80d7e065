"""Rigs and machines as files: carried over on a stick, or edited as data."""

import json
from pathlib import Path
from typing import Any

from pydantic import TypeAdapter, ValidationError

from tenaz.catalogues.outside import parse_json, read_bytes
from tenaz.core.base.errors import Refused
from tenaz.core.machine.machine import Machine
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.intake.new_rigs import rig_from

_machine, _rig = TypeAdapter(Machine), TypeAdapter(Rig)


def machine_to_text(machine: Machine) -> str:
    """A machine as JSON."""
    return _with_form("machine", _machine.dump_python(machine, mode="json"))


def rig_to_text(rig: Rig) -> str:
    """A rig as JSON, to be edited and read in again."""
    return _with_form("rig", _rig.dump_python(rig, mode="json"))


def read_rig(path: Path, name: str = "") -> Rig:
    """Read a file made by ``tenaz probe --save`` or ``tenaz rig --save``; a machine becomes a rig reached by hand.

    Raises:
        Refused: the file is neither; names what is wrong in it.
    """
    values = parse_json(read_bytes(path), str(path))
    try:
        rig = _rig.validate_python(values)
    except ValidationError as no_rig:
        try:
            machine = _machine.validate_python(values)
        except ValidationError as no_machine:
            raise Refused(f"{path} is neither a rig nor a probed machine: {_first(no_machine)}.") from no_machine
        if machine == Machine():
            raise Refused(f"{path} is neither a rig nor a probed machine: {_first(no_rig)}.") from no_rig
        return rig_from(machine, name or path.stem, (BenchKind.HAND,))
    rig.check_whole()
    rig.check_past(rig.stock)
    return rig.came_with(rig.stock)


def _with_form(name: str, values: dict[str, Any]) -> str:
    """One object with its form and version; who reads it in passes over both."""
    return json.dumps({"format": f"tenaz/{name}", "version": 1, **values}, indent=2, ensure_ascii=False)


def _first(error: ValidationError) -> str:
    """The first thing that is wrong, with its place in the file."""
    problem = error.errors()[0]
    place = ".".join(str(part) for part in problem["loc"])
    return f"{place}: {problem['msg']}" if place else str(problem["msg"])
