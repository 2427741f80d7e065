"""``tenaz measure`` and ``tenaz scores``: how fast a rig is, and what a step gained."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit import completing
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import JsonOption, book_opened
from tenaz.cli.kit.options import STOPPED_BY_HAND, BookOption, errors_told, leave, parsed, say
from tenaz.cli.kit.paper import write_paper
from tenaz.core.base.errors import Refused
from tenaz.core.base.typed import parse_duration_s, parse_share
from tenaz.core.rigs.rig import BenchKind

if TYPE_CHECKING:
    from tenaz.cli.kit.measuring import MeasureTeller
    from tenaz.core.scores.gains import Comparison
    from tenaz.core.scores.score import Score
    from tenaz.pictures.scores.model import ScoresPicture
    from tenaz.workshop.shop.shop import Workshop

Rig = Annotated[
    str,
    typer.Option(
        "--rig",
        help="Which rig of the book; else this machine, or the last on that bench.",
        autocompletion=completing.rigs,
    ),
]
Against = Annotated[
    str,
    typer.Option(
        "--against",
        help="stock, a saved setpoint, or a trial's number.",
        metavar="SETPOINT",
        autocompletion=completing.setpoints,
    ),
]


Most = Annotated[float, typer.Option("--for", parser=parsed(parse_duration_s), help="At most so long.", metavar="TIME")]
Narrow = Annotated[float, typer.Option("--to", parser=parsed(parse_share), help="Until so narrow.", metavar="PART")]
Only = Annotated[list[str] | None, typer.Option("--only", help="Figures with this in their name.")]
InTurn = Annotated[
    str,
    typer.Option(
        "--in-turn",
        help="Measure in turn with this setpoint (stock …).",
        metavar="SETPOINT",
        autocompletion=completing.setpoints,
    ),
]
Rounds = Annotated[int, typer.Option("--rounds", min=1, max=16, help="In turn so often.")]
Watts = Annotated[float | None, typer.Option("--watts", help="What a meter at the plug shows.")]
Own = Annotated[list[str] | None, typer.Option("--own", help="A figure of your own: 'render 41.2 s'.")]
Find = Annotated[
    str, typer.Option("--find", help="Run COMMAND and find its figure by this pattern.", metavar="PATTERN")
]
Name = Annotated[str, typer.Option("--name", help="What that figure is called.")]
Unit = Annotated[str, typer.Option("--unit", help="Its unit; of s, ms, … less is better.")]
Times = Annotated[int, typer.Option("--times", min=1, max=100, help="Run COMMAND so often.")]
Limit = Annotated[
    float, typer.Option("--limit", parser=parsed(parse_duration_s), help="Each run of COMMAND.", metavar="TIME")
]
Note = Annotated[str, typer.Option("--note", help="Words to keep with it.")]


def measure(
    context: typer.Context,
    rig: Rig = "",
    bench: Annotated[BenchKind, typer.Option("--bench", help="How to reach it.")] = BenchKind.HERE,
    most_s: Most = "60s",  # type: ignore[assignment] # given as text, handed over parsed
    narrow: Narrow = "0.5%",  # type: ignore[assignment]
    only: Only = None,
    against: InTurn = "",
    rounds: Rounds = 1,
    watts: Watts = None,
    own: Own = None,
    find: Find = "",
    name: Name = "program",
    unit: Unit = "s",
    times: Times = 3,
    limit_s: Limit = "1h",  # type: ignore[assignment]
    note: Note = "",
    as_json: JsonOption = False,
    command: Annotated[list[str] | None, typer.Argument(help="With --find: a command, after --.")] = None,
    book: BookOption = None,
) -> None:
    """Measure how fast a rig is, as it runs now: memory by block size, latency, arithmetic, one core and all.

    Examples:

        tenaz measure                                    # this machine, a minute
        tenaz measure --only latency --to 0.2% --for 5m
        tenaz measure --bench sim --rig ridge --in-turn stock
        tenaz measure --own "render 41.2 40.9 41.5 s"
        tenaz measure --find 'took ([0-9.]+) s' --name build -- make -C work

    Other programs disturb it: repeats in which a core was taken away are left out, and it says how many.

    Exit status: 0 measured, 2 could not, 130 stopped.
    """
    from tenaz.cli.kit.measuring import MeasureTeller
    from tenaz.core.scores.measure import MeasurePlan
    from tenaz.core.scores.own_figures import parse_own
    from tenaz.orders import BringScores, KeepOwn, Measure, MeasureInTurn
    from tenaz.workshop.runs.single_load import interrupt_calls

    teller = MeasureTeller()
    with errors_told():
        scores = [parse_own(text) for text in own or []]
        if find:
            scores.append(_found(find, name, unit, times, command or [], limit_s))
        elif command:
            raise Refused("A command is run to find a figure in what it says: name its pattern with --find.")
    with book_opened(context, book, publish=teller) as workshop:
        try:
            _choose(workshop, rig, bench)
            for score in scores:
                say(workshop.do(KeepOwn(score, note)))
            if scores:
                return
            plan = MeasurePlan(most_s, narrow, tuple(only or ()))
            workshop.do(MeasureInTurn(against, plan, rounds) if against else Measure(plan, note, watts))
            with interrupt_calls(workshop.running.stop):
                workshop.running.wait()
            picture = workshop.do(BringScores(against or "stock"))
        finally:
            teller.close()
    _end(teller, picture, as_json)


def _end(teller: "MeasureTeller", picture: "ScoresPicture", as_json: bool) -> None:
    """What came of it; leaves with a status of its own where it was stopped, or came to nothing."""
    if teller.trouble:
        leave(teller.trouble)
    if not picture.newest and not teller.stopped:
        leave(f"Nothing was measured: {teller.why or 'nobody knows why'}.")
    _tell(picture, as_json)
    if teller.stopped:
        raise typer.Exit(STOPPED_BY_HAND)


def scores(
    context: typer.Context,
    rig: Rig = "",
    bench: Annotated[BenchKind | None, typer.Option("--bench", help="Which bench's; else the last.")] = None,
    against: Against = "stock",
    as_json: JsonOption = False,
    out: Annotated[Path | None, typer.Option("--out", help="Write .svg or .pdf instead.")] = None,
    book: BookOption = None,
) -> None:
    """Tell what was measured of a rig, and what each step gained against a setpoint, with its noise.

    Examples:

        tenaz scores
        tenaz scores --rig ridge --against winter
        tenaz scores --out ridge-scores.pdf

    Exit status: 0 told, 2 could not be.
    """
    from tenaz.orders import BringScores
    from tenaz.pictures.scores.cells import draw_scores_on_paper

    with book_opened(context, book, rig, bench, read_only=True) as workshop:
        picture = workshop.do(BringScores(against))
        stands = workshop.stands()
        if out is not None:
            write_paper("scores", stands, draw_scores_on_paper(picture, 120), out)
            return
        _tell(picture, as_json)


def _choose(workshop: "Workshop", rig: str, bench: BenchKind) -> None:
    from tenaz.intake.new_rigs import this_machine
    from tenaz.orders import ChooseBench, ChooseRig, KeepRig

    name = rig
    if not name and bench is BenchKind.HERE:
        fresh = this_machine()
        name = fresh.name
        if name not in workshop.store.rigs.names():
            workshop.do(KeepRig(fresh))
    if name:
        workshop.do(ChooseRig(workshop.store.rigs.one(name).name))
    workshop.do(ChooseBench(bench))


def _found(pattern: str, name: str, unit: str, times: int, command: list[str], limit_s: float) -> "Score":
    from tenaz.core.scores.own_figures import own_score
    from tenaz.measuring.programs import run_for

    if not command:
        raise Refused("Name the command whose figure it is, after --.")
    return own_score(name, [run_for(command, pattern, limit_s) for _ in range(times)], unit)


def _tell(picture: "ScoresPicture", as_json: bool) -> None:
    if as_json:
        say_object("scores", plain_scores(picture))
        return
    width = max((len(one.figure.name) for one in picture.newest), default=0)
    for one in picture.newest:
        left = f", {_counted(one.left_out)} left out" if one.left_out else ""
        part = "" if one.of_possible is None else f", {100 * one.of_possible:.0f} % of what the data rate allows"
        say(f"{one.figure.name:<{width}}  {one.show()} ({_counted(len(one.values))}{left}){part}")
    if not picture.newest:
        say("nothing was measured at what is set now: tenaz measure does that")
    if picture.comparison is not None:
        say(f"\nagainst {picture.before} ({picture.changed}): {picture.comparison.verdict}")
        for gain in picture.comparison.gains:
            say(f"  {gain.figure.name:<{width}}  {gain.show()}  {gain.verdict}")
    for step in picture.steps:
        if not step.now:
            say(f"{step.words}: {step.comparison.verdict}")
    for line in (*picture.limits, *picture.per_watt, *picture.unfinished):
        say(line)


def _counted(repeats: int) -> str:
    return f"{repeats} repeat{'s' if repeats != 1 else ''}"


def plain_scores(picture: "ScoresPicture") -> dict[str, object]:
    """As values of JSON."""
    return {
        "rig": picture.rig,
        "against": picture.before,
        "changed": picture.changed,
        "scores": [_score(one) for one in picture.newest],
        "comparison": None if picture.comparison is None else _comparison(picture.comparison),
        "steps": [
            {"changed": one.words, "failed": one.failed, "in_force": one.now, **_comparison(one.comparison)}
            for one in picture.steps
        ],
        "limits": list(picture.limits),
        "per_watt": list(picture.per_watt),
        "unfinished": list(picture.unfinished),
    }


def _score(one: "Score") -> dict[str, object]:
    return {
        "figure": one.figure.name, "unit": one.figure.unit, "higher_is_better": one.figure.higher_is_better,
        "median": one.middle, "half_width_95": one.half_width, "repeats": list(one.values), "left_out": one.left_out,
        "disturbed": one.disturbed,
        "best_possible": one.best_possible, "own": one.figure.own, "leads": one.figure.leads,
    }  # fmt: skip


def _comparison(one: "Comparison") -> dict[str, object]:
    return {
        "worth": one.worth.value, "verdict": one.verdict, "measures_before": one.before, "measures_now": one.after,
        "gains": [
            {
                "figure": gain.figure.name, "gain": gain.gain, "low": gain.low, "high": gain.high,
                "worth": gain.worth.value, "more": gain.more, "in_turn": gain.in_turn,
            }
            for gain in one.gains
        ],
    }  # fmt: skip
