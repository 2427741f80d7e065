"""What the print of one trial points to, and how sure that is: likelihoods by cause, learnt from simulated weaknesses.

Each burst of wrong values is a word (:func:`tenaz.finding.sightings.print_key`, with the load where that waits or
hammers); how often each cause leaves which word was counted. Bursts of one trial are not quite independent: all but the
first count for less. A part of the sureness is always left to what nobody thought of.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib.resources import files
from math import exp, log

from pydantic import BaseModel, ConfigDict

from tenaz.core.base.amounts import show_chance
from tenaz.core.loads.plan import LoadKind, Mismatch, MismatchKind
from tenaz.finding.prints.features import Print, print_of
from tenaz.finding.sightings import core_blamed, print_key

WORTH_NAMING = 0.1
MOST_BURSTS = 12
BURST_S = 1.0
LATER_PART = 0.6
"""What a burst after the first counts for."""
SOFTENED = 0.1
NOBODY_THOUGHT = 0.008
SAME_CORE = 0.97
HOT_PART, LATE_PART = 0.75, 0.5
"""Wrong values in the hottest part of a run, and late in it, point to heat."""


class PrintCause(StrEnum):
    """What can leave a print."""

    CELL = "a cell"
    LEAK = "cells that leak"
    NEIGHBOUR = "rows that disturb their neighbours"
    LANE = "a data lane"
    CONTACT = "a slot or a contact"
    TIMING = "a timing or the signal"
    CONTROLLER = "the controller"
    CORE = "a core"
    SUPPLY = "the cores' voltage"


class PrintTable(BaseModel):
    """Counts of words by cause, and how likely each cause is at stock and at values that were moved."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    about: str
    counts: dict[PrintCause, dict[str, float]]
    at_stock: dict[PrintCause, float]
    moved: dict[PrintCause, float]


@cache
def print_table() -> PrintTable:
    """What comes along."""
    text = files("tenaz.finding").joinpath("prints.json").read_text(encoding="utf-8")
    return PrintTable.model_validate_json(text)


@dataclass(frozen=True, slots=True)
class Circumstances:
    """What is known of the run: its length in s, its temperatures in °C (lowest, highest), its number of cores, and
    whether anything stood harder than stock.
    """

    elapsed_s: float = 0.0
    temperature_c: tuple[float, float] | None = None
    cores: int = 0
    moved: bool = False


@dataclass(frozen=True, slots=True)
class Suspicion:
    """A suspect, how sure (0 to 1), the reason in words, and what to try next."""

    suspect: PrintCause
    sure: float
    reason: str
    try_next: str

    def show(self) -> str:
        """In words."""
        degree = "probably" if self.sure >= 0.6 else "possibly" if self.sure >= 0.3 else "perhaps"
        return f"{degree} {self.suspect} ({show_chance(self.sure)}): {self.reason}"


def suspicions(
    mismatches: Sequence[Mismatch], run: Circumstances | None = None, table: PrintTable | None = None
) -> tuple[Suspicion, ...]:
    """Everything worth naming, surest first."""
    found = print_of(mismatches)
    if found is None or LoadKind.PROGRAM in found.loads or any(one.card is not None for one in mismatches):
        return ()
    run, chances = run or Circumstances(), weighed(mismatches, run or Circumstances(), table)
    named = [
        Suspicion(cause, sure, _reason(cause, found) + _heat(found, run), TRY_NEXT[cause])
        for cause, sure in chances.items()
        if sure >= WORTH_NAMING
    ]
    return tuple(sorted(named, key=lambda one: -one.sure))


