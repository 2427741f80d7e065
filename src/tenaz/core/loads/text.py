"""Loads as the line that one types for them: the opposite of reading it."""

from collections.abc import Callable, Sequence

from tenaz.core.loads.plan import LoadKind, LoadPlan, MarchMode
from tenaz.core.loads.programs import program_text

USUAL = LoadPlan(LoadKind.MARCH)


def load_text(plan: LoadPlan) -> str:
    """The line that :func:`tenaz.core.loads.parsing.parse_load` reads as this plan; what is as usual is not said."""
    if plan.kind is LoadKind.PROGRAM:
        return program_text(plan)
    beside = "".join(f" beside {_one(other, beside=True)}" for other in plan.beside)
    return f"{_one(plan)}{beside}"


def routine_text(plans: Sequence[LoadPlan]) -> str:
    """The line of loads in turn."""
    return "; ".join(map(load_text, plans))


def _one(plan: LoadPlan, beside: bool = False) -> str:
    fields = plan.kind.declared.fields
    own = (words(plan) for field, words in _FIELDS if field in fields)
    common = (words(plan) for field, words in _COMMON if plan.kind.declared.uses(field))
    length = "" if beside and plan.duration_s is None and plan.laps is None else _length(plan)
    return " ".join(word for word in (plan.kind.value, length, *own, *common) if word)


def _length(plan: LoadPlan) -> str:
    if plan.duration_s is None:
        return f"{plan.laps} lap{'s' if plan.laps != 1 else ''}" if plan.laps is not None else "until stopped"
    for unit, size in (("h", 3600), ("m", 60)):
        if plan.duration_s % size == 0:
            return f"{plan.duration_s / size:g}{unit}"
    return f"{plan.duration_s:g}s"


def _amount(plan: LoadPlan) -> str:
    if plan.size_bytes is not None:
        return f"{plan.size_bytes / 2**20:g}MiB"
    return "" if plan.share == USUAL.share else f"{plan.share * 100:.9g}%"


def _levels(plan: LoadPlan) -> str:
    if plan.level_to is not None:
        return f"{plan.level}-{plan.level_to}"
    return "" if plan.level is USUAL.level else plan.level


_FIELDS: tuple[tuple[str, Callable[[LoadPlan], str]], ...] = (
    ("share", _amount),
    ("test", lambda plan: "" if plan.test == USUAL.test else plan.test),
    ("data", lambda plan: "" if plan.data is USUAL.data else plan.data),
    ("mode", lambda plan: "" if plan.mode is MarchMode.CACHED else plan.mode),
    ("level", _levels),
    ("wait_s", lambda plan: "" if plan.wait_s == USUAL.wait_s else f"wait {plan.wait_s:g}s"),
    ("side_px", lambda plan: f"{plan.side_px}px" if plan.side_px else ""),
    ("cards", lambda plan: f"cards {','.join(map(str, plan.cards))}" if plan.cards else ""),
    ("pulse_hz", lambda plan: "" if plan.pulse_hz == USUAL.pulse_hz else f"{plan.pulse_hz:g}Hz"),
)
"""Words for what only some kinds of load know."""

_COMMON: tuple[tuple[str, Callable[[LoadPlan], str]], ...] = (
    ("workers", lambda plan: f"{plan.workers} worker{'s' if plan.workers != 1 else ''}" if plan.workers else ""),
    ("cores", lambda plan: f"cores {','.join(map(str, plan.cores))}" if plan.cores else ""),
    ("warm_c", lambda plan: f"{plan.warm_c:g}°C" if plan.warm_c is not None else ""),
    ("siblings", lambda plan: "" if plan.siblings else "one thread"),
    ("step_hz", lambda plan: f"in step {plan.step_hz:g}Hz" if plan.step_hz is not None else ""),
    ("stop_at_first_error", lambda plan: "" if plan.stop_at_first_error else "go on"),
)
