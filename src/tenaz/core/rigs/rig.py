"""A rig: the machine being tuned, its knobs, its stock setpoint, and what it is for."""

import re
from collections.abc import Iterable
from dataclasses import dataclass, replace
from difflib import get_close_matches
from enum import StrEnum

from tenaz.core.base import limits
from tenaz.core.base.errors import Refused
from tenaz.core.base.tolerance import TOLERANCE, Tolerance
from tenaz.core.knobs.clock_tree import Platform
from tenaz.core.knobs.grid import Grid
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.names import DATA_RATE
from tenaz.core.knobs.setpoint import AUTO, Auto, Setpoint
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.plan import LoadKind
from tenaz.core.loads.reach import Reach, least_usual
from tenaz.core.machine.machine import Machine
from tenaz.core.machine.parts_told import BETWEEN, FIRMWARE
from tenaz.core.rigs.door_map import Mapped
from tenaz.core.words.finding import find, names_for
from tenaz.core.words.knobs import KNOBS
from tenaz.core.words.word import About

UNITS = re.compile(r"_(nck|mts|mhz|mv|ohm|w|c|steps|percent)$")
"""What a knob's name ends in."""

SAMPLE_PERIODS_S = (0.2, 60.0)
"""How often sensors can be read: shorter costs what is to be measured, longer guards nothing."""
MOST_CEILING_C = 200.0

MOST_NAME = 80
MOST_NAMES = 6
"""Names of knobs that a refusal lists."""


@dataclass(frozen=True, slots=True)
class Traits:
    """What a bench can do by itself. ``simulated``: its trials say nothing about the rig itself. ``needs_hands``:
    somebody must enter values and look. ``restarts_us``: its rig is the machine that Tenaz runs on, so that a restart
    ends Tenaz, and the trial is taken up again. ``watches_load``: loads run under Tenaz's own eyes, with heartbeats.
    ``outlives_us``: a load runs on without Tenaz, elsewhere, and can be joined again.
    """

    simulated: bool = False
    needs_hands: bool = False
    restarts_us: bool = False
    watches_load: bool = True
    outlives_us: bool = False


class BenchKind(StrEnum):
    """How Tenaz reaches a rig."""

    SIM = "sim"
    HERE = "here"
    HAND = "hand"
    WIRE = "wire"

    @property
    def traits(self) -> Traits:
        """What it can do by itself."""
        return _TRAITS[self]

    @property
    def real(self) -> bool:
        """Whether trials there say something about the rig itself, not about a stand-in."""
        return not self.traits.simulated


_TRAITS = {
    BenchKind.SIM: Traits(simulated=True),
    BenchKind.HERE: Traits(needs_hands=True, restarts_us=True),
    BenchKind.HAND: Traits(needs_hands=True, watches_load=False),
    BenchKind.WIRE: Traits(needs_hands=True, outlives_us=True),
}


@dataclass(frozen=True, slots=True)
class Purpose:
    """What a rig is for: the failures that it tolerates in use, the hours asked of each kind of load and the least
    reach at which they count, and the temperatures in °C from which on is warned and stopped, for the processor, for
    memory modules and for graphics. ``guard_band_steps`` is the least distance in grid steps from the easiest failure,
    whatever the judgement of the edge says; usually none.
    """

    name: str
    guard_band_steps: int
    hours_asked: tuple[tuple[LoadKind, float], ...]
    processor_ceiling_c: tuple[float, float] = (90.0, 100.0)
    module_ceiling_c: tuple[float, float] = (78.0, 85.0)
    reach_asked: tuple[tuple[LoadKind, Reach], ...] = ()
    tolerance: Tolerance = TOLERANCE
    warmest_room_c: float | None = None
    """The warmest day that it is to stand, in °C around the rig; None: none was named."""
    graphics_ceiling_c: tuple[float, float] = (95.0, 105.0)

    @property
    def proof_h(self) -> float:
        """Hours of all kinds of load together."""
        return sum(hours for _, hours in self.hours_asked)

    def least_reach(self, kind: LoadKind) -> Reach:
        """What a kind of load must have got at for its hours to count; the usual where nothing was said."""
        return dict(self.reach_asked).get(kind) or least_usual(kind)


LEAST_PULSE_H = 1 / 6
"""Shorter, and a supply has not warmed up."""


