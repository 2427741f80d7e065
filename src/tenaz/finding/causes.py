"""What can be at fault: kinds of causes with their places, and the part that each makes a suspect of."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.parts.fitting import Fitting, channel_of, name_of


class Part(StrEnum):
    """Kinds of suspects: what one would replace, work around, or set otherwise."""

    MODULE = "module"
    SLOT = "slot"
    CONTACT = "contact"
    CHANNEL = "channel"
    CORE = "core"
    COOLER = "cooler"
    SUPPLY = "supply"
    CONTROLLER = "controller"
    BOARD = "board"
    SETTING = "setting"
    NOTHING = "nothing"


class CauseKind(StrEnum):
    """What can be wrong with a part."""

    NOTHING = "nothing"
    CELLS = "cells"
    ROW = "row"
    LANE = "lane"
    SLOT = "slot"
    CONTACT = "contact"
    CHANNEL = "channel"
    CONTROLLER = "controller"
    CORE = "core"
    COOLER = "cooler"
    SUPPLY = "supply"
    BOARD = "board"
    HARD_MEMORY = "hard-memory"
    HARD_CORES = "hard-cores"

    @property
    def part(self) -> Part:
        """What it makes a suspect of."""
        return _PART[self]

    @property
    def about(self) -> str:
        """In words."""
        return _ABOUT[self]


_PART = {
    CauseKind.NOTHING: Part.NOTHING,
    CauseKind.CELLS: Part.MODULE,
    CauseKind.ROW: Part.MODULE,
    CauseKind.LANE: Part.MODULE,
    CauseKind.SLOT: Part.SLOT,
    CauseKind.CONTACT: Part.CONTACT,
    CauseKind.CHANNEL: Part.CHANNEL,
    CauseKind.CONTROLLER: Part.CONTROLLER,
    CauseKind.CORE: Part.CORE,
    CauseKind.COOLER: Part.COOLER,
    CauseKind.SUPPLY: Part.SUPPLY,
    CauseKind.BOARD: Part.BOARD,
    CauseKind.HARD_MEMORY: Part.SETTING,
    CauseKind.HARD_CORES: Part.SETTING,
}
_ABOUT = {
    CauseKind.NOTHING: "nothing of what is looked at",
    CauseKind.CELLS: "cells that forget too soon, more so when warm",
    CauseKind.ROW: "a row with bits that stay as they are",
    CauseKind.LANE: "a data lane that is misread now and then",
    CauseKind.SLOT: "a slot in which any module errs, and is at times not seen",
    CauseKind.CONTACT: "a contact that opens when its module is warm, and closes again",
    CauseKind.CHANNEL: "traces on which any module of the channel errs",
    CauseKind.CONTROLLER: "a controller that errs whatever sits in the slots",
    CauseKind.CORE: "a core that needs more voltage than the others",
    CauseKind.COOLER: "a cooler that does not take the heat away",
    CauseKind.SUPPLY: "a supply that sags when the load steps up",
    CauseKind.BOARD: "a regulator on the board that drops out, with any supply",
    CauseKind.HARD_MEMORY: "memory set harder than it can hold",
    CauseKind.HARD_CORES: "cores set harder than they can hold",
}
OF_MODULES = (CauseKind.CELLS, CauseKind.ROW, CauseKind.LANE)
OF_CELLS = (CauseKind.CELLS, CauseKind.ROW)
"""What is found only where it lies: who goes over half of memory meets half of it."""
SINGLE = (
    CauseKind.CONTROLLER, CauseKind.COOLER, CauseKind.SUPPLY, CauseKind.BOARD,
)  # fmt: skip
"""There is one of each."""


@dataclass(frozen=True, slots=True)
class Suspect:
    """A part; ``place`` is a module's serial, a slot, a channel or a core, empty where there is only one."""

    part: Part
    place: str = ""

    def show(self) -> str:
        """Like ``module 2262`` or ``slot B1``."""
        if self.part is Part.NOTHING:
            return "nothing that is looked at"
        if self.part is Part.SETTING:
            return "the setting: too hard"
        if self.part is Part.CONTACT:
            return f"contact in slot {self.place}"
        return f"{self.part} {self.place}" if self.place else f"the {self.part}"


NOTHING = Suspect(Part.NOTHING)


