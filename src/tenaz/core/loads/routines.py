"""Routines: loads in turn at one setpoint, quick ones first, so that what is plainly unstable is found soon."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import MOST_TEXT_LETTERS
from tenaz.core.loads.parsing import in_turn, parse_load
from tenaz.core.loads.plan import (
    USUAL_DURATION_S,
    CacheLevel,
    DataKind,
    LoadKind,
    LoadPlan,
    MarchMode,
    endless_before_last,
    lasts_s,
)

MINUTE_S = 60.0

COMES_UP = LoadPlan(LoadKind.COPY, 20.0, share=0.2)
"""Before a setpoint is measured it must hold at least this: what errs is not fast."""

MOST_NAME = 80


@dataclass(frozen=True, slots=True)
class Routine:
    """A name, what it is for, and its loads in turn."""

    name: str
    about: str
    plans: tuple[LoadPlan, ...]

    @property
    def length_s(self) -> float | None:
        """How long it takes; None when a load of it goes by laps or until stopped."""
        return lasts_s(self.plans)


def _for(kind: LoadKind, minutes: float, **fields: object) -> LoadPlan:
    return replace(LoadPlan(kind, duration_s=minutes * MINUTE_S), **fields)  # type: ignore[arg-type]


EVERYTHING = (LoadPlan(LoadKind.MARCH, share=0.4, workers=1), LoadPlan(LoadKind.PAINT), LoadPlan(LoadKind.SHADE))
"""What runs beside all cores so that nothing of a machine rests."""

ROUTINES = {
    routine.name: routine
    for routine in (
        Routine(
            "sift",
            "minutes: what is plainly unstable shows",
            (
                _for(LoadKind.MARCH, 2, test="MATS+", data=DataKind.HASH),
                _for(LoadKind.TRANSFORM, 2, level=CacheLevel.L1, level_to=CacheLevel.L3),
                _for(LoadKind.PERMUTE, 2),
                _for(LoadKind.SOLO, 2, level=CacheLevel.L1),
                _for(LoadKind.DIGEST, 1, beside=(LoadPlan(LoadKind.COPY, share=0.2, workers=1),)),
            ),
        ),
        Routine(
            "prove",
            "hours: each weakness with the load that feels it most",
            (
                _for(LoadKind.MARCH, 60),
                _for(LoadKind.PERMUTE, 30),
                _for(LoadKind.COPY, 30),
                _for(LoadKind.CHECKER, 20),
                _for(LoadKind.RETAIN, 30, wait_s=300.0),
                _for(LoadKind.TRANSFORM, 60, level=CacheLevel.L1, level_to=CacheLevel.MEMORY),
                _for(LoadKind.SOLVE, 30),
                _for(LoadKind.PULSE, 10, pulse_hz=50.0),
                _for(LoadKind.SOLO, 20, level=CacheLevel.L1),
                _for(LoadKind.DIGEST, 20),
            ),
        ),
        Routine(
            "supply",
            "the whole machine at once, for its supply: steady, then in step",
            (
                _for(LoadKind.TRANSFORM, 20, beside=EVERYTHING),
                _for(LoadKind.TRANSFORM, 10, step_hz=1.0, beside=EVERYTHING),
                _for(LoadKind.TRANSFORM, 10, step_hz=5.0, beside=EVERYTHING),
            ),
        ),
        Routine(
            "soak",
            "overnight: slow weaknesses, heat, everything at once",
            (
                _for(LoadKind.MARCH, 180, test="SS", mode=MarchMode.BLOCKS),
                _for(LoadKind.MARCH, 120, data=DataKind.HASH),
                _for(LoadKind.DISTURB, 60),
                _for(LoadKind.RETAIN, 60, wait_s=900.0),
                _for(LoadKind.TRANSFORM, 120, beside=(LoadPlan(LoadKind.MARCH, share=0.4, workers=1),)),
                _for(LoadKind.SOLVE, 60),
            ),
        ),
    )
}
"""What is tried in which order, and for how long, is ours; loads of one's own can be named instead."""


def check_name(name: str) -> str:
    """A name that a routine of one's own can have, as it is kept.

    Raises:
        Refused: none, too long a one, one that is taken by what is shipped, or one that reads as loads in turn.
    """
    name = name.strip()
    if not name or len(name) > MOST_NAME or name.lower() in (*ROUTINES, *LoadKind) or ";" in name:
        raise Refused(
            f"{name[:MOST_NAME]!r} can be no routine's name: give 1 to {MOST_NAME} letters without semicolons, not the "
            f"name of a load or of a routine that is there anyway."
        )
    return name


def parse_routine(text: str, usual_s: float | None = USUAL_DURATION_S, own: Mapping[str, str] | None = None) -> Routine:
    """A routine by its name, or loads of one's own in turn, like ``march 10m; permute 5m``; each is as long as usual
    where it does not say how long. ``own`` are the lines of those that the workshop keeps, by name.

    Raises:
        Refused: neither; names the routines, or the word that is not understood.
    """
    wanted = text.strip().lower()
    if wanted in ROUTINES:
        return ROUTINES[wanted]
    for name, line in (own or {}).items():
        if name.lower() == wanted:
            return replace(parse_routine(line, usual_s), name=name, about="the workshop's own")
    if not wanted:
        raise Refused(f"name a routine ({', '.join(ROUTINES)}), or loads in turn, like: march 10m; permute 5m.")
    if len(text) > MOST_TEXT_LETTERS:
        raise Refused(f"{len(text)} letters are too long for a routine; run it in parts.")
    plans = tuple(parse_load(part, usual_s=usual_s) for part in in_turn(text) if part.strip())
    if endless_before_last(plans) is not None:
        raise Refused("a load that runs until it is stopped can only be the last of a routine; give the others a time.")
    return Routine("own", "loads of one's own", plans)