def proof_by(march_h: float) -> tuple[tuple[LoadKind, float], ...]:
    """The hours of a proof by what can fail, where so many are asked of memory: its cells and paths; what they hold
    while they are left alone, warm from what ran before; all cores; each core alone at its highest boost, which loads
    of all cores never show; and steps from idle to full, for the supply.
    """
    return (
        (LoadKind.MARCH, march_h),
        (LoadKind.RETAIN, march_h / 4),
        (LoadKind.TRANSFORM, march_h / 2),
        (LoadKind.SOLO, march_h / 4),
        (LoadKind.PULSE, max(LEAST_PULSE_H, march_h / 8)),
    )


OWN = Purpose("own machine", 0, proof_by(1.0), tolerance=Tolerance(1, 200, 0.9))
CLIENT = Purpose("a client's machine", 0, proof_by(4.0), tolerance=Tolerance(1, 1000, 0.95))
GUARANTEED = Purpose(
    "guaranteed for three winters",
    0,
    proof_by(8.0),
    processor_ceiling_c=(85.0, 95.0),
    module_ceiling_c=(70.0, 80.0),
    tolerance=Tolerance(1, 2000, 0.95),
)


def stock_strain(rig: "Rig", knob: Knob) -> int | None:
    """The strain at which the rig came; None where the firmware chooses, or nobody knows."""
    value = rig.stock[knob.name]
    return None if isinstance(value, Auto) or value not in knob.grid else knob.strain(value)


def _bare(name: str) -> str:
    return re.sub(r"[^a-z0-9]", "", name.lower())


def _spellings(knob: Knob) -> set[str]:
    """All that a knob may be called, in small letters and figures only."""
    full = {knob.name, UNITS.sub("", knob.name), knob.label, knob.standard_label}
    bare = {_bare(one) for one in full if one}
    # The t of a timing is often left out.
    return bare | {one[1:] for one in bare if knob.unit == "nCK" and one.startswith("t") and len(one) > 2}