@dataclass(frozen=True, slots=True)
class Cause:
    """One kind of fault at one place; ``weight`` is how likely it is that it was there before anything was seen."""

    kind: CauseKind
    place: str = ""
    weight: float = 1.0

    @property
    def suspect(self) -> Suspect:
        """The part that it is about."""
        # What is set too hard is one thing, whichever module or core shows it first.
        return Suspect(self.kind.part, "" if self.kind.part is Part.SETTING else self.place)

    def acts_in(self, fitting: Fitting) -> bool:
        """Whether it can make itself felt while the parts stand like this."""
        if self.kind in OF_MODULES:
            return bool(fitting.sitting(self.place))
        if self.kind in (CauseKind.SLOT, CauseKind.CONTACT):
            return any(one.slot == self.place for one in fitting.fitted)
        if self.kind is CauseKind.CHANNEL:
            return any(channel_of(one) == self.place for one in fitting.fitted)
        if self.kind is CauseKind.CORE:
            return int(self.place) not in fitting.cores_off
        if self.kind is CauseKind.SUPPLY:
            return fitting.supplies == 0
        return not (self.kind is CauseKind.COOLER and fitting.cleanings)

    def channel_in(self, fitting: Fitting) -> str:
        """The channel on which its wrong values lie; empty where they lie on any."""
        if self.kind is CauseKind.CHANNEL:
            return self.place
        slot = self.slot_in(fitting)
        return next((channel_of(one) for one in fitting.modules if slot and one.slot == slot), "")

    def slot_in(self, fitting: Fitting) -> str:
        """The slot in which its wrong values come about; empty where in any."""
        if self.kind in OF_MODULES:
            return fitting.sitting(self.place)
        return self.place if self.kind in (CauseKind.SLOT, CauseKind.CONTACT) else ""


EMPTY_SLOT, KNOWN_GOOD, NEW_PART = 0.03, 0.02, 0.1
"""How much less likely: a slot that was empty when it failed, a module of the shelf, one that is new."""


def causes_of(fittings: Sequence[Fitting], cores: int, prior: dict[CauseKind, float]) -> tuple[Cause, ...]:
    """All that may be at fault in a rig whose parts stood like this, one after the other (the first: as it came)."""
    first = fittings[0]
    found = [Cause(CauseKind.NOTHING, "", prior[CauseKind.NOTHING])]
    modules = [name_of(one) for one in first.fitted]
    later: dict[str, float] = {}
    for fitting in fittings[1:]:
        for one in (*fitting.fitted, *fitting.aside):
            name = name_of(one)
            if name not in modules:
                later[name] = KNOWN_GOOD if name in fitting.spares else NEW_PART
    for kind in OF_MODULES:
        each = prior[kind] / max(1, len(modules))
        found += [Cause(kind, name, each) for name in modules]
        found += [Cause(kind, name, each * part) for name, part in later.items()]
    filled = max(1, len(first.fitted))
    for kind in (CauseKind.SLOT, CauseKind.CONTACT):
        for slot in first.modules:
            found.append(Cause(kind, slot.slot, prior[kind] / filled * (1.0 if slot.fitted else EMPTY_SLOT)))
    slots_on = [channel_of(one) for one in first.modules]
    # Of a channel with one slot nobody can tell whether it is the slot: it is called that.
    channels = tuple(dict.fromkeys(channel_of(one) for one in first.fitted if slots_on.count(channel_of(one)) > 1))
    found += [Cause(CauseKind.CHANNEL, one, prior[CauseKind.CHANNEL] / len(channels)) for one in channels]
    found += [Cause(CauseKind.CORE, str(core), prior[CauseKind.CORE] / cores) for core in range(cores)]
    found += [Cause(kind, "", prior[kind]) for kind in SINGLE]
    hard = prior[CauseKind.HARD_MEMORY] / max(1, len(modules))
    found += [Cause(CauseKind.HARD_MEMORY, name, hard) for name in modules]
    found += [Cause(CauseKind.HARD_CORES, str(core), prior[CauseKind.HARD_CORES] / cores) for core in range(cores)]
    return tuple(one for one in found if one.weight > 0)


def of_memory(kind: LoadKind) -> bool:
    """Whether a load checks memory."""
    return kind.strains is Strains.MEMORY
