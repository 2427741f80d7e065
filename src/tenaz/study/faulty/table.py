"""How the question path does on many drawn rigs: right first, wrong parts, calibration, minutes against practice."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from statistics import mean, median

import numpy as np

from tenaz.finding.causes import Part
from tenaz.study.faulty.drawing import draw
from tenaz.study.faulty.playing import LONG_MIN, SHORT_MIN, Played, play, practice
from tenaz.study.hands import hands

DECILES = 10


@dataclass(frozen=True, slots=True)
class Decile:
    """Suspicions from ``low`` on, a tenth wide: how many, how sure on average, and how many of them were right."""

    low: float
    count: int
    said: float
    true: float


@dataclass(frozen=True, slots=True)
class FaultTable:
    """All in one; parts of 1, minutes at the bench."""

    rigs: int
    right_first: float
    wrong_bad: float
    declared: float
    minutes: float
    minutes_median: float
    trials: float
    practice_minutes: float
    practice_right: float
    deciles: tuple[Decile, ...]
    by_part: tuple[tuple[str, int, float, float], ...]

    @property
    def part_of_practice(self) -> float:
        """Bench-minutes against those of the usual practice."""
        return self.minutes / self.practice_minutes if self.practice_minutes else float("nan")


def played(
    seeds: Sequence[int], told: Callable[[str], None], with_practice: bool = True
) -> tuple[list[Played], list[Played]]:
    """The question path and the usual practice on each seed's rig, over all cores."""
    found, usual = list[Played](), list[Played]()
    with hands() as many:
        for one, other in many.map(_both, seeds, [with_practice] * len(seeds), chunk=2):
            found.append(one)
            usual += [other] if other is not None else []
            told(f"{len(found)} of {len(seeds)} rigs, {sum(p.right for p in found)} right")
    return found, usual


def _both(seed: int, with_practice: bool) -> tuple[Played, Played | None]:
    return play(draw(seed)), practice(draw(seed)) if with_practice else None


def table_of(found: Sequence[Played], usual: Sequence[Played]) -> FaultTable:
    """Summed up."""
    minutes = [one.minutes for one in found]
    parts = {part: [one for one in found if one.truth[0].part is part] for part in Part}
    return FaultTable(
        rigs=len(found),
        right_first=mean(one.right for one in found),
        wrong_bad=mean(one.wrong for one in found),
        declared=mean(one.sure_of_it >= SURE for one in found),
        minutes=mean(minutes),
        minutes_median=median(minutes),
        trials=mean(one.trials for one in found),
        practice_minutes=mean(one.minutes for one in usual) if usual else 0.0,
        practice_right=mean(one.right for one in usual) if usual else 0.0,
        deciles=tuple(deciles(found)),
        by_part=tuple(
            (part.value, len(ones), mean(one.right for one in ones), mean(one.minutes for one in ones))
            for part, ones in parts.items()
            if ones
        ),
    )


SURE = 0.9


def deciles(found: Sequence[Played]) -> Iterable[Decile]:
    """Every suspicion of every rig against the truth."""
    said = np.array([sure for one in found for _, sure in one.sure])
    true = np.array([suspect in one.truth for one in found for suspect, _ in one.sure])
    for place in range(DECILES):
        low = place / DECILES
        here = (said >= low) & ((said < low + 1 / DECILES) | (place == DECILES - 1))
        if here.any():
            yield Decile(low, int(here.sum()), float(said[here].mean()), float(true[here].mean()))


def as_markdown(table: FaultTable) -> str:
    """For reading, and for the documents."""
    lines = [
        "# The question path on rigs with drawn faults",
        "",
        f"{table.rigs} simulated rigs like the three of the demo, each another specimen, with a fault drawn as often",
        "as the prior says (a tenth none, a tenth two) of a strength that shows in some days of use, and a complaint",
        "as that use would have it. Bench-minutes are work on the parts, starts, loads, and coming up after a crash.",
        "",
        f"The usual practice beside it: every module alone through {LONG_MIN:.0f} minutes of march, those that hold",
        "through each slot, then pulse and solo as long, and with what failed: cooler cleaned, another supply, clocks",
        f"cut, {SHORT_MIN:.0f} minutes each.",
        "",
        "| | question path | usual practice |",
        "|---|---|---|",
        f"| rigs | {table.rigs} | {table.rigs if table.practice_minutes else '-'} |",
        f"| right suspect first | {table.right_first:.3f} | {table.practice_right:.3f} |",
        f"| wrong part declared bad | {table.wrong_bad:.3f} | |",
        f"| sure of it by nine tenths | {table.declared:.3f} | |",
        f"| bench-minutes, mean | {table.minutes:.0f} | {table.practice_minutes:.0f} |",
        f"| bench-minutes, median | {table.minutes_median:.0f} | |",
        f"| part of the practice's minutes | {table.part_of_practice:.2f} | 1 |",
        f"| trials, mean | {table.trials:.1f} | |",
        "",
        "| said | count | on average | true |",
        "|---|---|---|---|",
        *(f"| from {one.low:.1f} | {one.count} | {one.said:.3f} | {one.true:.3f} |" for one in table.deciles),
        "",
        "| at fault | rigs | right first | bench-minutes |",
        "|---|---|---|---|",
        *(f"| {part} | {count} | {right:.2f} | {minutes:.0f} |" for part, count, right, minutes in table.by_part),
    ]
    return "\n".join(lines) + "\n"
