"""A book opened for a command: the workshop on it, on the rig and the bench that were named; closed again after it."""

from contextlib import contextmanager
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit import completing
from tenaz.cli.kit.options import detail, errors_told
from tenaz.core.rigs.rig import BenchKind

if TYPE_CHECKING:
    from collections.abc import Iterator

    from tenaz.core.ports.bench import Publish
    from tenaz.workshop.shop.shop import Workshop

RigOption = Annotated[
    str,
    typer.Option(
        "--rig",
        help="Which rig of the book; else the one worked on last.",
        autocompletion=completing.rigs,
    ),
]
BenchOption = Annotated[BenchKind | None, typer.Option("--bench", help="Which bench's trials; else the last.")]
JsonOption = Annotated[bool, typer.Option("--json", help="As JSON.")]


@contextmanager
def book_opened(
    context: typer.Context,
    book: str | None,
    rig: str = "",
    bench: BenchKind | None = None,
    read_only: bool = False,
    publish: "Publish" = lambda _: None,
) -> "Iterator[Workshop]":
    """The workshop on that book, the usual one, or that named before the command; on a rig and a bench, where they are
    named. Errors are told, also those of what is done with it.
    """
    from tenaz.orders import ChooseBench
    from tenaz.workshop.shop.shop import Workshop  # late: --help must not wait for the database

    workshop = Workshop(publish)
    with errors_told():
        try:
            workshop.open(book or context.obj, read_only, rig)
            if bench is not None:
                workshop.do(ChooseBench(bench))
            tell_what_is_worked_on(workshop)
            yield workshop
        finally:
            workshop.close()


def tell_what_is_worked_on(workshop: "Workshop") -> None:
    """Book, rig, bench and settings, where everything is to be told."""
    from tenaz.settings.place import settings_path

    detail(f"book {workshop.store.place}; rig {workshop.rig.name}; bench {workshop.bench}; settings {settings_path()}")
