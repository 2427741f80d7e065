"""``tenaz proof``: what each march test finds, by fault model, in its own machine code; a card's loads too."""

from dataclasses import asdict
from typing import Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.loudness import is_quiet
from tenaz.cli.kit.options import errors_told, say

MOST_CELLS = 16


def proof(
    test: Annotated[
        list[str] | None, typer.Option("--test", help="A test by name or notation, instead of all.", metavar="TEST")
    ] = None,
    mode: Annotated[
        list[str] | None, typer.Option("--mode", help="direct, cached, flushed or blocks; else all.")
    ] = None,
    card: Annotated[
        int | None, typer.Option("--card", min=0, help="Prove the loads of this graphics card instead.")
    ] = None,
    tries: Annotated[int, typer.Option("--tries", min=1, max=500, help="Of each fault of a card's loads.")] = 20,
    ahead: Annotated[int, typer.Option("--ahead", min=0, max=4, help="Lines that the cache reads ahead.")] = 0,
    cells: Annotated[int, typer.Option("--cells", min=2, max=MOST_CELLS, help="Cells of the array.")] = 4,
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
) -> None:
    """Prove the loads: run their machine code on an array with every fault in turn, and count what is found.

    In mode *direct* every operation reaches the array, which is what theory speaks of. The others stand behind a cache
    that holds a third of the array, as a load on a real machine does.

        tenaz proof
        tenaz proof --test SS --mode blocks
        tenaz proof --test "{⇕(w0); ⇑(r0,w1); ⇓(r1,w0)}"
        tenaz proof --card 0

    With --card each fault is put into what the card runs, each time elsewhere, and must be found at its place.

    A fault counts as found when it is found whatever the array held before. With --ahead the cache reads lines before
    they are asked for, as prefetching does: couplings and decoder faults of cells that near are then found in part.

    Exit status: 0 told, 2 could not be.
    """
    from tenaz.core.base.errors import Refused
    from tenaz.loads.march import KEPT, MARCH_TESTS, named_march, parse_march, show_march
    from tenaz.loads.proof.prove import COPY, MOVES, RETAIN, ProofMode, prove

    if card is not None:
        _of_card(card, tries, as_json)
        return
    with errors_told():
        unknown = [one for one in mode or () if one not in tuple(ProofMode)]
        if unknown:
            raise Refused(f"{unknown[0]!r} is no mode; it is one of {', '.join(ProofMode)}.")
        tests = [(one, show_march(parse_march(named_march(one)))) for one in test or ()]
        tests = tests or [*MARCH_TESTS.items(), (RETAIN, KEPT), (COPY, MOVES)]
        modes = [ProofMode(one) for one in mode or tuple(ProofMode)]
        table = prove(tests, modes, cells, lambda doing: _far(f"\r{doing:<40}"), ahead)
    _far(f"\r{'':<40}\r")
    if as_json:
        say_object("proof", {"tests": [{**asdict(one), "part": one.part} for one in table]})
        return
    for name, notation in tests:
        say(f"{name:<8} {notation}")
    for one_mode in modes:
        typer.echo(f"\n{one_mode:<40}" + "".join(f"{name[:10]:>11}" for name, _ in tests))
        for model in dict.fromkeys(one.model for one in table):
            row = [one for one in table if one.mode is one_mode and one.model is model]
            by_test = {one.test: f"{one.found:>5}/{one.faults:<5}" for one in row}
            typer.echo(f"  {model:<38}" + "".join(f"{by_test.get(name, ''):>11}" for name, _ in tests))


def _of_card(card: int, tries: int, as_json: bool) -> None:
    """What a card's own loads find of faults in what it runs."""
    from tenaz.loads.cards import prove

    with errors_told():
        table = list(prove(card, tries, lambda doing: _far(f"\r{doing:<60}")))
    _far(f"\r{'':<60}\r")
    if as_json:
        say_object("card-proof", {"card": card, "faults": table})
        return
    typer.echo(f"{'':<8}{'fault in what the card runs':<46}{'found':>10}{'in place':>12}")
    for one in table:
        found, placed = (f"{one[name]}/{one['tries']}" for name in ("found", "placed"))
        typer.echo(f"{one['load']:<8}{one['fault']:<46}{found:>10}{placed:>12}")


def _far(text: str) -> None:
    if not is_quiet():
        typer.echo(text, nl=False, err=True)
