"""``tenaz chart``: a climb as a picture on paper."""

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.options import BookOption, errors_told, say
from tenaz.core.errors import Refused

if TYPE_CHECKING:
    from tenaz.charts.climb import ClimbPicture
    from tenaz.charts.paper_head import PaperHead
    from tenaz.core.searches import SearchPlan
    from tenaz.journal.store import Store


def chart(
    context: typer.Context,
    out: Annotated[Path | None, typer.Argument(help="The file to write, ending in .svg or .pdf.")] = None,
    rig: Annotated[str | None, typer.Option("--rig", help="Which rig of the book; else the one climbed last.")] = None,
    knob: Annotated[str | None, typer.Option("--knob", help="The climb along this knob; else the newest.")] = None,
    search: Annotated[
        int | None, typer.Option("--search", help="A past climb by its number, as --list tells; else the newest.")
    ] = None,
    listed: Annotated[bool, typer.Option("--list", help="List the climbs instead.")] = False,
    book: BookOption = None,
) -> None:
    """Write a climb, the newest or any past one, as SVG or PDF, with the same data and marks as the workbench draws.

    Examples:

        tenaz chart ridge.svg
        tenaz chart ridge.pdf --rig ridge --knob data-rate
        tenaz chart old.svg --search 3
        tenaz chart --list

    Data and marks are those that the workbench draws.
    """
    from tenaz.charts.climb_paper import export_climb
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
            if search is not None:
                climbs = [climb for climb in climbs if climb.id == search]
            if listed:
                _list(climbs)
                return
            if out is None:
                raise Refused("Name the file to write, ending in .svg or .pdf; --list tells which climbs there are.")
            if not climbs:
                meant = {" of": rig, " along": knob, " of number": search}
                which = "".join(f"{word} {one}" for word, one in meant.items() if one is not None)
                raise Refused(f"The book holds no climb{which} yet.")
            picture, head = _drawn(store, max(climbs, key=lambda climb: climb.id))
        finally:
            workshop.close()
        export_climb(picture, out, head)
    say(f"written: {out.absolute()}")


def _drawn(store: "Store", climb: "SearchPlan") -> "tuple[ClimbPicture, PaperHead]":
    """A climb's picture, and the head that it stands under."""
    from tenaz.charts.paper_head import paper_head
    from tenaz.core.evidence import evidence_at
    from tenaz.core.trial_index import TrialIndex
    from tenaz.engine.clock import RealClock
    from tenaz.engine.search import standing
    from tenaz.pictures.climbs import picture_of_search

    rig = store.rigs.one(climb.rig)
    mine = (trial for trial in store.trials.of(climb.rig) if trial.bench.real is climb.bench.real)
    trials = TrialIndex(mine, rig.fitted)
    picture, at = picture_of_search(rig, climb, trials, standing(rig, climb, trials)), trials.in_force(rig.stock)
    title = f"{picture.knob.label}, {picture.load}"
    shown = evidence_at(at, trials, rig)
    return picture, paper_head(title, rig, at, shown, RealClock().utc(), not climb.bench.real)


def _list(climbs: "Sequence[SearchPlan]") -> None:
    """One line a climb."""
    for climb in climbs:
        state = "ended" if climb.ended else "under way"
        say(f"{climb.id:4}  {climb.rig}, {' and '.join(climb.knobs)} by {climb.strategy}, {climb.load.show()}: {state}")
    if not climbs:
        say("no climb yet")
