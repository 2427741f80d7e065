"""Faulty parts, on request: what can be wrong with a machine, and where."""

import re
from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.base.errors import Refused


class FaultKind(StrEnum):
    """What can be wrong."""

    REGION = "weak-region"
    ROW = "bad-row"
    LANE = "bad-lane"
    SLOT = "bad-slot"
    CORE = "weak-core"
    SUPPLY = "sagging-supply"
    COOLER = "dusty-cooler"
    LYING = "lying-sensor"
    FROZEN = "frozen-sensor"
    CONTACT = "loose-contact"
    CHANNEL = "bad-channel"
    CONTROLLER = "weak-controller"
    REGULATOR = "weak-regulator"

    @property
    def about(self) -> str:
        """In words."""
        return _ABOUT[self]

    @property
    def where(self) -> str:
        """What it must be said of: a module by its slot, a slot, a core, or nothing."""
        return _WHERE[self]


_ABOUT = {
    FaultKind.REGION: "cells of a module that forget too soon, more so when warm",
    FaultKind.ROW: "a row of a module with bits that stay as they are",
    FaultKind.LANE: "a data lane of a module that is misread now and then, at any address",
    FaultKind.SLOT: "a slot in which any module errs, and is at times not seen",
    FaultKind.CORE: "a core that needs more voltage than the others",
    FaultKind.SUPPLY: "a supply that sags: restarts without a message when the load steps up",
    FaultKind.COOLER: "dust between the fins: hot, and slow under load",
    FaultKind.LYING: "the processor's temperature is told too low",
    FaultKind.FROZEN: "the processor's temperature does not move",
    FaultKind.CONTACT: "a contact of a slot that opens when its module is warm, and closes again",
    FaultKind.CHANNEL: "traces of the board on which any module of a channel errs",
    FaultKind.CONTROLLER: "a memory controller that errs now and then, whatever sits in the slots",
    FaultKind.REGULATOR: "a regulator on the board that drops out when the load steps up, with any supply",
}
_WHERE = {
    FaultKind.REGION: "module",
    FaultKind.ROW: "module",
    FaultKind.LANE: "module",
    FaultKind.SLOT: "slot",
    FaultKind.CONTACT: "slot",
    FaultKind.CORE: "core",
    FaultKind.CHANNEL: "channel",
}
_WHERE |= {kind: "" for kind in FaultKind if kind not in _WHERE}


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing that is wrong. ``where`` is the serial of a module, the name of a slot or channel, or the number of a
    core; it is empty where there is only one. ``strength`` is times the usual.
    """

    kind: FaultKind
    where: str = ""
    strength: float = 1.0

    def show(self) -> str:
        """In a line."""
        return f"{self.kind}{f' {self.where}' if self.where else ''}: {self.kind.about}"


STRENGTHS = (0.1, 10.0)


def parse_fault(text: str, modules: dict[str, str], slots: tuple[str, ...], cores: int) -> Fault:
    """A fault as typed: ``bad-lane A2``, ``weak-core 3``, ``dusty-cooler x2``. ``modules`` gives serials by slot.

    Raises:
        Refused: naming the word, and what there is.
    """
    words = text.split()
    kinds = {kind.value: kind for kind in FaultKind}
    if not words or words[0] not in kinds:
        raise Refused(f"{text.strip()[:40]!r} is no fault; there are: {', '.join(kinds)}.")
    kind, rest, strength = kinds[words[0]], words[1:], 1.0
    if rest and (found := re.fullmatch(r"[x×](\d{1,3}(?:\.\d{1,3})?)", rest[-1])):
        strength, rest = float(found[1]), rest[:-1]
        low, high = STRENGTHS
        if not low <= strength <= high:
            raise Refused(f"{kind}: strength {strength:g} is outside {low:g} to {high:g} times the usual.")
    if len(rest) != (1 if kind.where else 0):
        what = f"give {'a' if kind.where else 'no'} {kind.where or 'place'}"
        raise Refused(f"{kind} {' '.join(rest)[:40]}: {what}, like: {kind}{_example(kind, slots)}.")
    if kind.where == "core" and not (rest[0].isdecimal() and int(rest[0]) < cores):
        raise Refused(f"{kind}: there is no core {rest[0][:20]}; there are 0 to {cores - 1}.")
    if kind.where == "module" and rest[0] not in modules:
        raise Refused(
            f"{kind}: no module sits in {rest[0][:20]}; there are modules in {', '.join(modules) or 'no slot'}."
        )
    if kind.where == "slot" and rest[0] not in slots:
        raise Refused(f"{kind}: there is no slot {rest[0][:20]}; there are {', '.join(slots)}.")
    channels = tuple(dict.fromkeys(slot[:1] for slot in slots))
    if kind.where == "channel" and rest[0] not in channels:
        raise Refused(f"{kind}: there is no channel {rest[0][:20]}; there are {', '.join(channels)}.")
    where = modules[rest[0]] if kind.where == "module" else rest[0] if rest else ""
    return Fault(kind, where, strength)


def _example(kind: FaultKind, slots: tuple[str, ...]) -> str:
    return {"core": " 3", "": " x2", "channel": " A"}.get(kind.where, f" {slots[-1] if slots else 'A2'}")
