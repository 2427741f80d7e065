"""The loads: a closed set, each declared once, with all that command line, prompt and worker must know of it."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from tenaz.core.base.errors import Refused
from tenaz.core.loads.manners import CacheLevel, DataKind, MarchMode, Strains

__all__ = ["CacheLevel", "DataKind", "LoadKind", "LoadType", "MarchMode", "Strains"]


class LoadKind(StrEnum):
    """The kinds of stress."""

    MARCH = "march"
    CHECKER = "checker"
    PERMUTE = "permute"
    COPY = "copy"
    RETAIN = "retain"
    DISTURB = "disturb"
    TRANSFORM = "transform"
    SOLVE = "solve"
    DIGEST = "digest"
    PULSE = "pulse"
    SOLO = "solo"
    PAINT = "paint"
    SHADE = "shade"
    VRAM = "vram"
    PROGRAM = "program"

    @property
    def declared(self) -> "LoadType":
        """All that is said of it."""
        return LOAD_TYPES[self]

    @property
    def strains(self) -> Strains:
        """What it strains."""
        return LOAD_TYPES[self].strains

    @property
    def rate_unit(self) -> str:
        """Unit of its rate."""
        return LOAD_TYPES[self].rate_unit

    @property
    def about(self) -> str:
        """What it does and how it is verified, in a line."""
        return LOAD_TYPES[self].about


class Planned(Protocol):
    """What of a load's plan its declaration looks at; see :class:`tenaz.core.loads.plan.LoadPlan`."""

    @property
    def kind(self) -> LoadKind: ...
    @property
    def mode(self) -> MarchMode: ...
    @property
    def data(self) -> DataKind: ...
    @property
    def test(self) -> str: ...
    @property
    def level(self) -> CacheLevel: ...
    @property
    def level_to(self) -> CacheLevel | None: ...
    @property
    def wait_s(self) -> float: ...
    @property
    def pulse_hz(self) -> float: ...
    @property
    def side_px(self) -> int | None: ...
    @property
    def command(self) -> tuple[str, ...]: ...

    def amount(self) -> str:
        """How much of memory it goes over, in words."""
        ...

    def wait(self) -> str:
        """How long it leaves memory alone, in words."""
        ...


@dataclass(frozen=True, slots=True)
class LoadType:
    """One load. ``fields`` are those of a plan that it uses beside the common ones (time, laps, workers, cores, what
    runs beside it); the words that set them are in :mod:`tenaz.core.loads.parsing`. ``runs_in`` is its module among
    :mod:`tenaz.loads.kinds`. ``how`` says in words what a plan of it strains; ``check`` refuses one that is none.
    """

    strains: Strains
    rate_unit: str
    about: str
    runs_in: str
    fields: tuple[str, ...] = ()
    how: Callable[[Planned], str] = lambda plan: plan.kind.value
    check: Callable[[Planned], None] = lambda _: None
    takes_turns: bool = False
    """Its workers work one after the other and share the laps, instead of all doing all of them."""
    one_worker: bool = False
    """It brings its own workers, if any."""

    @property
    def on_cards(self) -> bool:
        """Whether each of its workers has a graphics card in place of a core."""
        return self.strains is Strains.GRAPHICS

    @property
    def goes_over(self) -> bool:
        """Whether it goes over memory, of whatever part, of which a share can be named."""
        return "share" in self.fields

    def uses(self, field: str) -> bool:
        """Whether a field of a plan means anything to it."""
        return field in COMMON_FIELDS or field in self.fields or (field in CORE_FIELDS and not self.on_cards)


COMMON_FIELDS = (
    "kind", "duration_s", "laps", "stop_at_first_error", "beside", "warm_c", "step_hz",
)  # fmt: skip
CORE_FIELDS = ("workers", "cores", "siblings")
"""Said of loads whose workers have a core each."""
AMOUNT = ("share", "size_bytes")

FIELDS_IN_WORDS = {
    "share": "a share of memory (25%)", "size_bytes": "an amount of memory (2 GiB)", "test": "a march test",
    "data": "what is written", "mode": "a mode", "level": "a cache level (L2)",
    "level_to": "a walk over levels (L1-L3)",
    "wait_s": "a wait", "pulse_hz": "a frequency (50 Hz)", "command": "a command", "bad_words": "bad words",
    "cards": "a card (card 0)", "side_px": "the side of its pictures (1024 px)",
    "workers": "a number of workers", "cores": "cores", "siblings": "one thread a core",
    "good_words": "good words",
}  # fmt: skip
"""What of a load can be said beside what all have."""

TILE_PX, SIDES_PX = 32, (256, 8192)
"""Pictures are verified tile by tile, each so many pixels square; and how large they may be along a side."""

LARGEST_PULSE_HZ = 1000.0
"""Half a period must hold several calls into machine code."""


def _amount(plan: Planned) -> str:
    words = plan.amount()
    return (
        words if plan.mode is MarchMode.CACHED or "mode" not in plan.kind.declared.fields else f"{words}, {plan.mode}"
    )


def _march(plan: Planned) -> str:
    words = plan.amount()
    words += f", {plan.test}" if plan.test != "C-" else ""
    words += f", {plan.data}" if plan.data is not DataKind.WORDS else ""
    return words + (f", {plan.mode}" if plan.mode is not MarchMode.CACHED else "")


def _vram(plan: Planned) -> str:
    words = plan.amount().replace("of memory", "of the card's memory")
    words += f", {plan.test}" if plan.test != "C-" else ""
    return words + (f", {plan.data}" if plan.data is not DataKind.WORDS else "")


def _retain(plan: Planned) -> str:
    mode = f", {plan.mode}" if plan.mode is not MarchMode.CACHED else ""
    return f"{plan.amount()}, waiting {plan.wait()}{mode}"


