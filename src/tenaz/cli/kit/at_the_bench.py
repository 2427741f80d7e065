"""A command at a rig's bench: the book opened, the rig and the bench chosen, questions asked, all closed again."""

from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.cli.kit.opened import tell_what_is_worked_on
from tenaz.cli.kit.options import errors_told, leave, note
from tenaz.cli.kit.progress import ProgressTeller
from tenaz.core.rigs.rig import BenchKind

if TYPE_CHECKING:
    from collections.abc import Iterator

    from tenaz.cli.kit.asking import Terminal
    from tenaz.workshop.shop.shop import Workshop


@contextmanager
def at_the_bench(
    book: str | Path | None, rig: str, bench: BenchKind | None, pace: float | None = None, seed: int | None = None
) -> "Iterator[tuple[Workshop, Terminal]]":
    """The workshop with that rig on that bench, and who sees a run through. Errors are told; what went wrong in a run
    ends the command.
    """
    from tenaz.cli.kit.asking import Terminal
    from tenaz.workshop.shop.shop import Workshop  # late: --help must not wait for the database

    with errors_told(), ProgressTeller() as teller:
        workshop = Workshop(teller, pace)
        terminal = Terminal(teller, workshop)
        workshop.publish_to(terminal)
        try:
            workshop.open(book)
            _choose(workshop, rig, bench, seed)
            tell_what_is_worked_on(workshop)
            yield workshop, terminal
        finally:
            workshop.close()
    if terminal.trouble:
        leave(terminal.trouble)


def _choose(workshop: "Workshop", rig: str, bench: BenchKind | None, seed: int | None) -> None:
    """Work on the rig that is meant, else on that worked on last, or on another specimen of it; who named none is told
    which it is.
    """
    from tenaz.intake.new_rigs import specimen
    from tenaz.orders import ChooseBench, ChooseRig, KeepRig

    chosen = workshop.store.rigs.one(rig) if rig else workshop.rig
    if seed is not None:
        chosen = specimen(chosen, seed)
        workshop.do(KeepRig(chosen))
    if chosen.name != workshop.rig.name:
        workshop.do(ChooseRig(chosen.name))
    if bench is not None:
        workshop.do(ChooseBench(bench))
    if not rig:
        note(f"on {workshop.rig.name}, bench {workshop.bench}: --rig names another")
