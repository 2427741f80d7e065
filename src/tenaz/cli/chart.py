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
    from tenaz.core.trial_index import TrialIndex
    from tenaz.engine.clock import RealClock
    from tenaz.engine.search import standing
    from tenaz.pictures.climbs import picture_of_search
    from tenaz.workshop.shop import Workshop

    workshop = Workshop()
    with errors_told():
        try:
            workshop.open(book or context.obj, read_only=True)
            store = workshop.store
            names = [rig] if rig else store.rigs.names()
            climbs = [climb for name in names for climb in store.searches.of(store.rigs.one(name).name)]
            if knob:
                climbs = [climb for climb in climbs if climb.knob == store.rigs.one(climb.rig).knob(knob).name]
            if not climbs:
                raise Refused(
                    f"The book holds no climb{f' of {rig}' if rig else ''}{f' along {knob}' if knob else ''} yet."
                )
            newest = max(climbs, key=lambda climb: climb.id)
            rig_of_it = store.rigs.one(newest.rig)
            mine = (trial for trial in store.trials.of(newest.rig) if trial.bench.real is newest.bench.real)
            trials = TrialIndex(mine, rig_of_it.fitted)
            picture = picture_of_search(rig_of_it, newest, trials, standing(rig_of_it, newest, trials))
            at = trials.in_force(rig_of_it.stock)
            title = f"{picture.knob.label}, {picture.load}"
            shown = evidence_at(at, trials, rig_of_it)
            head = paper_head(title, rig_of_it, at, shown, RealClock().utc(), not newest.bench.real)
        finally:
            workshop.close()
        export_climb(picture, out, head)
    say(f"written: {out.absolute()}")
