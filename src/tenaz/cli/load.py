"""``tenaz load``: run a load on this machine."""

from typing import Annotated

import typer

from tenaz.cli.options import COULD_NOT_RUN, STOPPED_BY_HAND, BookOption, errors_told, leave, parsed
from tenaz.cli.progress import ProgressTeller
from tenaz.core.errors import BookError, Refused
from tenaz.core.loading import CacheLevel, LoadKind, LoadPlan, LoadReport
from tenaz.core.machine import show_gib
from tenaz.core.outcomes import Outcome
from tenaz.core.parsing import parse_duration_s, parse_share
from tenaz.engine.runner import describe


def load(
    context: typer.Context,
    kind: Annotated[LoadKind, typer.Argument(help="march strains memory, transform the CPU.")],
    duration_s: Annotated[
        float | None,
        typer.Option("--for", parser=parsed(parse_duration_s), help="How long, like 60s, 10m, 1h30m.", metavar="TIME"),
    ] = None,
    laps: Annotated[int | None, typer.Option("--laps", min=1, help="How many laps, instead of a time.")] = None,
    share: Annotated[
        float, typer.Option("--share", parser=parsed(parse_share), help="Share of all memory.", metavar="SHARE")
    ] = "50%",  # type: ignore[assignment] # given as text, handed over parsed
    level: Annotated[
        CacheLevel, typer.Option("--level", case_sensitive=False, help="Where a transform's data live.")
    ] = CacheLevel.L2,
    workers: Annotated[int | None, typer.Option("--workers", min=1, help="Workers; else one a core.")] = None,
    leave_cores: Annotated[int, typer.Option("--leave-cores", min=0, help="Leave so many cores free.")] = 0,
    leave_memory: Annotated[
        float,
        typer.Option("--leave-memory", min=0, help="Leave so much memory free; instead of --share.", metavar="GIB"),
    ] = 0,
    go_on: Annotated[bool, typer.Option("--go-on", help="Go on after an error; else stop at the first.")] = False,
    no_book: Annotated[bool, typer.Option("--no-book", help="Leave no record in the book.")] = False,
    book: BookOption = None,
) -> None:
    """Run a load on this machine, every result verified. Ctrl-C stops it.

    The run goes into the book as a trial on *this machine*, so that it survives a crash.

        tenaz load march --for 60s --share 50%
        tenaz load march --laps 2 --share 80% --go-on
        tenaz load march --for 8h --leave-cores 1 --leave-memory 4
        tenaz load transform --for 10m --level L3

    Exit status: 0 held, 1 errors, 2 could not run, 130 stopped before its end.
    """
    if duration_s is not None and laps is not None:
        leave("--for and --laps are two ends for one load; give one of them.")
    with errors_told():
        if leave_cores:
            workers = _cores_but(leave_cores)
        if leave_memory:
            share = _memory_but(leave_memory)
        plan = LoadPlan(kind, duration_s, laps, share, level, not go_on, workers)
        report = _without_book(plan) if no_book else _in_book(plan, book or context.obj)
    typer.echo(f"{kind}: {describe(report)}")
    for mismatch in report.mismatches[:20]:
        typer.echo(f"  worker {mismatch.worker} at {mismatch.at_s:.1f} s: {mismatch.show()}")
    if report.errors > len(report.mismatches[:20]):
        typer.echo(f"  … {report.errors} wrong values in all")
    status = {Outcome.HELD: 0, Outcome.STOPPED: STOPPED_BY_HAND if report.elapsed_s else COULD_NOT_RUN}
    raise typer.Exit(status.get(report.outcome, 1))


def _cores_but(free: int) -> int:
    from tenaz.probe.system import usable_cores

    cores = len(usable_cores())
    if free >= cores:
        raise Refused(f"This machine has {cores} cores to use; at most {cores - 1} can be left free.")
    return cores - free


def _memory_but(free_gib: float) -> float:
    """The share of all memory that leaves so much of it free."""
    from tenaz.probe.system import memory

    total = memory().total_bytes
    if free_gib * 2**30 >= total:
        raise Refused(f"This machine has {show_gib(total)} of memory; less than that can be left free.")
    return 1 - free_gib * 2**30 / total


def _without_book(plan: LoadPlan) -> LoadReport:
    from tenaz.workshop.single_load import load_here  # late: --help must not wait for the database

    with ProgressTeller(quiet_log=True) as teller:
        return load_here(plan, teller)


def _in_book(plan: LoadPlan, place: str | None) -> LoadReport:
    from tenaz.workshop.shop import Workshop
    from tenaz.workshop.single_load import load_here

    workshop = Workshop()
    try:
        workshop.open(place)
        if workshop.store.read_only:
            raise BookError(f"{workshop.store.read_only} Use --no-book to load without a record.")
        with ProgressTeller(quiet_log=True) as teller:
            return load_here(plan, teller, workshop)
    finally:
        workshop.close()
