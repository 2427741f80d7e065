"""Who does what: a plan divided over workers, on cores that may be used, with memory that is to be had."""

import shutil
import time
from dataclasses import dataclass, replace

from tenaz.core.base.errors import Refused
from tenaz.core.loads.cards import Card
from tenaz.core.loads.plan import CacheLevel, LoadKind, LoadPlan, Strains, show_bytes
from tenaz.core.machine.physical_memory import Spans
from tenaz.loads.budget import BESIDE_OTHERS, Spared, worker_cores
from tenaz.loads.card_crews import Room, card_crew
from tenaz.loads.division import WorkerMemory, divided
from tenaz.loads.march import named_march, parse_march
from tenaz.loads.spec import Part, Spec


@dataclass(frozen=True, slots=True)
class Surroundings:
    """What a load must know of the machine: cores it may use, memory, cache sizes (all bytes), and which of the cores'
    threads are siblings (empty: not known). ``kept_free`` are ranges that the kernel does not use, which are part of
    ``total_bytes``, ``spared`` what must be left alone, ``memory`` all addresses that the firmware gives to a system
    (empty: not known), ``fitted_bytes`` what the modules hold (0: not known), ``cards`` the graphics cards, where a
    load asks for any.
    """

    cores: tuple[int, ...]
    total_bytes: int
    available_bytes: int
    cache_bytes: dict[CacheLevel, int]
    siblings: tuple[tuple[int, ...], ...] = ()
    kept_free: tuple[Part, ...] = ()
    spared: Spared = BESIDE_OTHERS
    memory: Spans = ()
    fitted_bytes: int = 0
    cards: tuple[Card, ...] = ()

    def core_of(self, thread: int) -> int:
        """The core that a thread is of, named by its first thread; the thread itself where that is not known."""
        return next((group[0] for group in self.siblings if thread in group), thread)


def specs_for(plan: LoadPlan, around: Surroundings) -> tuple[Spec, ...]:
    """Divide a plan and the loads beside it over workers.

    Raises:
        Refused: what was asked for is not to be had, or is no load; says what would be.
    """
    epoch_s = time.monotonic()
    specs: list[Spec] = []
    left_bytes, kept_free = around.available_bytes, around.kept_free
    for said in (plan, *plan.beside):
        one = replace(said, step_hz=plan.step_hz)
        _check(one)
        now = replace(around, available_bytes=left_bytes, kept_free=kept_free)
        if one.kind.declared.on_cards:
            room = Room(around.total_bytes, left_bytes, around.spared)
            first = Spec(one, len(specs), around.cores[0], 0, epoch_s=epoch_s)
            mine, taken = card_crew(first, around.cards, room)
            left_bytes -= taken
            specs += mine
            continue
        mine = _crew(one, _cores(one, around), now, len(specs), epoch_s)
        if one.kind.strains is Strains.MEMORY:
            left_bytes -= sum(spec.size - sum(part.size for part in spec.parts) for spec in mine)
            # Whose load comes first has the ranges.
            kept_free = ()
        specs += mine
    return tuple(specs)


def _check(plan: LoadPlan) -> None:
    if plan.duration_s is not None and plan.duration_s <= 0:
        raise Refused(f"a load cannot run for {plan.duration_s:g} s; give a time above zero.")
    if plan.laps is not None and plan.laps <= 0:
        raise Refused(f"a load cannot run for {plan.laps} laps; give one or more.")
    plan.kind.declared.check(plan)
    if "test" in plan.kind.declared.fields:
        parse_march(named_march(plan.test))
    if plan.command and shutil.which(plan.command[0]) is None:
        raise Refused(f"{plan.command[0]!r} is no program that can be run here; give its path, or install it.")


def _cores(plan: LoadPlan, around: Surroundings) -> tuple[int, ...]:
    """The cores that a plan may run on."""
    cores = around.cores
    if plan.cores:
        missing = [core for core in plan.cores if core not in around.cores]
        if missing:
            usable = ", ".join(map(str, around.cores))
            raise Refused(f"core {missing[0]} is not to be used here; there are: {usable}.")
        cores = plan.cores
    if not plan.siblings:
        if not around.siblings:
            raise Refused("which threads share a core is not known here; name cores instead.")
        first = {group[0] for group in around.siblings}
        cores = tuple(core for core in cores if core in first)
    return cores


def _crew(plan: LoadPlan, cores: tuple[int, ...], around: Surroundings, first: int, epoch_s: float) -> tuple[Spec, ...]:
    workers = 1 if plan.kind.declared.one_worker else plan.workers
    on = worker_cores(workers, cores)
    size, size_to = 0, 0
    ground: tuple[WorkerMemory, ...] = ()
    if plan.kind.strains is Strains.MEMORY:
        share = plan.share
        if plan.size_bytes is not None:
            if not 0 < plan.size_bytes <= around.total_bytes:
                raise Refused(
                    f"{show_bytes(plan.size_bytes)} is not a part of this machine's {show_bytes(around.total_bytes)}."
                )
            share = plan.size_bytes / around.total_bytes
        ground = divided(share, len(on), around.total_bytes, around.available_bytes, around.spared, around.kept_free)
    elif plan.kind.strains is Strains.CPU:
        level = CacheLevel.L1 if plan.kind is LoadKind.PULSE else plan.level
        plan = replace(plan, level=level)
        size = _cache_bytes(level, around)
        size_to = _cache_bytes(plan.level_to, around) if plan.level_to else 0
    plans = [replace(plan, laps=laps) for laps in _laps_each(plan, len(on))]
    ground = ground or (WorkerMemory(size),) * len(on)
    return tuple(
        Spec(plans[place], first + place, core, mine.size, size_to, place, len(on), epoch_s, mine.parts)
        for place, (core, mine) in enumerate(zip(on, ground, strict=True))
    )


def _laps_each(plan: LoadPlan, workers: int) -> list[int | None]:
    """Each worker does all laps; where they take turns, they share them."""
    if plan.laps is None or not plan.kind.declared.takes_turns:
        return [plan.laps] * workers
    each, more = divmod(plan.laps, workers)
    return [each + (place < more) for place in range(workers)]


def _cache_bytes(level: CacheLevel, around: Surroundings) -> int:
    return around.cache_bytes[CacheLevel.L3 if level is CacheLevel.MEMORY else level]
