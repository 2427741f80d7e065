"""``tenaz end``: a search ended where it stands."""

import typer

from tenaz.cli.kit import bench_options as option
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.at_the_bench import at_the_bench
from tenaz.cli.kit.opened import JsonOption
from tenaz.cli.kit.options import BookOption, say


def end(
    context: typer.Context,
    rig: option.Rig = "",
    bench: option.Bench = None,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """End the climb, field, search for a culprit or night under way on a rig where it stands; its trials stay.

    Examples:

        tenaz end --rig ridge
        tenaz end --rig hut --bench hand

    Exit status: 0 ended, 2 nothing is under way.
    """
    from tenaz.core.base.errors import Refused
    from tenaz.engine.search import called
    from tenaz.orders import EndSearch

    with at_the_bench(book or context.obj, rig, bench) as (workshop, _):
        going = workshop.at.search()
        if going is None:
            raise Refused(f"Nothing is under way on {workshop.rig.name} on {workshop.bench}.")
        workshop.do(EndSearch())
        words = f"{called(workshop.rig, going)} is ended; its trials stay"
        if as_json:
            say_object("ended", {"rig": workshop.rig.name, "search": going.id, "words": words})
        else:
            say(words)
