"""``tenaz culprit``, formerly ``unpick``: many values were moved together and it failed; which one is it?"""

from typing import Annotated

import typer

from tenaz.cli.kit import bench_options as option
from tenaz.cli.kit import completing
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.at_the_bench import at_the_bench
from tenaz.cli.kit.opened import JsonOption
from tenaz.cli.kit.options import STOPPED_BY_HAND, BookOption, parsed, say
from tenaz.core.base.typed import parse_share
from tenaz.core.loads.plan import LoadKind, LoadPlan


def unpick(
    context: typer.Context,
    to: Annotated[
        str,
        typer.Argument(
            help="The setpoint that failed: a trial's number, or a saved one's name.",
            autocompletion=completing.setpoints,
        ),
    ],
    start: Annotated[
        str,
        typer.Option(
            "--from", help="The setpoint that held: stock, saved, or a trial.", autocompletion=completing.setpoints
        ),
    ] = "stock",
    rig: option.Rig = "",
    bench: option.Bench = None,
    load: option.Load = LoadKind.MARCH,
    duration_s: option.Duration = "1h",  # type: ignore[assignment] # given as text, handed over parsed
    share: option.Share = "50%",  # type: ignore[assignment]
    false_pass: Annotated[
        float, typer.Option("--false-pass", parser=parsed(parse_share), help="How often a culprit passes a trial.")
    ] = "10%",  # type: ignore[assignment]
    reason: option.Reason = "",
    pace: option.Pace = None,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Find which of the values that were moved together it is that fails, or which two; the others may stay.

    Each trial moves the part of them that tells most; what was tried already counts.

    Examples:

        tenaz culprit 12 --rig ridge                 # trial 12 failed; stock held
        tenaz culprit tight --from "as it came" --for 20m

    Exit status: 0 done, 2 could not run, 130 stopped, or it does not count.
    """
    from tenaz.core.searches.search import Advice
    from tenaz.orders.unpicking import unpick_between

    with at_the_bench(book or context.obj, rig, bench, pace) as (workshop, terminal):
        plan = LoadPlan(load, duration_s, share=share)
        workshop.do(unpick_between(workshop.named(start), workshop.named(to), plan, reason, false_pass))
        terminal.see_through()
        done = workshop.store.searches.of(workshop.rig.name)[-1]
        stands = workshop.at.standing(done)
    is_done = isinstance(stands, Advice)
    if as_json:
        told = {"rig": done.rig, "search": done.id, "among": list(done.knobs), "done": is_done, "words": stands.reason}
        say_object("culprit", told)
    else:
        say(stands.reason if is_done else f"stopped; {stands.reason}")
    if not is_done:
        raise typer.Exit(STOPPED_BY_HAND)
