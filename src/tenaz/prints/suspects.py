"""What a print points to, and how sure that is.

Each suspect's case is the product of the features that speak for it, so that one which is missing clears it; a few
wrong values make no case strong (a share of n/(n + 2), after Laplace's rule of succession). The rest of the sureness is
always left to what nobody thought of. These are rules of the trade with their reasons, not measured rates.
"""

from dataclasses import dataclass
from enum import StrEnum

from tenaz.core.loading import LoadKind, MismatchKind, Strains
from tenaz.prints.features import Print

WORTH_NAMING = 0.15
HOT_PART = 0.6
"""Wrong values in the hottest part of a run point to heat."""
LATE_PART = 0.5
FEW_PAGES = 4


class Suspect(StrEnum):
    """What can be at fault."""

    CELL = "a cell"
    LEAK = "cells that leak"
    LANE = "a data lane"
    TIMING = "a timing or the signal"
    CONTROLLER = "the controller"
    CORE = "a core"
    SUPPLY = "the cores' voltage"
    HEAT = "heat"


@dataclass(frozen=True, slots=True)
class Suspicion:
    """A suspect, how sure (0 to 1), the reason in words, and what to try next."""

    suspect: Suspect
    sure: float
    reason: str
    try_next: str

    def show(self) -> str:
        """In words."""
        degree = "probably" if self.sure >= 0.6 else "possibly" if self.sure >= 0.3 else "perhaps"
        return f"{degree} {self.suspect} ({self.sure:.0%}): {self.reason}"


@dataclass(frozen=True, slots=True)
class Circumstances:
    """What is known of the run: its length in s, its temperatures in °C (lowest, highest), its number of cores."""

    elapsed_s: float = 0.0
    temperature_c: tuple[float, float] | None = None
    cores: int = 0


def suspicions(found: Print, run: Circumstances | None = None) -> tuple[Suspicion, ...]:
    """Everything worth naming, surest first."""
    run = run or Circumstances()
    evidence = found.count / (found.count + 2)
    cases = [*_memory(found), *_processor(found, run), *_heat(found, run)]
    weighed = [Suspicion(one.suspect, one.sure * evidence, one.reason, one.try_next) for one in cases]
    return tuple(sorted((one for one in weighed if one.sure >= WORTH_NAMING), key=lambda one: -one.sure))


def _memory(found: Print) -> list[Suspicion]:
    """Cells, lanes, timings, controller: by what the second look showed, and how values lie."""
    stored, moving = found.part(MismatchKind.STORED), found.part(MismatchKind.ON_THE_WAY)
    memory = stored + moving
    if not found.words or memory == 0:
        return []
    together = 1.0 if found.pages <= FEW_PAGES and found.count > 1 else FEW_PAGES / (FEW_PAGES + found.pages)
    again = found.repeated / max(1, found.count - 1)
    lane, spread = found.lane_share(), 1 - together
    lanes = ", ".join(map(str, found.busiest_lanes(2)))
    retained = found.loads.get(LoadKind.RETAIN, 0) / found.count
    return [
        Suspicion(
            Suspect.CELL,
            stored * max(again, 0.7 * together),
            f"stored wrong, the same on reading again, on {found.words} word{'s' if found.words > 1 else ''} in "
            f"{found.pages} page{'s' if found.pages > 1 else ''}" + (", again and again" if again > 0.5 else ""),
            "move the modules: it goes with one of them; march ss in blocks over that part",
        ),
        Suspicion(
            Suspect.LANE,
            memory * lane * spread if found.count > 2 else 0.0,
            f"{lane:.0%} of the wrong bits on lane{'s' if ',' in lanes else ''} {lanes}, at addresses far apart",
            "seat the module anew, then another slot: it stays with slot or module",
        ),
        Suspicion(
            Suspect.TIMING,
            moving * spread * (1 - lane),
            "right on the second look, so wrong on the way; over many addresses and lanes",
            "one step easier: data rate first, then the timing that moved last",
        ),
        Suspicion(
            Suspect.CONTROLLER,
            0.8 * moving * spread * (1 - lane) * min(1.0, found.bits / found.count / 4),
            f"wrong on the way, {found.bits / found.count:.0f} bits at a time, over many lanes",
            "a step more controller voltage, or a step less rate",
        ),
        Suspicion(
            Suspect.LEAK,
            retained * stored * found.one_way(),
            f"found after waiting, {found.one_way():.0%} of the bits the same way",
            "a shorter refresh interval, and cooler modules",
        ),
    ]


def _processor(found: Print, run: Circumstances) -> list[Suspicion]:
    """Cores and their voltage: wrong results, and comparisons that were wrong."""
    wrong = found.part(MismatchKind.COMPUTED, MismatchKind.COMPARED)
    if not wrong or not found.cores or LoadKind.PROGRAM in found.loads:
        return []
    core, most = max(found.cores.items(), key=lambda item: item[1])
    alone = most / sum(found.cores.values())
    many = run.cores > 1
    cpu_load = any(kind.strains is Strains.CPU for kind in found.loads)
    return [
        Suspicion(
            Suspect.CORE,
            wrong * (alone if alone > 0.75 else 0.0) * (1.0 if many else 0.5),
            f"{most} of {found.count} wrong results on core {core}" + ("" if many else ", the only one that ran"),
            f"solo on core {core}; an offset for that core alone",
        ),
        Suspicion(
            Suspect.SUPPLY,
            wrong * (1 - alone if many else 0.3) * (1.0 if cpu_load else 0.5),
            f"wrong results on {len(found.cores)} core{'s' if len(found.cores) > 1 else ''}",
            "a step more core voltage or load line, or a step less ratio; pulse tells droop from level",
        ),
    ]


def _heat(found: Print, run: Circumstances) -> list[Suspicion]:
    """Heat: values that come when it is hottest, and late."""
    if run.temperature_c is None or not found.temperatures_c:
        return []
    low, high = run.temperature_c
    mean = sum(found.temperatures_c) / len(found.temperatures_c)
    if high - low < 3:
        return []
    hot = min(1.0, (mean - low) / (high - low))
    late = found.first_s > LATE_PART * run.elapsed_s
    return [
        Suspicion(
            Suspect.HEAT,
            max(0.0, (hot - HOT_PART) / (1 - HOT_PART)) * (0.9 if late else 0.4),
            f"at {mean:.0f} °C, when the run went from {low:.0f} to {high:.0f} °C"
            + (", and late in it" if late else ""),
            "the same load with a fan on it: if it holds, it was heat",
        )
    ]
