"""``tenaz chart``: a search as a picture on paper."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit import completing
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import JsonOption, book_opened
from tenaz.cli.kit.options import BookOption, say
from tenaz.cli.kit.paper import paper_head_of, write_paper
from tenaz.core.base.errors import Refused

if TYPE_CHECKING:
    from collections.abc import Sequence

    from tenaz.core.searches.search import SearchPlan
    from tenaz.workshop.shop.shop import Workshop

COLUMNS, MORE_ROWS, NIGHT_ROWS = 120, 16, 60


def chart(
    context: typer.Context,
    out: Annotated[Path | None, typer.Argument(help="The file to write, ending in .svg or .pdf.")] = None,
    rig: Annotated[
        str,
        typer.Option("--rig", help="Which rig of the book; else the one climbed last.", autocompletion=completing.rigs),
    ] = "",
    knob: Annotated[
        str | None,
        typer.Option(
            "--knob",
            help="The climb along this knob; else the newest.",
            autocompletion=completing.knobs,
        ),
    ] = None,
    search: Annotated[
        int | None, typer.Option("--search", help="A past climb by its number, as --list tells; else the newest.")
    ] = None,
    listed: Annotated[bool, typer.Option("--list", help="List the climbs instead.")] = False,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Write a climb, the newest or any past one, as SVG or PDF, with the same data and marks as the workbench draws.

    Examples:

        tenaz chart ridge.svg
        tenaz chart ridge.pdf --rig ridge --knob data-rate
        tenaz chart old.svg --search 3
        tenaz chart --list

    Data and marks are those that the workbench draws.

    Exit status: 0 written or listed, 2 could not be.
    """

    with book_opened(context, book, read_only=True) as workshop:
        store = workshop.store
        names = [rig] if rig else store.rigs.names()
        climbs = [climb for name in names for climb in store.searches.of(store.rigs.one(name).name)]
        if knob:
            climbs = [climb for climb in climbs if climb.knob == store.rigs.one(climb.rig).knob(knob).name]
        if search is not None:
            climbs = [climb for climb in climbs if climb.id == search]
        if listed:
            _list(climbs, as_json)
            return
        if out is None:
            raise Refused("Name the file to write, ending in .svg or .pdf; --list tells which climbs there are.")
        if not climbs:
            meant = {" of": rig or None, " along": knob, " of number": search}
            which = "".join(f"{word} {one}" for word, one in meant.items() if one is not None)
            raise Refused(f"The book holds no climb{which} yet.")
        _write(workshop, max(climbs, key=lambda climb: climb.id), out)


def _write(workshop: "Workshop", search: "SearchPlan", out: Path) -> None:
    """A search's own picture: of a climb, of a field, of a night."""
    from tenaz.orders import BringField, BringNight, BringSearch, ChooseBench, ChooseRig

    workshop.do(ChooseRig(search.rig))
    if workshop.bench.real is not search.bench.real:
        workshop.do(ChooseBench(search.bench))
    if len(search.knobs) == 1:
        from tenaz.pictures.climb.paper import export_climb
        from tenaz.workshop.reports.letterhead import our_paper

        picture = workshop.do(BringSearch(search.id))
        head = paper_head_of(f"{picture.knob.label}, {picture.load}", workshop.stands())
        export_climb(picture, out, head, our_paper())
        say(f"written: {out.absolute()}")
        return
    from tenaz.search.registry import strategy_of

    kind = strategy_of(search.strategy)
    if kind.maps:
        from tenaz.pictures.field.cells import draw_field

        field = workshop.do(BringField(search.id))
        cells = draw_field(field, COLUMNS, len(field.values[1]) + MORE_ROWS)
    elif kind.alone:
        from tenaz.pictures.night.cells import draw_night

        night = workshop.do(BringNight(search.id))
        cells = draw_night(night, COLUMNS, NIGHT_ROWS)
    else:
        moved = len(search.knobs)
        raise Refused(f"Search {search.id} asks which of {moved} knobs it is, and has no picture: tenaz book tells it.")
    write_paper(f"{search.strategy} over {' and '.join(search.knobs)}", workshop.stands(), cells, out)


def _list(climbs: "Sequence[SearchPlan]", as_json: bool) -> None:
    """One line a climb."""
    if as_json:
        rows = [
            {
                "search": one.id, "rig": one.rig, "bench": one.bench.value, "knobs": list(one.knobs),
                "strategy": one.strategy, "load": one.load.show(), "ended": bool(one.ended),
            }
            for one in climbs
        ]  # fmt: skip
        say_object("searches", {"searches": rows})
        return
    for climb in climbs:
        state = "ended" if climb.ended else "under way"
        say(f"{climb.id:4}  {climb.rig}, {' and '.join(climb.knobs)} by {climb.strategy}, {climb.load.show()}: {state}")
    if not climbs:
        say("no climb yet")