def weighed(
    mismatches: Sequence[Mismatch], run: Circumstances, table: PrintTable | None = None
) -> dict[PrintCause, float]:
    """The chance of each cause; what is missing to 1 is left to what nobody thought of."""
    table = table or print_table()
    prior = table.moved if run.moved else table.at_stock
    words = {word for counts in table.counts.values() for word in counts}
    logs = {cause: log(max(chance, 1e-9)) for cause, chance in prior.items()}
    nobody = log(NOBODY_THOUGHT)
    first_core: int | None = None
    for number, burst in enumerate(bursts_of(mismatches)):
        part, word = 1.0 if number == 0 else LATER_PART, word_of(burst)
        for cause in logs:
            counts = table.counts.get(cause, {})
            whole = sum(counts.values()) + SOFTENED * len(words)
            logs[cause] += part * log((counts.get(word, 0.0) + SOFTENED) / whole)
        nobody += part * log(1.0 / len(words))
        core = core_blamed(burst)
        if core is not None and first_core is not None:
            again = core == first_core
            cores = max(2, run.cores)
            for cause in logs:
                same = SAME_CORE if cause is PrintCause.CORE else 1.0 / cores
                logs[cause] += part * log(same if again else (1 - same) / (cores - 1))
        first_core = core if first_core is None else first_core
    most = max(*logs.values(), nobody)
    whole = sum(exp(one - most) for one in logs.values()) + exp(nobody - most)
    return {cause: exp(one - most) / whole for cause, one in logs.items()}


def bursts_of(mismatches: Sequence[Mismatch]) -> list[tuple[Mismatch, ...]]:
    """Wrong values that came together."""
    found: list[list[Mismatch]] = []
    for one in sorted(mismatches, key=lambda one: one.at_s):
        if found and one.at_s - found[-1][-1].at_s < BURST_S:
            found[-1].append(one)
        elif len(found) < MOST_BURSTS:
            found.append([one])
        else:
            break
    return [tuple(one) for one in found]


def word_of(burst: Sequence[Mismatch]) -> str:
    """What a burst looks like, and under which load where that matters."""
    load = burst[0].load
    word = print_key(burst)
    return f"{word} {load}" if load in (LoadKind.RETAIN, LoadKind.DISTURB) and burst[0].address else word


TRY_NEXT = {
    PrintCause.CELL: "move the modules: it goes with one of them; F asks which",
    PrintCause.LEAK: "a shorter refresh interval, and cooler modules",
    PrintCause.NEIGHBOUR: "a shorter refresh interval; if it fails at stock too, another module",
    PrintCause.LANE: "seat the module anew, then another slot: it stays with slot or module; F asks which",
    PrintCause.CONTACT: "seat the module anew and let it stay away long enough; then another slot; F asks which",
    PrintCause.TIMING: "one step easier: data rate first, then the timing that moved last",
    PrintCause.CONTROLLER: "a step more controller voltage, or a step less rate",
    PrintCause.CORE: "solo on that core; an offset for that core alone",
    PrintCause.SUPPLY: "a step more core voltage or load line, or a step less ratio; pulse tells droop from level",
}


def _reason(cause: PrintCause, found: Print) -> str:
    """What of the print it stands on."""
    lanes, cores = ", ".join(map(str, found.busiest_lanes(2))), found.cores
    places = f"{_many(found.words, 'word')} in {_many(found.pages, 'page')}"
    stored, moving = found.part(MismatchKind.STORED), found.part(MismatchKind.ON_THE_WAY)
    if cause in (PrintCause.CORE, PrintCause.SUPPLY):
        core, most = max(cores.items(), key=lambda item: item[1], default=(0, 0))
        many = f"wrong results on {len(cores)} cores"
        return f"{most} of {found.count} wrong results on core {core}" if cause is PrintCause.CORE else many
    how = f"{stored:.0%} stored wrong" if stored >= moving else f"{moving:.0%} wrong on the way"
    if cause is PrintCause.LANE:
        many = "lanes" if "," in lanes else "lane"
        return f"{found.lane_share():.0%} of the wrong bits on {many} {lanes}; {how}, {places}"
    if cause in (PrintCause.LEAK, PrintCause.NEIGHBOUR):
        return f"{how}, {found.one_way():.0%} of the bits the same way, {places}"
    return f"{how}, {found.bits / found.count:.0f} bits at a time, {places}"


def _many(count: int, what: str) -> str:
    return f"{count} {what}{'s' if count != 1 else ''}"


def _heat(found: Print, run: Circumstances) -> str:
    """Where it was hot and late, that is told beside: another cause may need it."""
    if run.temperature_c is None or not found.temperatures_c:
        return ""
    low, high = run.temperature_c
    mean = sum(found.temperatures_c) / len(found.temperatures_c)
    if high - low < 3 or (mean - low) / (high - low) < HOT_PART or found.first_s < LATE_PART * run.elapsed_s:
        return ""
    return f"; late, and at {mean:.0f} °C, when the run went from {low:.0f} to {high:.0f} °C: a fan on it tells heat"
