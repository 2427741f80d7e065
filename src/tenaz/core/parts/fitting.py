"""How a rig's parts stand: what sits in which slot, what lies aside, which cores are off, what was done to the rest."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tenaz.core.machine.machine import Machine, MemoryModule
from tenaz.core.rigs.rig import Rig

ALL_MEMORY = "memory"
"""What stands for modules of which nothing is known."""
DEFAULT_MODULE_BYTES = 16 * 2**30


@dataclass(frozen=True, slots=True)
class Fitting:
    """The parts at one time. ``modules`` are all slots with what sits in them, ``aside`` modules that were taken out;
    ``seatings`` counts by slot how often a module was seated anew there, ``cleanings`` and ``supplies`` how often the
    cooler was cleaned and another supply put in; ``spares`` are serials that are known to be good, ``fresh`` counts
    modules that came without a serial of their own. ``others`` counts what was done to the rest, by its word;
    ``firmware`` is the version that was put on since (empty: none).
    """

    modules: tuple[MemoryModule, ...] = ()
    aside: tuple[MemoryModule, ...] = ()
    seatings: tuple[tuple[str, int], ...] = ()
    cores_off: tuple[int, ...] = ()
    cleanings: int = 0
    supplies: int = 0
    fan: bool = False
    spares: tuple[str, ...] = ()
    fresh: int = 0
    others: tuple[tuple[str, int], ...] = ()
    firmware: str = ""

    @property
    def fitted(self) -> tuple[MemoryModule, ...]:
        """The modules that sit in a slot."""
        return tuple(one for one in self.modules if one.fitted)

    @property
    def told(self) -> tuple[MemoryModule, ...]:
        """The modules that are known one by one, fitted or aside: none where only the memory as a whole is known."""
        return tuple(one for one in (*self.fitted, *self.aside) if one.slot != ALL_MEMORY)

    @property
    def whole_bytes(self) -> int:
        """What all fitted modules hold."""
        return sum(one.size_bytes or 0 for one in self.fitted)

    def seated(self, slot: str) -> int:
        """How often a module was seated anew in a slot."""
        return dict(self.seatings).get(slot, 0)

    def seated_anew(self, *slots: str) -> "Fitting":
        """With one more seating of each."""
        counts = dict(self.seatings)
        for slot in slots:
            counts[slot] = counts.get(slot, 0) + 1
        return replace(self, seatings=tuple(sorted(counts.items())))

    def done_again(self, what: str) -> "Fitting":
        """With something else done once more."""
        counts = dict(self.others)
        counts[what] = counts.get(what, 0) + 1
        return replace(self, others=tuple(sorted(counts.items())))

    def sitting(self, serial: str) -> str:
        """The slot that a module sits in; empty where it does not."""
        return next((one.slot for one in self.fitted if name_of(one) == serial), "")

    def into(self, rig: Rig) -> Rig:
        """The rig with these parts."""
        machine = replace(rig.machine or Machine(), modules=self.modules)
        machine = replace(machine, firmware=self.firmware or machine.firmware)
        return replace(rig, machine=machine, memory_bytes=self.whole_bytes, care=self.care)

    @property
    def care(self) -> str:
        """What was done beside the modules, in words: evidence of before it is that of other parts."""
        seated = [f"{slot} seated anew {count}×" for slot, count in self.seatings]
        off = [f"core {core} off" for core in self.cores_off]
        rest = [
            f"cleaned {self.cleanings}×" if self.cleanings else "",
            f"supply {self.supplies + 1}" if self.supplies else "",
            "fan on" if self.fan else "",
        ]
        others = [f"{what} anew {count}×" for what, count in self.others]
        return ", ".join(one for one in (*seated, *off, *rest, *others) if one)


def name_of(module: MemoryModule) -> str:
    """What one calls a module: its serial, or the label on it; where it has none, its part and slot."""
    return module.serial or " ".join(part for part in (module.part, module.slot) if part)


def channel_of(slot: MemoryModule) -> str:
    """The channel of a slot, as its name tells it."""
    return slot.channel or slot.slot[:1]


def fitted_modules(rig: Rig) -> tuple[MemoryModule, ...]:
    """The modules in a rig's slots; where nobody said, two alike."""
    return tuple(module for module in slots_of(rig) if module.fitted)


def slots_of(rig: Rig) -> tuple[MemoryModule, ...]:
    """All slots with what sits in them; where nobody said, two modules."""
    known = rig.machine.modules if rig.machine else ()
    if known:
        return known
    half = (rig.memory_bytes or 2 * DEFAULT_MODULE_BYTES) // 2
    return tuple(MemoryModule(slot, half, rig.family, part="module", serial=slot) for slot in ("A2", "B2"))


def fitting_of(rig: Rig, simulated: bool = True) -> Fitting:
    """The parts as the rig's form tells them, before anybody worked on them. Of a real one whose slots nobody typed,
    all memory is one part: nothing is made up.
    """
    if simulated or (rig.machine and rig.machine.modules):
        return Fitting(slots_of(rig))
    whole = rig.memory_bytes or DEFAULT_MODULE_BYTES
    return Fitting((MemoryModule(ALL_MEMORY, whole, rig.memory, part="memory", serial=ALL_MEMORY),))


def as_seen(stood: Fitting, seen: Sequence[MemoryModule]) -> Fitting | None:
    """The parts as the firmware sees them at a start, where that differs from how they stood: what sat there and is not
    seen lies aside, what lay aside and is seen does no more. None: nothing differs, or nothing is seen.
    """
    sits = {one.slot: one for one in seen if one.fitted}
    now = tuple((name_of(one), one.slot) for one in stood.fitted)
    if not sits or sorted(now) == sorted((name_of(one), slot) for slot, one in sits.items()):
        return None
    if any(one.slot == ALL_MEMORY for one in stood.modules):
        return Fitting(tuple(seen))
    here = {name_of(one) for one in sits.values()}
    known = (*stood.fitted, *stood.aside)
    aside = tuple(one for one in known if name_of(one) not in here)
    after = replace(stood, modules=tuple(seen), aside=aside)
    moved = [slot for slot, one in sits.items() if (name_of(one), slot) not in now]
    return after.seated_anew(*moved)


def unseen_in(fitting: Fitting, seen_bytes: int | None, slots_seen: Sequence[str] = ()) -> str:
    """What is missing of the full capacity, in words: ``16.0 of 32.0 GiB seen: B1 not seen``; empty where nothing is,
    or nothing is known. Firmware and graphics keep a little for themselves.
    """
    whole = fitting.whole_bytes
    missing = [one.slot for one in fitting.fitted if slots_seen and one.slot not in slots_seen]
    smallest = min((one.size_bytes or 0 for one in fitting.fitted), default=0)
    if not missing and (not seen_bytes or seen_bytes > whole - smallest * 0.75):
        return ""
    which = f": {', '.join(missing)} not seen" if missing else ": one module or more is not seen"
    seen = seen_bytes if seen_bytes else whole - sum(o.size_bytes or 0 for o in fitting.fitted if o.slot in missing)
    return f"{seen / 2**30:.0f} of {whole / 2**30:.0f} GiB seen{which}"
