"""``tenaz chart``: a climb as a picture on paper."""

from pathlib import Path
from typing import Annotated

import typer

from tenaz.cli.options import BookOption, errors_told, say
from tenaz.core.errors import Refused


def chart(
    context: typer.Context,
    out: Annotated[Path, typer.Argument(help="The file to write, ending in .svg or .pdf.")],
    rig: Annotated[str | None, typer.Option("--rig", help="Which rig of the book; else the one climbed last.")] = None,
    knob: Annotated[str | None, typer.Option("--knob", help="The climb along this knob; else the newest.")] = None,
    book: BookOption = None,
) -> None:
    """Write the newest climb as SVG or PDF, with the same data and marks as the workbench draws.

    Examples:

        tenaz chart ridge.svg
        tenaz chart ridge.pdf --rig ridge --knob data-rate

    Data and marks are those that the workbench draws.
    """
    from tenaz.charts.climb_paper import export_climb
    from tenaz.charts.paper_head import paper_head
    from tenaz.core.evidence import evidence_at
    from tenaz.core.in_force import counting_on, setpoint_in_force
    from tenaz.engine.clock import RealClock
    from tenaz.workshop.pictures import picture_of_climb
    from tenaz.workshop.shop import Workshop

    workshop = Workshop()
    with errors_told():
        try:
            workshop.open(book or context.obj, read_only=True)
            names = [rig] if rig else [one.name for one in workshop.store.rigs()]
            climbs = [climb for name in names for climb in workshop.store.climbs(workshop.store.rig(name).name)]
            if knob:
                climbs = [climb for climb in climbs if climb.knob == workshop.store.rig(climb.rig).knob(knob).name]
            if not climbs:
                raise Refused(
                    f"The book holds no climb{f' of {rig}' if rig else ''}{f' along {knob}' if knob else ''} yet."
                )
            newest = max(climbs, key=lambda climb: climb.id)
            trials = counting_on(newest.bench, workshop.store.trials(newest.rig))
            rig_of_it = workshop.store.rig(newest.rig)
            picture = picture_of_climb(rig_of_it, newest, trials)
            at = setpoint_in_force(trials, rig_of_it.stock)
            evidence = evidence_at(at, trials, rig_of_it.purpose)
            title = f"{picture.knob.label}, {picture.load}"
            head = paper_head(title, rig_of_it, at, evidence, RealClock().utc())
        finally:
            workshop.close()
        export_climb(picture, out, head)
    say(f"written: {out.absolute()}")
