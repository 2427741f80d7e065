"""``tenaz golden``: results that must always be the same on this machine, taken at stock."""

from typing import Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import book_opened
from tenaz.cli.kit.options import BookOption, note, say
from tenaz.core.base.errors import BookError, Refused


def golden(
    context: typer.Context,
    take: Annotated[bool, typer.Option("--take", help="Take them now: this machine must run at stock.")] = False,
    as_json: Annotated[bool, typer.Option("--json", help="Print them as JSON.")] = False,
    book: BookOption = None,
) -> None:
    """Show or take the goldens of this machine: digests of results of the CPU loads, by majority of several runs.

    Examples:

        tenaz golden --take
        tenaz golden

    Every later load compares with them. Those made with other instructions or libraries are not
    compared; take new ones.

    Exit status: 0 shown or taken, 2 could not be.
    """
    from tenaz.intake.new_rigs import this_machine
    from tenaz.orders import ChooseRig, KeepGoldens
    from tenaz.workshop.runs.golden_runs import take_goldens

    with book_opened(context, book) as workshop:
        names = workshop.store.rigs.names()
        rig = this_machine()
        if rig.name not in names:
            raise Refused(f"The book has no rig {rig.name}; open it once in the workbench.")
        if take:
            workshop.do(ChooseRig(rig.name))
            if workshop.store.read_only:
                raise BookError(f"{workshop.store.read_only}")
            if workshop.in_force() != workshop.rig.stock:
                raise Refused("By the book this machine does not run at stock; goldens are taken there. Set it back.")
            taken, unsure = take_goldens(note)
            workshop.do(KeepGoldens(taken))
            for name in unsure:
                say(f"not the same each time, so no golden: {name}", err=True)
        known = workshop.store.goldens.of(rig.name)
    if as_json:
        say_object("goldens", {"goldens": known})
        return
    if not known:
        say("No goldens yet: take them at stock with tenaz golden --take.")
    for made_with, digests in known.items():
        say(made_with)
        for name, digest in digests.items():
            say(f"  {name:<36} {digest[:16]}…")
