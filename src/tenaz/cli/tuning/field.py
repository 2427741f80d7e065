"""``tenaz field``: two knobs at once: which pairs of values hold."""

from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit import bench_options as option
from tenaz.cli.kit import completing
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.at_the_bench import at_the_bench
from tenaz.cli.kit.options import STOPPED_BY_HAND, BookOption, errors_told, say
from tenaz.cli.kit.paper import write_paper
from tenaz.cli.kit.room import columns
from tenaz.core.loads.plan import LoadKind, LoadPlan

if TYPE_CHECKING:
    from tenaz.pictures.field.model import FieldPicture

COLUMNS, MORE_ROWS = 118, 14


def field(
    context: typer.Context,
    over: Annotated[list[str], typer.Argument(help="Two knobs with their stretches, like t_cl_nck=40..30.")],
    rig: option.Rig = "",
    bench: option.Bench = None,
    load: option.Load = LoadKind.MARCH,
    duration_s: option.Duration = "20m",  # type: ignore[assignment] # given as text, handed over parsed
    share: option.Share = "50%",  # type: ignore[assignment]
    window: Annotated[bool, typer.Option("--window", help="The second knob fails on both sides.")] = False,
    start: Annotated[
        str,
        typer.Option(
            "--from",
            help="All other knobs: stock, saved, a trial; else what is set now.",
            autocompletion=completing.setpoints,
        ),
    ] = "",
    reason: option.Reason = "",
    as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False,
    out: Annotated[Path | None, typer.Option("--out", help="Write .svg or .pdf instead.")] = None,
    book: BookOption = None,
) -> None:
    """Find which pairs of values of two knobs hold: each trial where it tells most of the boundary.

    Examples:

        tenaz field data_rate_mts=4800..7000 t_cl_nck=40..28 --rig ridge
        tenaz field data_rate_mts=4800..6400 memory_vdd_mv=1100..1400 --window --out field.pdf

    Exit status: 0 done, 2 could not run, 130 stopped.
    """
    from tenaz.core.searches.search import FIELD, Advice
    from tenaz.orders import BeginSearch, BringField, Steps
    from tenaz.orders.fields import read_field

    with at_the_bench(book or context.obj, rig, bench) as (workshop, terminal):
        knobs, parameters = read_field(workshop.rig, " ".join([*over, *(["window"] if window else [])]))
        base = workshop.named(start) if start else workshop.in_force()
        plan = LoadPlan(load, duration_s, share=share)
        workshop.do(BeginSearch(knobs, base, plan, reason, FIELD, parameters, Steps()))
        terminal.see_through()
        done = workshop.store.searches.of(workshop.rig.name)[-1]
        came_to = workshop.at.standing(done)
        picture = workshop.do(BringField(done.id))
        stands = workshop.stands()
    _tell(picture, as_json)
    if out is not None:
        from tenaz.pictures.field.cells import draw_field

        with errors_told():
            write_paper("field", stands, draw_field(picture, COLUMNS, len(picture.values[1]) + MORE_ROWS), out)
    if not isinstance(came_to, Advice):
        raise typer.Exit(STOPPED_BY_HAND)


def _tell(picture: "FieldPicture", as_json: bool) -> None:
    from tenaz.pictures.field.cells import draw_field

    if not as_json:
        say(draw_field(picture, columns(), len(picture.values[1]) + MORE_ROWS).text().rstrip())
        return
    data = {
        "rig": picture.rig,
        "knobs": [knob.name for knob in picture.knobs],
        "values": [list(values) for values in picture.values],
        "holds": [list(column) for column in picture.holds],
        "tolerated": sorted(map(list, picture.tolerated)),
        "tried": [
            {"cell": list(cell), "trials": [[number, outcome.value] for number, outcome in one.trials]}
            for cell, one in sorted(picture.tried.items())
        ],
        "fastest_safe": picture.fastest_safe,
        "least": [asdict(one) for one in picture.least],
        "sure": picture.sure,
        "false_pass": picture.false_pass,
        "words": picture.words,
    }
    say_object("field", data)