@dataclass(frozen=True, slots=True)
class Rig:
    """The machine being tuned, as far as it is known; empty text and None mean unknown.

    ``machine`` is what was read of it; ``by_eye`` what the eye found: dirt, a bent contact, a loose plug.
    ``sensors_watched`` are parts of sensors' names (none: all are watched), read every ``sample_period_s``.
    ``memory`` is its generation (DDR4, DDR5); ``platform`` its clocks, where they are known.
    ``care`` is what was done to its other parts, as evidence belongs to that too.
    ``symptoms`` are those that were ticked (None: read them out of the complaint).
    ``clearing`` says how this board's settings are cleared, ``start_codes`` what its lights or beeps mean, ``also_set``
    are settings of its firmware that are no knobs, and are gone after a clear: boot order, fan curves.
    ``in_use_h`` are hours that its owner used it without a failure, as was told.
    ``seed`` makes the simulated machine; it means nothing on other benches. ``room_c`` is the temperature around it.
    """

    name: str
    purpose: Purpose
    knobs: tuple[Knob, ...]
    stock: Setpoint
    benches: tuple[BenchKind, ...]
    processor: str = ""
    cores: int | None = None
    memory_bytes: int | None = None
    parts: tuple[tuple[str, str], ...] = ()
    seed: int = 0
    machine: Machine | None = None
    owner: str = ""
    complaint: str = ""
    by_eye: str = ""
    guarantee_months: int | None = None
    sensors_watched: tuple[str, ...] = ()
    sample_period_s: float = 1.0
    memory: str = ""
    platform: Platform | None = None
    room_c: float | None = None
    symptoms: tuple[str, ...] | None = None
    care: str = ""
    clearing: str = ""
    start_codes: str = ""
    also_set: tuple[str, ...] = ()
    in_use_h: float = 0.0
    wire: str = ""
    """How it is reached over a wire: ``ssh HOST``, ``serial DEVICE``."""
    power: str = ""
    """How its power is switched from here: ``wake MAC`` for wake on LAN, or an address that takes ``{state}``."""
    door: str = ""
    """Through which door of its own it is set without hands: ``redfish https://HOST login=FILE``, ``kernel``."""
    door_map: tuple[Mapped, ...] = ()
    """Which attribute of that door is which knob, as somebody confirmed it."""
    experience: tuple[tuple[str, str], ...] = ()
    """By knob what past rigs say of its edge on this one, as it was learnt when it was last climbed."""

    @property
    def cores_known(self) -> int:
        """How many cores it has: as typed, else as read of the machine; 0 where nobody knows."""
        return self.cores or (len(self.machine.cores) if self.machine else 0)

    @property
    def fitted(self) -> str:
        """The parts that evidence belongs to, and the firmware: of each fitted slot what sits there. Empty where
        nothing is known; what is not known of a part is left out.
        """
        machine = self.machine
        if machine is None:
            return ""
        modules = [
            " ".join(part for part in (module.slot, module.part, module.serial) if part)
            for module in machine.modules
            if module.fitted
        ]
        told = [f"{FIRMWARE}{machine.firmware}"] if machine.firmware else []
        told += [self.care] if self.care else []
        return BETWEEN.join((*sorted(modules), *told))

    def needs_hands(self, bench: BenchKind) -> bool:
        """Whether somebody must enter values, as it is reached there: not where it has a door of its own."""
        return bench.traits.needs_hands and not (self.door and self.door_map and bench.traits.outlives_us)

    @property
    def slots(self) -> tuple[str, ...]:
        """The slots in which a module sits, in the firmware's order; empty where nothing is known."""
        machine = self.machine
        return () if machine is None else tuple(one.slot for one in machine.modules if one.fitted and one.slot)

    def without_values(self, name: str, values: Iterable[int]) -> "Rig":
        """The rig with values taken off a knob's grid, because its firmware makes others of them.

        Raises:
            Refused: nothing would be left, or stock stands there.
        """
        knob, gone = self.knob(name), set(values)
        left = [value for value in knob.grid.values() if value not in gone]
        if not left or self.stock[knob.name] in gone:
            raise Refused(f"{knob.label} cannot lose {', '.join(map(str, sorted(gone)))}: its stock value must stay.")
        narrowed = replace(knob, grid=Grid.of(left))
        return replace(self, knobs=tuple(narrowed if one.name == knob.name else one for one in self.knobs))

    def came_with(self, stock: Setpoint) -> "Rig":
        """The rig with this stock: its values are on their grids, and no ceiling lies below them. What was on auto and
        is a number now was that all along.
        """
        numbers = stock.numbers()
        told = {name for name in numbers if self.stock[name] is AUTO and name in self.stock} | set(self.stock.stood)
        stock = Setpoint(stock.items_by_name, tuple(sorted(name for name in told if name in numbers)))
        knobs = tuple(one.as_found(numbers[one.name]) if one.name in numbers else one for one in self.knobs)
        return replace(self, knobs=knobs, stock=stock)

    def holding(self, setpoint: Setpoint) -> "Rig":
        """The rig with all values of a setpoint on its grids, because they were in force: what happened happened, on
        the grid or not, and above a ceiling too. Ceilings stay.
        """
        numbers = setpoint.numbers()
        if all(knob.name not in numbers or numbers[knob.name] in knob.grid for knob in self.knobs):
            return self
        return replace(
            self, knobs=tuple(one.holding(numbers[one.name]) if one.name in numbers else one for one in self.knobs)
        )

    @property
    def family(self) -> Family:
        """Its generation of memory; where nobody said, by the rates that its knob goes through."""
        if self.memory:
            return Family.of(self.memory)
        rate = next((knob for knob in self.knobs if knob.name == DATA_RATE), None)
        return Family.DDR4 if rate is not None and rate.grid.first < 4000 else Family.DDR5

    def knowing(self, name: str, value: int) -> "Rig":
        """The rig with a value of its stock that was not known. It is taken as it is, on the catalogue's grid or not,
        above a ceiling too: the rig came with it.

        Raises:
            Refused: a value that cannot be.
        """
        knob = self.knob(name)
        knob.check_past(value)
        value = knob.nearest_alike(value)
        knobs = tuple(one.as_found(value) if one.name == knob.name else one for one in self.knobs)
        return replace(self, knobs=knobs, stock=self.stock.replacing(knob.name, value))

    def knob(self, name: str) -> Knob:
        """Find a knob by its name or its label, however that is spelled: ``t-cl``, ``tCL``, ``CL`` and ``t_cl_nck`` are
        one; a part of a name that only one knob has is enough.

        Raises:
            Refused: naming the knobs that are near it, or that the rig has.
        """
        for knob in self.knobs:
            # Its own name, as everything but a person calls it, needs no spellings of all the others.
            if knob.name == name:
                return knob
        wanted = _bare(name)
        spelled = {knob.name: _spellings(knob) for knob in self.knobs}
        exact = [knob for knob in self.knobs if wanted in spelled[knob.name]]
        if not exact and (called := names_for(About.KNOB, name)):
            # The trade's own word for it.
            exact = [knob for one in called for knob in self.knobs if knob.name == one]
        holding = [knob for knob in self.knobs if wanted and any(wanted in one for one in spelled[knob.name])]
        if exact or len(holding) == 1:
            return (exact or holding)[0]
        names = [knob.name for knob in self.knobs]
        has = set(names)
        called_near = [one.word.name for one in find(name, KNOBS) if one.word.name in has]
        near = (
            [knob.name for knob in holding]
            or called_near
            or get_close_matches(name.lower().replace("-", "_"), names, cutoff=0.4)
        )
        near = near[:MOST_NAMES]
        listed = ", ".join(near or names[:MOST_NAMES]) + ("" if near or len(names) <= MOST_NAMES else " and more")
        raise Refused(f"rig {self.name} has no knob {name!r}; {'near it' if near else 'it has'}: {listed}.")

    def check_whole(self) -> None:
        """Refuse a rig that nothing could be done with.

        Raises:
            Refused: no bench, no knob, or data rates that mean nothing; says what is missing.
        """
        if not self.name.strip() or len(self.name) > MOST_NAME:
            raise Refused(f"a rig needs a name of 1 to {MOST_NAME} letters.")
        if not self.benches:
            raise Refused(f"{self.name} has no bench, so it cannot be reached; give it one of {', '.join(BenchKind)}.")
        if not self.knobs or len(self.knobs) > limits.MOST_KNOBS:
            raise Refused(f"{self.name} has {len(self.knobs)} knobs; give 1 to {limits.MOST_KNOBS}.")
        names = [knob.name for knob in self.knobs]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice:
            raise Refused(f"{self.name} has two knobs {twice}; keep one.")
        low, high = limits.LOWEST_RATE_MTS, limits.HIGHEST_RATE_MTS
        for knob in self.knobs:
            if knob.name == DATA_RATE and not low <= knob.grid.first <= knob.grid.last <= high:
                raise Refused(
                    f"{self.name}: data rates of {knob.grid.show()} mean nothing; they lie from {low} to {high}."
                )
        self.check_watch()

    def check_watch(self) -> None:
        """Refuse sampling and ceilings that would guard nothing.

        Raises:
            Refused: naming them, and what would do.
        """
        low, high = SAMPLE_PERIODS_S
        if not low <= self.sample_period_s <= high:
            raise Refused(
                f"{self.name} reads its sensors every {self.sample_period_s:g} s; give a period of {low:g} to {high:g}."
            )
        for what, (warning, stop) in (
            ("processor", self.purpose.processor_ceiling_c),
            ("modules", self.purpose.module_ceiling_c),
        ):
            if not -MOST_CEILING_C < warning <= stop < MOST_CEILING_C:
                raise Refused(
                    f"{self.name}: the ceilings of its {what} are {warning:g} and {stop:g} °C; give a warning and, not "
                    f"below it, a stop."
                )

    def check_past(self, setpoint: Setpoint) -> None:
        """Refuse a setpoint that cannot have been in force.

        Raises:
            Refused: naming the value and the remedy.
        """
        for knob in self.knobs:
            knob.check_past(setpoint[knob.name])

    def check(self, setpoint: Setpoint, reason: str = "") -> None:
        """Refuse a setpoint with a value that may not be set; a dry run before anything is touched.

        Raises:
            Refused: a value off its grid or above a hard ceiling; a rise past an advised one without a reason.
        """
        self.check_locks(setpoint)
        for knob in self.knobs:
            knob.check(setpoint[knob.name], reason)

    def check_locks(self, setpoint: Setpoint) -> None:
        """Refuse a setpoint that moves what is locked.

        Raises:
            Refused: naming the knob, why it is locked, and the remedy.
        """
        for knob in self.knobs:
            value = setpoint[knob.name]
            if knob.locked and value != self.stock[knob.name]:
                raise Refused(
                    f"{knob.label} is locked ({knob.locked}): leave it at {knob.show(self.stock[knob.name])}, or take "
                    f"the lock off in the rig's knobs."
                )
