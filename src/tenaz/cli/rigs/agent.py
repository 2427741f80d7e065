"""``tenaz agent``: answers for this machine to a workbench elsewhere."""

from pathlib import Path
from typing import Annotated

import typer

from tenaz.cli.kit.options import errors_told, leave

NEEDS = "It answers a workbench, not a person: begin one with bench wire on the other machine."


def agent(
    serial: Annotated[
        Path | None, typer.Option("--serial", metavar="DEVICE", help="Answer on a serial line, like /dev/ttyS1.")
    ] = None,
) -> None:
    """Answer for this machine to a workbench elsewhere.

    The other machine keeps the book, judges and shows; this one only runs loads, guards them, and keeps
    notes until they are in that book. It is begun over ssh by the other side, and ends by itself.

        tenaz agent                       # over ssh: tenaz on the other machine begins it
        tenaz agent --serial /dev/ttyS1   # on a serial line, until it is ended

    Exit status: 0 ended, 2 could not answer.
    """
    import sys

    from tenaz.agent.front import answer

    with errors_told():
        if serial is not None:
            from tenaz.agent.answering import answer_on

            raise typer.Exit(answer_on(serial))
        if sys.stdin.isatty():
            leave(NEEDS)
        raise typer.Exit(answer())
