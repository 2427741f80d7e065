"""``tenaz chart``: a search as a picture on paper."""

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.options import BookOption, errors_told, say
from tenaz.core.errors import Refused
from tenaz.core.searches import FIELD, NIGHT, SearchPlan

if TYPE_CHECKING:
    from tenaz.charts.climb import ClimbPicture
    from tenaz.charts.field import FieldPicture
    from tenaz.charts.night import NightPicture
    from tenaz.charts.paper_head import PaperHead
    from tenaz.workshop.shop import Workshop
    from tenaz.workshop.view import View

COLUMNS, MORE_ROWS, NIGHT_ROWS = 120, 16, 60


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
            _write(workshop, max(climbs, key=lambda climb: climb.id), out)
        finally:
            workshop.close()
    say(f"written: {out.absolute()}")


def _write(workshop: "Workshop", search: "SearchPlan", out: Path) -> None:
    """A search's own picture: of a climb, of a field, of a night."""
    from tenaz.workshop.orders import BringField, BringNight, BringSearch, ChooseBench, ChooseRig

    workshop.do(ChooseRig(search.rig))
    if workshop.view().bench.real is not search.bench.real:
        workshop.do(ChooseBench(search.bench))
    if len(search.knobs) == 1:
        from tenaz.charts.climb_paper import export_climb

        picture: ClimbPicture = workshop.do(BringSearch(search.id))  # type: ignore[assignment]
        export_climb(picture, out, _head(workshop.view(), f"{picture.knob.label}, {picture.load}"))
        return
    from tenaz.charts.cells_paper import export_cells

    if search.strategy == FIELD:
        from tenaz.charts.field_cells import draw_field

        field: FieldPicture = workshop.do(BringField(search.id))  # type: ignore[assignment]
        cells = draw_field(field, COLUMNS, len(field.values[1]) + MORE_ROWS)
    elif search.strategy == NIGHT:
        from tenaz.charts.night_cells import draw_night

        night: NightPicture = workshop.do(BringNight(search.id))  # type: ignore[assignment]
        cells = draw_night(night, COLUMNS, NIGHT_ROWS)
    else:
        moved = len(search.knobs)
        raise Refused(f"Search {search.id} asks which of {moved} knobs it is, and has no picture: tenaz book tells it.")
    export_cells(cells, _head(workshop.view(), f"{search.strategy} over {' and '.join(search.knobs)}"), out)


def _head(view: "View", title: str) -> "PaperHead":
    from tenaz.charts.paper_head import paper_head
    from tenaz.core.evidence import evidence_at
    from tenaz.engine.clock import RealClock

    shown = evidence_at(view.in_force, view.index, view.rig)
    return paper_head(title, view.rig, view.in_force, shown, RealClock().utc(), not view.bench.real)


def _list(climbs: "Sequence[SearchPlan]") -> None:
    """One line a climb."""
    for climb in climbs:
        state = "ended" if climb.ended else "under way"
        say(f"{climb.id:4}  {climb.rig}, {' and '.join(climb.knobs)} by {climb.strategy}, {climb.load.show()}: {state}")
    if not climbs:
        say("no climb yet")
