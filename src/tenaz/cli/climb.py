"""``tenaz climb``: run a climb without the workbench."""

import contextlib
from typing import Annotated

import typer

from tenaz.cli.options import STOPPED_BY_HAND, BookOption, errors_told, parsed, say
from tenaz.cli.progress import ProgressTeller
from tenaz.core.loading import LoadKind, LoadPlan
from tenaz.core.outcomes import Verdict
from tenaz.core.parsing import parse_duration_s, parse_share
from tenaz.core.rigs import BenchKind


def climb(
    context: typer.Context,
    knob: Annotated[str, typer.Argument(help="The knob to climb, like data-rate, t-cl-nck or memory-vdd-mv.")],
    rig: Annotated[str, typer.Option("--rig", help="Which rig of the book.")] = "ridge",
    bench: Annotated[BenchKind, typer.Option("--bench", help="How to reach it.")] = BenchKind.SIM,
    load: Annotated[LoadKind, typer.Option("--load", help="The load of each trial.")] = LoadKind.MARCH,
    duration_s: Annotated[
        float, typer.Option("--for", parser=parsed(parse_duration_s), help="Time under load a trial.", metavar="TIME")
    ] = "1h",  # type: ignore[assignment] # given as text, handed over parsed
    share: Annotated[
        float, typer.Option("--share", parser=parsed(parse_share), help="Share of all memory.", metavar="SHARE")
    ] = "50%",  # type: ignore[assignment]
    start: Annotated[int | None, typer.Option("--from", help="Value to start from; else what is in force.")] = None,
    reason: Annotated[str, typer.Option("--reason", help="Why to go above advised ceilings.")] = "",
    seed: Annotated[int | None, typer.Option("--seed", help="Another specimen of the simulated rig.")] = None,
    pace: Annotated[
        float | None, typer.Option("--pace", min=0.001, help="Simulated seconds in a real one; else as fast as can be.")
    ] = None,
    book: BookOption = None,
) -> None:
    """Climb along a knob, one grid step at a time, until it fails; then step back.

    Examples:

        tenaz climb data-rate --bench sim
        tenaz climb t-cl-nck --bench sim --for 20m --seed 7
        tenaz climb data-rate --bench hand --from 5600

    On *sim* it runs by itself. On *here* and *hand* it asks you at each station.
    """
    from tenaz.cli.asking import Terminal
    from tenaz.workshop.new_rigs import specimen
    from tenaz.workshop.shop import Workshop  # late: --help must not wait for the database

    with errors_told(), ProgressTeller() as teller:
        workshop = Workshop(teller, pace)
        terminal = Terminal(teller, workshop)
        workshop.publish_to(terminal)
        try:
            workshop.open(book or context.obj)
            chosen = workshop.store.rig(rig)
            if seed is not None:
                chosen = specimen(chosen, seed)
                workshop.store.put_rig(chosen)
            workshop.choose_rig(chosen.name)
            workshop.choose_bench(bench)
            plan = workshop.climb()
            if plan is None or workshop.rig.knob(knob).name != plan.knob:
                base = workshop.in_force()
                name = workshop.rig.knob(knob).name
                base = base if start is None else base.replacing(name, start)
                plan = workshop.plan_climb(knob, base, LoadPlan(load, duration_s, share=share), reason)
            workshop.start_climb(plan, one_step=False)
            with contextlib.suppress(KeyboardInterrupt):
                terminal.wait()
            workshop.stop()
            workshop.wait()
            trials = workshop.trials()
            picture = workshop.picture(plan)
        finally:
            workshop.close()
    if terminal.trouble:
        say(terminal.trouble, err=True)
        raise typer.Exit(2)
    say(f"{picture.knob.label}: {picture.bracket.show(picture.knob)}")
    if picture.edge is not None:
        say(f"edge: {picture.interval_text()} ({picture.edge.confidence:.0%})")
    if picture.advice is not None:
        say(f"advice: {picture.advice.reason}")
    elif trials and trials[-1].verdict is Verdict.VOID:
        say("stopped; the same command goes on with the climb")
        raise typer.Exit(STOPPED_BY_HAND)
