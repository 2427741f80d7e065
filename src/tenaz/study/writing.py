"""The table as CSV, JSON, Markdown, and as a chart with intervals."""

import csv
import io
import json
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import Refused
from tenaz.pictures.drawing.marks import Role
from tenaz.pictures.drawing.paper import check_path, figure_to, plain
from tenaz.pictures.drawing.paper_head import PaperHead
from tenaz.pictures.drawing.roles import LIGHT as INK
from tenaz.study.cells import Study
from tenaz.study.table import Compared, rows

if TYPE_CHECKING:
    from matplotlib.axes import Axes

ENDINGS = (".csv", ".json", ".md", ".svg", ".pdf")


def write_study(path: Path, table: Sequence[Compared], study: Study) -> None:
    """Write what the file's ending says.

    Raises:
        Refused, TenazError: another ending; the file cannot be written.
    """
    if path.suffix.lower() not in ENDINGS:
        raise Refused(f"{path.name!r} cannot be written: name a file ending in {', '.join(ENDINGS)}.")
    check_path(path, ENDINGS)
    made = {".csv": _as_csv, ".json": _as_json, ".md": as_markdown}.get(path.suffix.lower())
    if made is None:
        _chart(path, table, study)
    else:
        write_whole(path, made(table, study))


def _as_csv(table: Sequence[Compared], study: Study) -> str:
    del study
    found, out = rows(table), io.StringIO()
    writer = csv.DictWriter(out, list(found[0]) if found else [])
    writer.writeheader()
    writer.writerows(found)
    return out.getvalue()


def _as_json(table: Sequence[Compared], study: Study) -> str:
    return json.dumps(as_data(table, study), indent=1) + "\n"


def as_data(table: Sequence[Compared], study: Study) -> dict[str, Any]:
    """The table for other programs."""
    tolerance = study.tolerance
    head = {
        "failures": tolerance.failures, "hours": tolerance.hours, "confidence": tolerance.confidence,
        "proof_h": study.proof_h, "first_seed": study.first_seed, "parameters": dict(study.parameters),
        "alike_h": study.alike_h, "past": study.past, "past_of": study.past_of,
    }  # fmt: skip
    return {"study": head, "cells": rows(table)}


def as_markdown(table: Sequence[Compared], study: Study) -> str:
    """For people."""
    lines = [
        f"Tolerated: {study.tolerance.in_use()}; advice at {study.tolerance.confidence:.0%}; the proof of "
        f"{study.proof_h:g} h counted. Seeds from {study.first_seed} on; guards of practices were chosen on others, "
        f"where rigs were climbed before (*past*) learnt from the same ones.",
        "",
        "| population | past | strategy | rigs | hours, mean (p90) | against A / B | safe (95 %) | steps short | "
        "against A / wall, as safe | covered | by quarters of the slope | called safe, wrongly |",
        "|---|---|---|---|---|---|---|---|---|---|---|---|",
    ]
    for one in table:
        hours = " / ".join(_ratio(one.hours_against(name)) for name in ("A", "B"))
        short = " / ".join(_ratio(one.short_against(name)) for name in ("A", "wall"))
        lines.append(_line(one, hours, short))
        for practice in one.practices:
            lines.append(
                f"| | {practice.past} | {practice.strategy}, guard {practice.guard_steps} | {practice.rigs} "
                f"| {practice.hours:.1f} ({practice.hours_p90:.1f}) | | {_share(practice.safe)} "
                f"| {practice.short_steps:.2f} | | | | |"
            )
    return "\n".join(lines) + "\n"


def _line(one: Compared, hours: str, short: str) -> str:
    cell = one.cell
    quarters = " ".join(_share(part) for part in cell.covered_by_slope)
    called = "" if cell.called_safe is None else f"{_share(cell.called_safe)}, {_share(cell.wrongly_safe or 0.0)}"
    covered = "" if cell.covered is None else _share(cell.covered)
    return (
        f"| **{cell.population}** | {cell.past} | {cell.strategy} | {cell.rigs} "
        f"| {cell.hours:.1f} ({cell.hours_p90:.1f}) "
        f"| {hours} | {_share(cell.safe)} ({_share(cell.safe_low)}–{_share(cell.safe_high)}) "
        f"| {cell.short_steps:.2f} ± {cell.short_error:.2f} | {short} | {covered} | {quarters} | {called} |"
    )


def _share(value: float) -> str:
    return f"{value:.3f}".removeprefix("0") if value < 1 else "1"


def _ratio(value: float | None) -> str:
    return "–" if value is None else f"{value:.2f}"


def _chart(path: Path, table: Sequence[Compared], study: Study) -> None:
    asked = f"{study.tolerance.in_use()} tolerated, {study.rigs} rigs a cell, seeds from {study.first_seed} on"
    head = PaperHead("strategies tried", "study", datetime.now(UTC), asked, f"{len(table)} cells", simulated=True)
    with figure_to(path, 9.6, 1.8 + 0.42 * len(table), head, f"Safety and steps short: {asked}") as figure:
        left, right = figure.subplots(1, 2, sharey=True)
        places = [len(table) - 1 - k for k in range(len(table))]
        _safety(left, table, places)
        errors = [2 * one.cell.short_error for one in table]
        short = [one.cell.short_steps for one in table]
        right.errorbar(short, places, xerr=errors, fmt="o", color=INK[Role.LIT], capsize=3)
        right.set_xlabel("steps short of best, ± 2 standard errors", size=9)
        names = [f"{one.cell.population}, {one.cell.strategy}, {one.cell.hours:.1f} h" for one in table]
        left.set_yticks(places, names)
        for axes in (left, right):
            plain(axes, "x")


def _safety(axes: "Axes", table: Sequence[Compared], places: Sequence[int]) -> None:
    for one, place in zip(table, places, strict=True):
        cell = one.cell
        axes.plot([cell.safe_low, cell.safe_high], [place, place], color=INK[Role.HELD], lw=2)
        axes.plot([cell.safe], [place], "o", color=INK[Role.HELD])
        if cell.covered is not None:
            axes.plot([cell.covered], [place], "|", color=INK[Role.TEXT], ms=12)
    axes.axvline(0.95, color=INK[Role.FRAME], lw=0.8, ls=":")
    axes.set_xlabel("● safe, with its bounds     | intervals that hold the edge", size=9)
