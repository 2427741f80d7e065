"""``tenaz find``: what is wrong with a rig, and what to do next, from a shell."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.asking import Terminal
from tenaz.cli.kit.opened import RigOption, book_opened
from tenaz.cli.kit.options import STOPPED_BY_HAND, BookOption, leave, note, say
from tenaz.cli.kit.progress import ProgressTeller
from tenaz.cli.kit.room import columns

if TYPE_CHECKING:
    from tenaz.orders import Order
    from tenaz.pictures.find.model import FindPicture
    from tenaz.workshop.shop.shop import Workshop

LINES = 200


def find(
    context: typer.Context,
    rig: RigOption = "",
    bench: Annotated[str, typer.Option("--bench", help="How it is reached: sim, here or hand.")] = "",
    tick: Annotated[
        list[str] | None, typer.Option("--tick", help="A symptom that was noticed, or was not after all.")
    ] = None,
    do: Annotated[
        list[str] | None, typer.Option("--do", help="Work on the parts, like 'pull A2'; written down where it is real.")
    ] = None,
    label: Annotated[
        list[str] | None, typer.Option("--label", help="A label on a part, like 'module 2262 bad: fails alone'.")
    ] = None,
    go: Annotated[
        int, typer.Option("--go", min=0, max=200, help="Do what comes next, up to so many times; ends when sure.")
    ] = 0,
    claim: Annotated[
        Path | None, typer.Option("--claim", help="Write what to order or claim: .txt, .pdf or .json.", metavar="FILE")
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="As JSON, for other programs.")] = False,
    book: BookOption = None,
) -> None:
    """Say which part may be at fault and why, what would tell most for a minute at the bench, and what is sure enough.

    Exit status: 0 said or written, 2 could not be, 130 stopped by hand.

    Examples:

        tenaz find --rig sled --bench sim
        tenaz find --rig sled --bench sim --go 20     # do what comes next until it is sure enough
        tenaz find --do "move A2 B1" --label "slot A2 suspect: pins dirty"
        tenaz find --claim module.pdf
    """
    from tenaz.orders import BringFinding, LabelPart, TickSymptom, WorkOnParts

    teller = ProgressTeller()
    orders: list[Order[str]] = [TickSymptom(one) for one in tick or ()]
    orders += [WorkOnParts(one) for one in do or ()]
    orders += [LabelPart(one) for one in label or ()]
    with book_opened(context, book, rig, read_only=not (orders or go), publish=teller) as workshop:
        _choose_bench(workshop, bench)
        for order in orders:
            say(workshop.do(order), err=as_json)
        stopped = bool(go) and _go(workshop, go, teller)
        _tell(workshop.do(BringFinding()), claim, as_json)
    if stopped:
        raise typer.Exit(STOPPED_BY_HAND)


def _choose_bench(workshop: "Workshop", bench: str) -> None:
    from tenaz.core.rigs.rig import BenchKind
    from tenaz.orders import ChooseBench

    kinds = {kind.value: kind for kind in BenchKind}
    if bench and bench not in kinds:
        leave(f"there is no bench {bench[:20]!r}; there are {', '.join(kinds)}.")
    if bench:
        workshop.do(ChooseBench(kinds[bench]))


def _tell(picture: "FindPicture", claim: Path | None, as_json: bool) -> None:
    from datetime import UTC, datetime

    from tenaz.papers.claims import claim_paper
    from tenaz.papers.find_files import find_as_data
    from tenaz.pictures.find.cells import draw_find
    from tenaz.workshop.reports.letterhead import our_head, our_paper

    if claim is not None:
        claim_paper(picture, picture.verdict.suspect, datetime.now(UTC), our_head()).write(claim, our_paper())
        say(f"written: {claim.absolute()}", err=as_json)
    if as_json:
        say_object("find", find_as_data(picture))
    else:
        say(draw_find(picture, columns(), LINES).text().rstrip())


def _go(workshop: "Workshop", times: int, teller: ProgressTeller) -> bool:
    """Do what comes next until it is sure enough; whether it was stopped by hand."""
    from tenaz.orders import BringFinding
    from tenaz.orders.found import order_for

    for _ in range(times):
        picture = workshop.do(BringFinding())
        if not picture.goes_on:
            return False
        act = picture.acts[0]
        note(f"next: {act.show()} ({act.minutes:.0f} min, {picture.told_by(act):.0%} of the doubt)")
        terminal = Terminal(teller, workshop)
        workshop.publish_to(terminal)
        with teller:
            workshop.do(order_for(act))
            try:
                terminal.wait()
            except KeyboardInterrupt:
                workshop.running.stop()
                workshop.running.wait()
                return True
            workshop.running.wait()
        if terminal.trouble:
            leave(terminal.trouble)
    return False
