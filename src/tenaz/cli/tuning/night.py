"""``tenaz night``: a whole rig tuned alone, and one page for the morning."""

from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit import bench_options as option
from tenaz.cli.kit import completing
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.at_the_bench import at_the_bench
from tenaz.cli.kit.going_on import refuse_other_terms
from tenaz.cli.kit.options import STOPPED_BY_HAND, BookOption, errors_told, note, parsed, say
from tenaz.cli.kit.paper import write_paper
from tenaz.cli.kit.room import columns
from tenaz.core.base.typed import parse_hours
from tenaz.search.night.ground import Aim

if TYPE_CHECKING:
    from tenaz.orders import Steps
    from tenaz.pictures.night.model import NightPicture
    from tenaz.workshop.shop.shop import Workshop

COLUMNS, ROWS = 118, 46
ENDINGS = (".svg", ".pdf")
NOT_PROVEN = 1


Hours = Annotated[
    float | None,
    typer.Option("--hours", parser=parsed(parse_hours), metavar="TIME", help="How long, the proof included."),
]
Worth = Annotated[float, typer.Option("--worth", min=0.001, help="Percent of the score an hour must gain.")]
AimOption = Annotated[Aim, typer.Option("--aim", help="A fast rig, or a quiet one: voltages down, nothing else.")]
Start = Annotated[
    str,
    typer.Option(
        "--from", help="Where it begins: stock, a saved setpoint, a trial.", autocompletion=completing.setpoints
    ),
]
Measured = Annotated[
    bool, typer.Option("--measure/--no-measure", help="Measure the end against the beginning, in turn.")
]
OnlyLook = Annotated[bool, typer.Option("--look", help="Only show where the newest night stands.")]
AsJson = Annotated[bool, typer.Option("--json", help="As JSON.")]
Out = Annotated[Path | None, typer.Option("--out", help="Write the page as .svg or .pdf too.")]


def night(
    context: typer.Context,
    rig: option.Rig = "",
    bench: option.Bench = None,
    hours: Hours = None,
    worth: Worth = 0.2,
    aim: AimOption = Aim.FAST,
    start: Start = "stock",
    reason: option.Reason = "",
    measure: Measured = True,
    seed: option.Seed = None,
    pace: option.Pace = None,
    only_look: OnlyLook = False,
    as_json: AsJson = False,
    out: Out = None,
    book: BookOption = None,
) -> None:
    """Tune a whole rig alone: cores, data rate, timings, refresh, voltages down; hours where they pay, then the proof.

    Stopped or cut short, the same command goes on; the rig goes back to what was proven last. On *hand* and *here* it
    asks for each trial in turn.

    Examples:

        tenaz night --rig ridge
        tenaz night --rig hut --hours 16 --out morning.pdf
        tenaz night --rig hut --aim quiet          # voltages down as far as the purpose allows
        tenaz night --rig hut --look --json

    Exit status: 0 proven, 1 over without proof, 2 could not run, 130 stopped.
    """
    from tenaz.orders import Steps
    from tenaz.orders.nights import order_for_night
    from tenaz.pictures.drawing.paper import check_path

    with errors_told():
        if out is not None:
            # Before the night, not after it.
            check_path(out, ENDINGS)
    with at_the_bench(book or context.obj, rig, bench, pace, seed) as (workshop, terminal):
        if not only_look:
            steps = Steps(measured=measure)
            if not _goes_on(workshop, context, steps):
                base = workshop.named(start)
                workshop.do(order_for_night(workshop.rig, base, hours or 0.0, worth, reason, steps, aim))
            terminal.see_through()
        picture = _picture(workshop)
        stands = workshop.stands()
    _tell(picture, as_json)
    if out is not None:
        from tenaz.pictures.night.cells import draw_night

        with errors_told():
            write_paper("night", stands, draw_night(picture, COLUMNS, ROWS), out)
    if not picture.over:
        raise typer.Exit(STOPPED_BY_HAND)
    if not picture.proven:
        raise typer.Exit(NOT_PROVEN)


def _goes_on(workshop: "Workshop", context: typer.Context, steps: "Steps") -> bool:
    """Whether a night is under way: then it goes on, on the terms that it was begun with."""
    from tenaz.core.base.errors import Refused
    from tenaz.orders import GoOn
    from tenaz.search.registry import strategy_of

    _explain_lost(workshop)
    going = workshop.at.search()
    if going is None:
        return False
    if not strategy_of(going.strategy).alone:
        raise Refused(f"Another search is under way on {workshop.rig.name}: tenaz end ends it first, its trials stay.")
    typed = context.params
    asked = {
        **{name: typed[name] for name in ("hours", "worth", "aim", "reason")},
        "start": workshop.named(typed["start"]),
    }
    has = {**going.parameters, "reason": going.reason, "start": going.base}
    refuse_other_terms(context, f"A night of {workshop.rig.name}", has, asked)
    workshop.do(GoOn(steps))
    return True


def _explain_lost(workshop: "Workshop") -> None:
    """A simulated rig's trial that went down with Tenaz shows nothing of the rig: it is lost, and the night goes on."""
    from tenaz.core.base.outcomes import Outcome
    from tenaz.orders import Explain

    for trial in workshop.store.trials.unfinished():
        if trial.rig == workshop.rig.name and trial.bench.traits.simulated and workshop.bench.traits.simulated:
            workshop.do(Explain(trial.id, Outcome.LOST))
            note(f"trial {trial.number} was cut short with Tenaz: lost, and made again")


def _picture(workshop: "Workshop") -> "NightPicture":
    from tenaz.core.base.errors import Refused
    from tenaz.core.searches.search import NIGHT
    from tenaz.orders import BringNight

    every = reversed(workshop.store.searches.of(workshop.rig.name))
    mine = (one for one in every if one.bench.real is workshop.bench.real and one.strategy == NIGHT)
    newest = next(mine, None)
    if newest is None:
        raise Refused(f"No night was begun on {workshop.rig.name}; without --look one begins.")
    return workshop.do(BringNight(newest.id))


def _tell(picture: "NightPicture", as_json: bool) -> None:
    from tenaz.pictures.night.cells import draw_night
    from tenaz.pictures.night.model import morning

    if as_json:
        data = asdict(picture) | {
            "hours": picture.hours, "gained": picture.gained, "trials": picture.trials, "failed": picture.failed,
            "morning": dict(morning(picture)),
        }  # fmt: skip
        say_object("night", data)
        return
    say(draw_night(picture, columns(), ROWS).text().rstrip())
