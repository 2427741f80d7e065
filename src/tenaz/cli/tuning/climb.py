"""``tenaz climb``: run a climb without the workbench."""

from dataclasses import replace
from typing import TYPE_CHECKING, Annotated, Any

import typer

from tenaz.cli.kit import bench_options as option
from tenaz.cli.kit import completing
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.at_the_bench import at_the_bench
from tenaz.cli.kit.going_on import refuse_other_terms
from tenaz.cli.kit.opened import JsonOption
from tenaz.cli.kit.options import STOPPED_BY_HAND, BookOption, parsed, say
from tenaz.core.base.outcomes import Verdict
from tenaz.core.base.typed import parse_duration_s, parse_share
from tenaz.core.loads.parsing import parse_load
from tenaz.core.loads.plan import LoadKind, LoadPlan

if TYPE_CHECKING:
    from tenaz.core.trials.trial import Trial
    from tenaz.orders import Order
    from tenaz.pictures.climb.model import ClimbPicture
    from tenaz.workshop.shop.shop import Workshop


def climb(
    context: typer.Context,
    knob: Annotated[
        str,
        typer.Argument(
            help="The knob to climb, like data-rate, t-cl-nck or memory-vdd-mv.", autocompletion=completing.knobs
        ),
    ],
    rig: option.Rig = "",
    bench: option.Bench = None,
    load: Annotated[LoadKind | None, typer.Option("--load", help="The load of each trial; else as set.")] = None,
    duration_s: Annotated[
        float | None,
        typer.Option("--for", parser=parsed(parse_duration_s), help="Time under load a trial.", metavar="TIME"),
    ] = None,
    share: Annotated[
        float | None, typer.Option("--share", parser=parsed(parse_share), help="Share of all memory.", metavar="SHARE")
    ] = None,
    start: Annotated[int | None, typer.Option("--from", help="Value to start from; else what is set now.")] = None,
    strategy: Annotated[
        str,
        typer.Option(
            "--strategy",
            help="How it searches: adapt, stride, halve, retreat, hold; else as set.",
            autocompletion=completing.strategies,
        ),
    ] = "",
    reason: option.Reason = "",
    seed: option.Seed = None,
    pace: option.Pace = None,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Climb along a knob, by the strategy and under the load that are set, or by others.

    Examples:

        tenaz climb data-rate --rig ridge --bench sim
        tenaz climb t-cl-nck --rig ridge --bench sim --for 20m --seed 7
        tenaz climb data-rate --rig ridge --bench hand --from 5600
        tenaz climb data-rate --rig ridge --strategy stride   # one grid step at a time until it fails, then back

    Without --load it runs what the knob feels: memory loads for memory, the cores' for the processor.
    On *sim* it runs by itself. On *here* and *hand* it asks you at each station.

    Exit status: 0 done, 2 could not run, 130 stopped, or a value read otherwise than asked.
    """

    from tenaz.core.rigs.felt import felt_by
    from tenaz.orders import BringSearch
    from tenaz.settings.files import read_what_is_right

    with at_the_bench(book or context.obj, rig, bench, pace, seed) as (workshop, terminal):
        usual = read_what_is_right()[0].work
        plan = parse_load(usual.load)
        if duration_s is not None or share is not None:
            plan = replace(plan, duration_s=duration_s or plan.duration_s, share=share or plan.share)
        if load is not None:
            plan = LoadPlan(load, plan.duration_s, plan.laps, share=plan.share)
        else:
            plan = felt_by(workshop.rig.knob(knob), plan, workshop.rig.purpose)
        workshop.do(_order(workshop, context, knob, start, plan, reason, strategy or usual.strategy))
        terminal.see_through()
        trials = workshop.trials()
        newest = workshop.store.searches.newest_along(workshop.rig.name, workshop.bench.real)
        picture = workshop.do(BringSearch(newest[workshop.rig.knob(knob).name].id))
    if as_json:
        say_object("climb", _plain(picture))
    _tell(picture, trials, quiet=as_json)


def _order(
    workshop: "Workshop",
    context: typer.Context,
    knob: str,
    start: int | None,
    plan: LoadPlan,
    reason: str,
    strategy: str,
) -> "Order[Any]":
    """Go on with the climb under way along this knob, or begin one."""
    from tenaz.orders import BeginSearch, GoOn, Steps

    name, going = workshop.rig.knob(knob).name, workshop.at.search()
    if going is not None and going.knobs == (name,):
        has = {**_terms(going.load), "strategy": going.strategy, "reason": going.reason, "start": going.base[name]}
        asked = {**_terms(plan), "strategy": strategy, "reason": reason, "start": start}
        refuse_other_terms(context, f"A climb of {workshop.rig.knob(knob).label}", has, asked)
        return GoOn()
    base = workshop.in_force()
    base = base if start is None else base.replacing(name, start)
    return BeginSearch((name,), base, plan, reason, strategy, steps=Steps())


def _terms(load: LoadPlan) -> dict[str, object]:
    return {"load": load.kind, "duration_s": load.duration_s, "share": load.share}


def _plain(picture: "ClimbPicture") -> dict[str, object]:
    edge = picture.edge
    return {
        "rig": picture.rig,
        "knob": picture.knob.name,
        "unit": picture.knob.unit,
        "load": picture.load,
        "held": picture.bracket.held,
        "failed": picture.bracket.failed,
        "edge": None if edge is None else {"words": picture.interval_text(), "confidence": edge.confidence},
        "advised": picture.stand,
        "done": picture.advice is not None,
        "words": picture.advice.reason if picture.advice is not None else picture.stand_words,
        "spent_h": picture.spent_h,
        "trials": [
            {"number": one.number, "value": one.value, "outcome": one.outcome, "elapsed_s": one.elapsed_s}
            for one in picture.points
        ],
    }


def _tell(picture: "ClimbPicture", trials: "tuple[Trial, ...]", quiet: bool) -> None:
    """Say what it came to (``quiet``: as a status only)."""
    tell = (lambda _: None) if quiet else say
    tell(f"{picture.knob.label}: {picture.bracket.show(picture.knob)}")
    if picture.edge is not None:
        tell(f"edge: {picture.interval_text()} ({picture.edge.confidence:.0%})")
        if picture.advice is None:
            tell(picture.stand_words)
    last = trials[-1] if trials else None
    if last is not None and last.otherwise:
        told = ", ".join(f"{one.knob} was to be {one.before}, reads {one.after}" for one in last.otherwise)
        tell(f"trial {last.number} does not count, it was not as asked: {told}.")
        tell("Take that value off the knob's grid (d›g in the workbench), then go on.")
        raise typer.Exit(STOPPED_BY_HAND)
    if picture.advice is not None:
        tell(f"advice: {picture.advice.reason}")
    elif last is not None and last.verdict is Verdict.VOID:
        tell("stopped; the same command goes on with the climb")
        raise typer.Exit(STOPPED_BY_HAND)
