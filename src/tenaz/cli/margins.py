"""``tenaz margins``: how far what is in use is from what fails."""

import json
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.options import BookOption, errors_told, say, say_ascii
from tenaz.core.rigs import BenchKind

if TYPE_CHECKING:
    from tenaz.charts.margins import MarginRow, MarginsPicture


def margins(
    context: typer.Context,
    rig: Annotated[str, typer.Option("--rig", help="Which rig of the book; else the one worked on last.")] = "",
    bench: Annotated[BenchKind | None, typer.Option("--bench", help="Which bench's trials; else the last.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False,
    out: Annotated[Path | None, typer.Option("--out", help="Write .svg or .pdf instead.")] = None,
    book: BookOption = None,
) -> None:
    """Tell of each knob how far the value in use is from the edge of the purpose, with intervals.

    Examples:

        tenaz margins
        tenaz margins --rig ridge --json
        tenaz margins --out ridge-margins.pdf

    Two numbers always stand together: *shown*, what the evidence shows directly, and *model*, what it extends to.
    """
    from tenaz.charts.cells_paper import export_cells
    from tenaz.charts.margins_cells import draw_margins, margin_words
    from tenaz.charts.paper_head import paper_head
    from tenaz.core.evidence import evidence_at
    from tenaz.engine.clock import RealClock
    from tenaz.pictures.margins import margins_picture
    from tenaz.workshop.orders import ChooseBench, ChooseRig
    from tenaz.workshop.shop import Workshop

    workshop = Workshop()
    with errors_told():
        try:
            workshop.open(book or context.obj, read_only=True)
            if rig:
                workshop.do(ChooseRig(workshop.store.rigs.one(rig).name))
            if bench is not None:
                workshop.do(ChooseBench(bench))
            view = workshop.view()
        finally:
            workshop.close()
        picture = margins_picture(view.rig, view.in_force, view.index)
        if out is not None:
            shown = evidence_at(view.in_force, view.index, view.rig)
            head = paper_head("margins", view.rig, view.in_force, shown, RealClock().utc(), not view.bench.real)
            export_cells(draw_margins(picture, 120, 8 + 5 * len(picture.rows)), head, out)
            say(f"written: {out.absolute()}")
            return
        if as_json:
            say_ascii(json.dumps(_plain(picture), indent=1) + "\n")
            return
    say(f"{view.rig.name}: margins for {view.rig.purpose.tolerance.show()}")
    for row in picture.rows:
        way, hours, between = margin_words(row)
        say(f"{row.knob.label} {row.knob.show(row.in_use)} under {row.kind}: {way}\n    {hours}\n    {between}")
    say(f"next hour: {picture.worth}" if picture.rows else "no knob was moved from what is in use yet")


def _plain(picture: "MarginsPicture") -> dict[str, object]:
    tolerance = picture.tolerance
    return {
        "rig": picture.rig,
        "tolerated": {"failures": tolerance.failures, "hours": tolerance.hours, "confidence": tolerance.confidence},
        "margins": [_row(row) for row in picture.rows],
        "not_moved": list(picture.still),
        "next_hour": picture.worth,
    }


def _row(row: "MarginRow") -> dict[str, object]:
    low, middle, high = row.steps
    return {
        "knob": row.knob.name,
        "unit": row.knob.unit,
        "in_use": row.in_use,
        "load": row.kind.value,
        "held": row.bracket.held,
        "failed": row.bracket.failed,
        "advised": row.stand,
        "margin_steps": middle,
        "margin_steps_low": low,
        "margin_steps_high": high,
        "interval": row.judged.edge.confidence,
        "margin_units": row.in_units,
        "margin_percent": row.percent,
        "guard_steps": row.guard_steps,
        "temperature_reserve_k": row.reserve_k,
        "sure": row.sure,
        "shown_hours_between_failures": row.shown_h,
        "model_hours_between_failures": 1 / row.rate.median,
        "model_hours_low": 1 / row.rate.high,
        "model_hours_high": 1 / row.rate.low,
        "doubts": list(row.judged.doubts),
    }
