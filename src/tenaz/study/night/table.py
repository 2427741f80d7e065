"""Nights against usual practice, as a table: what both gain, how safe they are, the hours that they take."""

import json
from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from functools import partial
from statistics import median

from tenaz.margins.bounds import share_bounds
from tenaz.study.hands import hands
from tenaz.study.night.playing import Outcome, halving_on, night_on, practice_on
from tenaz.study.night.worlds import AS_SIMULATED, WORLDS

KINDS = ("ridge", "hut")
"""Workstations of DDR5 and small machines of DDR4, as their scenarios draw them; a rig that came with a fault is no
candidate.
"""
GUARDS = (8, 16, 20)
SHARES = (0.2, 0.3, 0.4, 0.5)
"""Of the way to what held for ten minutes: where somebody stands who halves that way."""
SHORT_H = (2, 4, 8)
"""Hours beside the proof of nights that are cut short."""
SAFE = 0.97


@dataclass(frozen=True, slots=True)
class Row:
    """One way of working over all rigs of one kind (or ``all``)."""

    what: str
    rigs: str
    played: int
    gain: float
    safe: float
    safe_low: float
    safe_high: float
    hours: float
    most_hours: float
    trials: float
    proven: float


def played(count: int, seed: int, told: Callable[[str], None]) -> tuple[Row, ...]:
    """So many rigs in all, half of each kind, over all cores: the night, and practice with every guard."""
    half = max(1, count // len(KINDS))
    rigs = [(like, at) for like in KINDS for at in range(seed, seed + half)]
    rows = list[Row]()
    with hands() as many:
        ways: list[tuple[str, Callable[[str, int], Outcome]]] = [("night", night_on)]
        ways += [(f"night, {hours} h of search", partial(night_on, search_h=hours)) for hours in SHORT_H]
        ways += [(f"night, {name}", partial(night_on, world=name)) for name in WORLDS if name != AS_SIMULATED]
        ways += [(f"practice by halving, {share:.0%}", partial(halving_on, share=share)) for share in SHARES]
        ways += [(f"practice, guard of {guard}", partial(practice_on, guard=guard)) for guard in GUARDS]
        for what, way in ways:
            told(f"{what}: {len(rigs)} rigs")
            found = list(many.map(way, *zip(*rigs, strict=True), chunk=4))
            for like in KINDS:
                rows.append(_row(what, like, [one for rig, one in zip(rigs, found, strict=True) if rig[0] == like]))
            rows.append(_row(what, "all", found))
    return tuple(rows)


def _row(what: str, rigs: str, found: Sequence[Outcome]) -> Row:
    count, safe = len(found), sum(one.safe for one in found)
    low, high = share_bounds(safe, count)
    return Row(
        what, rigs, count, sum(one.gain for one in found) / count, safe / count, low, high,
        sum(one.hours for one in found) / count, max(one.hours for one in found),
        median(one.trials for one in found), sum(one.proven for one in found) / count,
    )  # fmt: skip


def safe_practice(rows: Sequence[Row]) -> Row | None:
    """Of the ways of practice that are as safe as asked over all rigs, that which gains most."""
    found = [row for row in rows if row.rigs == "all" and row.what.startswith("practice") and row.safe >= SAFE]
    return max(found, key=lambda row: row.gain, default=None)


def as_markdown(rows: Sequence[Row]) -> str:
    """For reading."""
    lines = [
        "# A night alone, and usual practice",
        "",
        "Simulated rigs from stock to their proof. *Gain*: the true rise of the score (the geometric mean of "
        "bandwidth, latency and throughput) against stock. *Safe*: the failures of what it ended at are truly "
        "tolerated by the rig's purpose, under every kind of load that it asks for. A night goes on as long as an hour "
        "pays, or has so many hours beside its proof.",
        "",
        "Practice: each knob in turn, an hour a step, after the first failure back to what held and a fixed guard of "
        "so many steps further, at the end the proof; the same knobs, the same voltages raised beforehand. *By "
        "halving*: ten minutes a trial, by bisection, standing at a part of the way to what held, which somebody with "
        "experience knows beforehand.",
        "",
        "Worlds that the night does not believe in: proven, and not tolerated, is what its verdict does not call "
        "*safe*: that asks for hours that no night has.",
        "",
        "| | rigs | played | gain | safe | 95 % | hours | most | trials | proven |",
        "|---|---|---:|---:|---:|---|---:|---:|---:|---:|",
    ]
    for row in rows:
        safe = f"{row.safe:.3f} | {row.safe_low:.3f} to {row.safe_high:.3f}"
        hours = f"{row.hours:.1f} | {row.most_hours:.1f} | {row.trials:.0f}"
        lines.append(
            f"| {row.what} | {row.rigs} | {row.played} | {row.gain:.1%} | {safe} | {hours} | {row.proven:.2f} |"
        )
    night = next(row for row in rows if row.what == "night" and row.rigs == "all")
    against = safe_practice(rows)
    lines.append("")
    if against is None:
        lines.append(f"None of these ways of practice is safe in {SAFE:.0%} of rigs.")
    else:
        lines.append(
            f"Of the ways of practice that are safe in {SAFE:.0%} of rigs, {against.what} gains most: against it the "
            f"night gains {night.gain / against.gain:.1f} times as much in {night.hours / against.hours:.2f} of its "
            f"hours."
        )
    return "\n".join(lines) + "\n"


def as_json(rows: Sequence[Row]) -> str:
    """For other programs."""
    return json.dumps([asdict(row) for row in rows], indent=1, ensure_ascii=False) + "\n"
