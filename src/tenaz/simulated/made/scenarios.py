"""Scenarios: rigs to practise on, each with its story, in TOML; a rig and its machine's first state are made of one."""

from datetime import UTC, datetime
from functools import cache
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from tenaz.catalogues.changing import changed_by
from tenaz.catalogues.outside import read_text, typed_path
from tenaz.catalogues.reading import built_in, knobs_of, parse_toml
from tenaz.core.base.errors import Refused
from tenaz.core.base.tolerance import Tolerance
from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import AUTO, Setpoint, Value
from tenaz.core.knobs.timings.clocks import Family
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.machine.machine import Cache, CacheKind, Core, Machine, MemoryModule
from tenaz.core.rigs.rig import BenchKind, Purpose, Rig
from tenaz.simulated.made.faults import parse_fault
from tenaz.simulated.made.populations import read_population
from tenaz.simulated.made.shipped import names_in, read_shipped
from tenaz.simulated.state import State, new_state

KIB, GIB = 2**10, 2**30
Text = Annotated[str, Field(max_length=400)]
NARROWED = ("ddr4", "ddr5", "processor")
"""Catalogues of which a simulated board offers less."""


class _Entry(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class PurposeEntry(_Entry):
    """What the rig is for."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    guard_band_steps: Annotated[int, Field(ge=0, le=50)] = 0
    tolerated_failures: Annotated[float, Field(gt=0, le=1e6)] = 1.0
    in_hours: Annotated[float, Field(gt=0, le=1e7)] = 1000.0
    confidence: Annotated[float, Field(ge=0.5, le=0.999)] = 0.95
    hours_asked: dict[LoadKind, Annotated[float, Field(gt=0, le=1000)]]
    processor_ceiling_c: tuple[float, float] = (90.0, 100.0)
    module_ceiling_c: tuple[float, float] = (78.0, 85.0)


class CacheEntry(_Entry):
    """A level of cache: how large one is, and how many neighbouring cores share it."""

    level: Annotated[int, Field(ge=1, le=4)]
    kib: Annotated[int, Field(ge=1, le=2**21)]
    cores: Annotated[int, Field(ge=1, le=256)] = 1


class ProcessorEntry(_Entry):
    """The processor."""

    name: Text
    cores: Annotated[int, Field(ge=1, le=256, description="how many cores it has")]
    threads_a_core: Annotated[int, Field(ge=1, le=4)] = 1
    base_mhz: Annotated[int, Field(ge=200, le=10000)]
    highest_mhz: Annotated[int, Field(ge=200, le=10000)]
    cache: tuple[CacheEntry, ...] = ()

    @model_validator(mode="after")
    def _rises(self) -> "ProcessorEntry":
        if self.highest_mhz < self.base_mhz:
            raise ValueError(f"highest_mhz {self.highest_mhz} lies below base_mhz {self.base_mhz}")
        return self


class ModuleEntry(_Entry):
    """A slot, and the module in it; without a size it is empty."""

    slot: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,20}$")]
    gib: Annotated[int, Field(ge=1, le=512)] | None = None
    maker: Text = ""
    part: Text = ""
    serial: Text = ""
    ranks: Annotated[int, Field(ge=1, le=4)] = 1
    rated_mts: Annotated[int, Field(ge=200, le=20000)] | None = None


class Scenario(_Entry):
    """A rig with its story. ``population`` is a kind that comes along, or a file; ``sheet`` is where its stock differs
    from the standard's values; ``faults`` are written like ``bad-lane B1``.
    """

    name: Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
    population: str
    seed: Annotated[int, Field(ge=0, le=2**53)]
    memory: Family
    purpose: PurposeEntry
    processor: ProcessorEntry
    slots: Annotated[tuple[ModuleEntry, ...], Field(min_length=1, max_length=16)]
    memory_seen_gib: Annotated[int, Field(ge=1, le=8192)] | None = None
    owner: Text = ""
    complaint: Text = ""
    by_eye: Text = ""
    story: Text = ""
    goal: Text = ""
    door: Text = ""
    board: Text = ""
    firmware: Text = ""
    cooling: Text = ""
    guarantee_months: Annotated[int, Field(ge=0, le=240)] | None = None
    adds: tuple[Literal["processor", "graphics"], ...] = ()
    sheet: dict[str, int | Literal["auto"]] = Field(default_factory=dict)
    faults: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _agrees(self) -> "Scenario":
        names = [slot.slot for slot in self.slots]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice:
            raise ValueError(f"slots: {twice} is there twice; each slot has a name of its own")
        if not any(slot.gib for slot in self.slots):
            raise ValueError("slots: none holds a module; give one its gib")
        return self


def scenario_names() -> tuple[str, ...]:
    """The scenarios that come with Tenaz."""
    return names_in("scenarios")


def drawn_scenarios() -> tuple[str, ...]:
    """Those that studies draw rigs like: not the ones with a door, which are set otherwise, not made otherwise.

    What was learnt and measured rests on the others.
    """
    return tuple(name for name in scenario_names() if not scenario(name).door)


@cache
def scenario(name: str) -> Scenario:
    """One that comes with Tenaz.

    Raises:
        Refused: naming those that there are.
    """
    return read_shipped(Scenario, "scenarios", "scenario", name)


def read_scenario(which: str) -> Scenario:
    """A scenario by its name, or from a file in TOML.

    Raises:
        Refused: naming file, field, range and reason.
    """
    if not which.endswith(".toml"):
        return scenario(which)
    path = typed_path(which)
    found = parse_toml(Scenario, read_text(path), path.name)
    try:
        state_of(found, rig_of(found))
    except Refused as refused:
        raise Refused(f"{path.name}: {refused}") from refused
    return found


def rig_of(one: Scenario, seed: int | None = None) -> Rig:
    """The rig as it came to the workshop; each seed makes another specimen.

    Raises:
        Refused: a value on its sheet that may not be.
    """
    catalogue = one.memory.value.lower()
    platform = built_in(catalogue).platform
    knobs = tuple(knob for name in (catalogue, *one.adds) for knob in _offered(name, one.processor.cores))
    values: dict[str, Value] = {knob.name: knob.default if knob.default is not None else AUTO for knob in knobs}
    for name, value in one.sheet.items():
        if name not in values:
            raise Refused(f"sheet.{name}: {one.name} has no such knob.")
        values[name] = AUTO if isinstance(value, str) else value
    rig = Rig(
        name=one.name,
        purpose=_purpose(one.purpose),
        knobs=knobs,
        stock=Setpoint.of(values),
        benches=(BenchKind.SIM, BenchKind.HAND),
        processor=one.processor.name,
        cores=one.processor.cores,
        memory_bytes=sum(slot.gib or 0 for slot in one.slots) * GIB,
        parts=(("board", one.board), ("memory", _memory_in_words(one)), ("cooling", one.cooling)),
        seed=one.seed if seed is None else seed,
        machine=_machine(one, values.get("data_rate_mts", 0)),
        owner=one.owner,
        complaint=one.complaint,
        by_eye=one.by_eye,
        guarantee_months=one.guarantee_months,
        memory=one.memory.value,
        platform=platform.platform() if platform else None,
        door=one.door,
    )
    for knob in knobs:
        try:
            knob.check(rig.stock[knob.name], reason="as it came")
        except Refused as refused:
            raise Refused(f"sheet.{knob.name}: {refused}") from refused
    rig.check_whole()
    return rig


def state_of(one: Scenario, rig: Rig, at_utc: datetime | None = None) -> State:
    """The machine's first state: its population, its faulty parts, the exercise that it is for.

    Raises:
        Refused: a fault or a part that the rig does not have.
    """
    modules = {slot.slot: slot.serial or slot.slot for slot in one.slots if slot.gib}
    slots = tuple(slot.slot for slot in one.slots)
    try:
        faults = tuple(parse_fault(text, modules, slots, one.processor.cores) for text in one.faults)
    except Refused as refused:
        raise Refused(f"faults: {refused}") from refused
    kind = read_population(one.population)
    if kind.family is not one.memory:
        raise Refused(f"population {kind.name}: it is of {kind.family}, the rig has {one.memory}.")
    return new_state(kind, rig.seed, at_utc or datetime.now(UTC), faults, one.goal)


def _offered(name: str, cores: int) -> tuple[Knob, ...]:
    """What the firmware of a simulated board offers of a catalogue."""
    knobs = knobs_of(name, cores)
    return changed_by(knobs, built_in(f"simulated-{name}"), name) if name in NARROWED else knobs


def _purpose(entry: PurposeEntry) -> Purpose:
    return Purpose(
        entry.name, entry.guard_band_steps, tuple(entry.hours_asked.items()), entry.processor_ceiling_c,
        entry.module_ceiling_c, tolerance=Tolerance(entry.tolerated_failures, entry.in_hours, entry.confidence),
    )  # fmt: skip


def _memory_in_words(one: Scenario) -> str:
    fitted = [slot for slot in one.slots if slot.gib]
    return f"{fitted[0].maker} {len(fitted)}×{fitted[0].gib} GB {one.memory}".strip()


def _machine(one: Scenario, rate: Value) -> Machine:
    """What a probe of it would read."""
    chip, present = one.processor, rate if isinstance(rate, int) else None
    threads = [tuple(core + chip.cores * way for way in range(chip.threads_a_core)) for core in range(chip.cores)]
    caches = [
        Cache(entry.level, CacheKind.DATA if entry.level == 1 else CacheKind.UNIFIED, entry.kib * KIB, shared)
        for entry in chip.cache
        for shared in _blocks(threads, entry.cores)
    ]
    nominal_mv = 1100 if one.memory is Family.DDR5 else 1200
    modules = tuple(
        MemoryModule(
            slot.slot, slot.gib * GIB, one.memory.value, slot.maker, slot.part, slot.serial, slot.ranks, slot.rated_mts,
            present, nominal_mv,
        )
        if slot.gib
        else MemoryModule(slot.slot, 0)
        for slot in one.slots
    )  # fmt: skip
    return Machine(
        processor=chip.name,
        cores=tuple(Core(0, core, threads[core]) for core in range(chip.cores)),
        caches=tuple(caches),
        cores_fitted=chip.cores,
        base_mhz=chip.base_mhz,
        highest_mhz=chip.highest_mhz,
        board=one.board,
        firmware=one.firmware,
        boot_mode="UEFI",
        memory_bytes=one.memory_seen_gib * GIB if one.memory_seen_gib else None,
        modules=modules,
    )


def _blocks(threads: list[tuple[int, ...]], cores: int) -> list[tuple[int, ...]]:
    """Processors that share one cache, in the system's order of threads."""
    found = []
    for first in range(0, len(threads), cores):
        block = threads[first : first + cores]
        found.append(tuple(one[way] for way in range(len(block[0])) for one in block))
    return found