def _levels(plan: Planned) -> str:
    walk = f" to {plan.level_to}" if plan.level_to and plan.level_to is not plan.level else ""
    return f"in {plan.level}{walk}"


def _check_wait(plan: Planned) -> None:
    if plan.wait_s < 0:
        raise Refused(f"memory cannot be left alone for {plan.wait_s:g} s; give zero or more.")


def _check_pulse(plan: Planned) -> None:
    if not 0 < plan.pulse_hz <= LARGEST_PULSE_HZ:
        raise Refused(f"{plan.pulse_hz:g} pulses a second cannot be kept; give up to {LARGEST_PULSE_HZ:g}.")


def _check_side(plan: Planned) -> None:
    low, high = SIDES_PX
    if plan.side_px is not None and (not low <= plan.side_px <= high or plan.side_px % TILE_PX):
        raise Refused(
            f"pictures of {plan.side_px} px cannot be drawn; give a multiple of {TILE_PX} from {low} to {high}."
        )


def _check_command(plan: Planned) -> None:
    if not plan.command:
        raise Refused("a program of your own needs its command; give it after --.")


LOAD_TYPES = {
    LoadKind.MARCH: LoadType(
        Strains.MEMORY,
        "GB/s",
        "a march test in notation over all data backgrounds, every word",
        "marching",
        (*AMOUNT, "test", "data", "mode"),
        _march,
    ),
    LoadKind.CHECKER: LoadType(
        Strains.MEMORY,
        "GB/s",
        "neighbours in opposition: words, lines and row-sized blocks, every word",
        "marching",
        (*AMOUNT, "mode"),
        _amount,
    ),
    LoadKind.PERMUTE: LoadType(
        Strains.MEMORY,
        "GB/s",
        "lines in an order that touches each once and changes rows each time, every word",
        "permuting",
        AMOUNT,
        _amount,
    ),
    LoadKind.COPY: LoadType(
        Strains.MEMORY,
        "GB/s",
        "bulk moves between far regions, both ends verified",
        "copying",
        AMOUNT,
        _amount,
    ),
    LoadKind.RETAIN: LoadType(
        Strains.MEMORY,
        "GB/s",
        "written, left alone, verified: what cells lose while waiting",
        "marching",
        (*AMOUNT, "mode", "wait_s"),
        _retain,
        _check_wait,
    ),
    LoadKind.DISTURB: LoadType(
        Strains.MEMORY,
        "M reads/s",
        "lines read again and again from memory around others, which are verified",
        "disturbing",
        AMOUNT,
        _amount,
    ),
    LoadKind.TRANSFORM: LoadType(
        Strains.CPU,
        "GFLOP/s",
        "Fourier transforms there and back: inputs return, bits repeat",
        "transforming",
        ("level", "level_to"),
        _levels,
    ),
    LoadKind.SOLVE: LoadType(
        Strains.CPU,
        "GFLOP/s",
        "matrix products that are exact, and systems solved: every number, every residual",
        "solving",
        how=lambda _: "products and systems",
    ),
    LoadKind.DIGEST: LoadType(
        Strains.CPU,
        "GB/s",
        "hashing, compressing and restoring, sorting: whole numbers only",
        "digesting",
        how=lambda _: "hash, compress, sort",
    ),
    LoadKind.PULSE: LoadType(
        Strains.CPU,
        "GFLOP/s",
        "all cores in step between idle and full: the supply's load steps",
        "pulsing",
        ("pulse_hz",),
        lambda plan: f"{plan.pulse_hz:g} times a second",
        _check_pulse,
    ),
    LoadKind.SOLO: LoadType(
        Strains.CPU,
        "GFLOP/s",
        "one core at a time, the others idle: each at its highest clock, named when it fails",
        "soloing",
        ("level", "level_to"),
        _levels,
        takes_turns=True,
    ),
    LoadKind.PAINT: LoadType(
        Strains.GRAPHICS,
        "Mpx/s",
        "pictures drawn over and over, each compared with the card's own first ones, tile by tile and to the last bit",
        "painting",
        ("side_px", "cards"),
        lambda plan: f"pictures of {plan.side_px} px" if plan.side_px else "pictures",
        _check_side,
    ),
    LoadKind.SHADE: LoadType(
        Strains.GRAPHICS,
        "Gop/s",
        "a card's arithmetic, whole numbers and floating point: all comes back to where it began, bits repeat",
        "shading",
        ("cards",),
        how=lambda _: "arithmetic there and back",
    ),
    LoadKind.VRAM: LoadType(
        Strains.GRAPHICS,
        "GB/s",
        "a march test over a card's memory, every word written and verified by the card itself",
        "card_memory",
        (*AMOUNT, "test", "data", "cards"),
        _vram,
    ),
    LoadKind.PROGRAM: LoadType(
        Strains.ANYTHING,
        "runs/h",
        "a program of your own, judged by exit status and output",
        "programs",
        ("command", "bad_words", "good_words"),
        lambda plan: " ".join(plan.command),
        _check_command,
        one_worker=True,
    ),
}


def check_fields(kinds: "tuple[LoadKind, ...]", said: "tuple[str, ...]") -> None:
    """Refuse what was said of loads and means nothing to any of them.

    Raises:
        Refused: naming it, and what can be said of them.
    """
    for field in said:
        if not any(kind.declared.uses(field) for kind in kinds):
            known = dict.fromkeys(name for kind in kinds for name in kind.declared.fields)
            takes = ", ".join(FIELDS_IN_WORDS[name] for name in known) or "nothing but how long, on how many cores"
            names = ", ".join(dict.fromkeys(kinds))
            raise Refused(f"{FIELDS_IN_WORDS[field]} means nothing to {names}: it takes {takes}.")
