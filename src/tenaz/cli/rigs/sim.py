"""``tenaz sim``: simulated rigs to practise on: made, made faulty, worked on, and their answer told at the end."""

from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit import bench_options as option
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import JsonOption, book_opened
from tenaz.cli.kit.options import BookOption, errors_told, note, say

if TYPE_CHECKING:
    from tenaz.orders import Order

sim = typer.Typer(
    no_args_is_help=True,
    help="Simulated rigs to practise on: make them, make parts faulty, work on parts, and be told the answer.",
    context_settings={"help_option_names": ["-h", "--help"]},
)


@sim.command("list")
def list_(as_json: JsonOption = False) -> None:
    """List what comes along: scenarios with their exercises, kinds to draw from, faults, and what hands can do.

    Examples:

        tenaz sim list

    Exit status: 0 listed.
    """
    from tenaz.core.parts.acts import ACTS
    from tenaz.simulated.made.faults import FaultKind
    from tenaz.simulated.made.populations import population, population_names
    from tenaz.simulated.made.scenarios import scenario, scenario_names

    if as_json:
        say_object("practice", {
            "scenarios": [{"name": name, "goal": scenario(name).goal} for name in scenario_names()],
            "kinds": [{"name": name, "about": population(name).about} for name in population_names()],
            "faults": [{"name": kind.value, "where": kind.where, "about": kind.about} for kind in FaultKind],
            "acts": [{"typed": act.typed, "minutes": act.minutes, "about": act.about} for act in ACTS],
        })  # fmt: skip
        return
    say("scenarios (tenaz demo --rig NAME, tenaz sim new NAME)")
    for name in scenario_names():
        say(f"  {name:<16} {scenario(name).goal}")
    say("kinds (tenaz sim new --kind NAME --seed N)")
    for name in population_names():
        say(f"  {name:<16} {population(name).about}")
    say("faults (tenaz sim fault --rig NAME FAULT …)")
    for kind in FaultKind:
        say(f"  {f'{kind} {kind.where.upper()}'.strip():<22} {kind.about}")
    say("work on parts (tenaz sim do --rig NAME …, P in the workbench)")
    for act in ACTS:
        say(f"  {act.typed:<16} {act.minutes:>3g} min  {act.about}")


@sim.command()
def new(
    context: typer.Context,
    source: Annotated[str, typer.Argument(help="A scenario by name, or a file in TOML.")] = "",
    kind: Annotated[str, typer.Option("--kind", help="Draw it from this kind: a name, or a file in TOML.")] = "",
    seed: Annotated[int | None, typer.Option("--seed", min=0, help="Which specimen.")] = None,
    name: Annotated[str, typer.Option("--name", help="What it is called in the book.")] = "",
    book: BookOption = None,
) -> None:
    """Add a simulated rig to the book.

    Examples:

        tenaz sim new sled
        tenaz sim new ridge --seed 7             # another specimen of it
        tenaz sim new --kind desktop-ddr5 --seed 12
        tenaz sim new bench-3.toml               # docs/schemas/scenario.schema.json says what it may hold

    Exit status: 0 it is in the book, 2 could not be made.
    """
    from tenaz.core.base.errors import Refused
    from tenaz.orders import NewSimulated

    with errors_told():
        if bool(source) is bool(kind):
            raise Refused("name a scenario, or a kind with --kind; tenaz sim list tells both.")
        _do(context, book, NewSimulated(source, kind, seed, name))


@sim.command()
def fault(
    context: typer.Context,
    faults: Annotated[list[str] | None, typer.Argument(help='Like "bad-lane B2"; none makes it sound.')] = None,
    rig: option.Rig = "",
    book: BookOption = None,
) -> None:
    """Make parts of a simulated rig faulty, in place of those that were.

    Examples:

        tenaz sim fault --rig sled "bad-row A1"
        tenaz sim fault --rig ridge "weak-core 5 x0.5" dusty-cooler
        tenaz sim fault --rig ridge              # nothing is wrong with it any more

    Exit status: 0 they are faulty now, 2 could not be.
    """
    from tenaz.orders import SetFaults

    _do_on(context, book, rig, SetFaults(tuple(faults or ())))


@sim.command()
def do(
    context: typer.Context,
    act: Annotated[list[str], typer.Argument(help="Like: pull A2, or move A2 B1.")],
    rig: option.Rig = "",
    book: BookOption = None,
) -> None:
    """Work on the parts of a simulated rig; it takes its minutes of simulated time.

    Examples:

        tenaz sim do --rig sled pull A2
        tenaz sim do --rig sled clean

    Exit status: 0 done, 2 could not be.
    """
    from tenaz.orders import WorkOnParts

    _do_on(context, book, rig, WorkOnParts(" ".join(act)))


@sim.command()
def reveal(
    context: typer.Context,
    rig: option.Rig = "",
    answer: Annotated[str, typer.Option("--answer", help="What you found, like: the module in B1.")] = "",
    book: BookOption = None,
) -> None:
    """Tell what a simulated rig hides, and judge what was found. The book notes that it was told.

    Examples:

        tenaz sim reveal --rig ridge
        tenaz sim reveal --rig sled --answer "the module in B1"

    Exit status: 0 told, 2 could not be.
    """
    from tenaz.orders import Reveal

    _do_on(context, book, rig, Reveal(answer))


def _do(context: typer.Context, book: str | None, order: "Order[str]") -> None:
    with book_opened(context, book) as workshop:
        say(workshop.do(order))


def _do_on(context: typer.Context, book: str | None, rig: str, order: "Order[str]") -> None:
    """On a simulated rig; who named none is told which."""
    from tenaz.core.rigs.rig import BenchKind

    with book_opened(context, book, rig, BenchKind.SIM) as workshop:
        if not rig:
            note(f"on {workshop.rig.name}: --rig names another")
        say(workshop.do(order))
