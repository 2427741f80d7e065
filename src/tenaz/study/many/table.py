"""What unpicking and fields take, as a table."""

import json
from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass
from functools import partial

from tenaz.margins.bounds import share_bounds
from tenaz.study.hands import hands
from tenaz.study.many.fields import PART_RIGHT, FieldKind, told_of
from tenaz.study.many.groups import Kind, unpicked

COUNT = 16
FALSE_PASSES = (0.0, 0.1)
FIELDS = (FieldKind(12, 0.15), FieldKind(12, 0.15, 0.7), FieldKind(12, 0.30), FieldKind(24, 0.15))


@dataclass(frozen=True, slots=True)
class Row:
    """One kind: how many were played, trials on average and for nine in ten, and the share told rightly with bounds."""

    what: str
    played: int
    trials: float
    trials_of_nine_in_ten: int
    right: float
    right_low: float
    right_high: float


def played(count: int, seed: int, told: Callable[[str], None]) -> tuple[Row, ...]:
    """All kinds, so many of each, over all cores."""
    seeds, rows = range(seed, seed + count), list[Row]()
    with hands() as many:
        for false_pass in FALSE_PASSES:
            for kind in Kind:
                what = f"{COUNT} values, {kind}, a culprit passes {false_pass:.0%}"
                told(what)
                found = list(many.map(partial(unpicked, kind, COUNT, false_pass), seeds, chunk=8))
                rows.append(_row(what, [one.trials for one in found], sum(one.right for one in found)))
        for field in FIELDS:
            ragged = f", ragged by {field.ragged:g} rows" if field.ragged else ""
            what = f"{field.cells} × {field.cells} cells, right beyond passes {field.false_pass:.0%}{ragged}"
            told(what)
            fields = list(many.map(partial(told_of, field), seeds, chunk=8))
            rows.append(_row(what, [one.trials for one in fields], sum(one.right >= PART_RIGHT for one in fields)))
    return tuple(rows)


def _row(what: str, trials: Sequence[int], right: int) -> Row:
    low, high = share_bounds(right, len(trials))
    nine = sorted(trials)[min(len(trials) - 1, int(0.9 * len(trials)))]
    return Row(what, len(trials), sum(trials) / len(trials), nine, right / len(trials), low, high)


def as_markdown(rows: Sequence[Row]) -> str:
    """For reading."""
    lines = [
        "# Many knobs: unpicking a group, telling a field",
        "",
        "Trials until it was sure (97 % of one story; 98 % that 95 % of the cells are right), what was told rightly.",
        "",
        "| what | played | trials | nine in ten | right | 95 % |",
        "|---|---:|---:|---:|---:|---|",
    ]
    for row in rows:
        right = f"{row.right:.3f} | {row.right_low:.3f} to {row.right_high:.3f}"
        lines.append(f"| {row.what} | {row.played} | {row.trials:.1f} | {row.trials_of_nine_in_ten} | {right} |")
    return "\n".join(lines) + "\n"


def as_json(rows: Sequence[Row]) -> str:
    """For other programs."""
    return json.dumps([asdict(row) for row in rows], indent=1, ensure_ascii=False) + "\n"
