"""``tenaz load``: run a load, or a routine of loads, on this machine."""

import json
from dataclasses import asdict, replace
from typing import Annotated, Any

import typer

from tenaz.cli.options import (
    COULD_NOT_RUN,
    NOT_ONCE_THROUGH,
    STOPPED_BY_HAND,
    BookOption,
    errors_told,
    leave,
    parsed,
    say,
)
from tenaz.cli.progress import ProgressTeller
from tenaz.core.errors import BookError, Refused
from tenaz.core.loading import CacheLevel, DataKind, LoadKind, LoadPlan, LoadReport, MarchMode
from tenaz.core.machine import show_gib
from tenaz.core.outcomes import Outcome, Verdict
from tenaz.core.parsing import parse_bytes, parse_cores, parse_duration_s, parse_load, parse_share
from tenaz.core.routines import ROUTINES, parse_routine
from tenaz.engine.runner import describe

MOST_SHOWN = 20


def load(
    context: typer.Context,
    what: Annotated[
        list[str],
        typer.Argument(help="A load in words (march ss blocks), or a routine: sift, prove, soak.", show_default=False),
    ],
    duration_s: Annotated[
        float | None,
        typer.Option("--for", parser=parsed(parse_duration_s), help="How long, like 60s, 10m, 1h30m.", metavar="TIME"),
    ] = None,
    laps: Annotated[int | None, typer.Option("--laps", min=1, help="How many laps, instead of a time.")] = None,
    share: Annotated[
        float | None,
        typer.Option("--share", parser=parsed(parse_share), help="Share of all memory; else half.", metavar="SHARE"),
    ] = None,
    size: Annotated[
        int | None,
        typer.Option("--size", parser=parsed(parse_bytes), help="So much memory instead, like 2GiB.", metavar="SIZE"),
    ] = None,
    level: Annotated[
        CacheLevel | None, typer.Option("--level", case_sensitive=False, help="Where a transform's data live.")
    ] = None,
    level_to: Annotated[
        CacheLevel | None, typer.Option("--level-to", case_sensitive=False, help="Walk from there to here.")
    ] = None,
    test: Annotated[
        str | None, typer.Option("--test", help="A march test by name or notation.", metavar="TEST")
    ] = None,
    data: Annotated[DataKind | None, typer.Option("--data", help="What a march writes.")] = None,
    mode: Annotated[MarchMode | None, typer.Option("--mode", help="What a march does about caches.")] = None,
    wait_s: Annotated[
        float | None,
        typer.Option("--wait", parser=parsed(parse_duration_s), help="How long retain waits.", metavar="TIME"),
    ] = None,
    hertz: Annotated[float | None, typer.Option("--hz", help="How often pulse goes from idle to full.")] = None,
    workers: Annotated[int | None, typer.Option("--workers", min=1, help="Workers; else one a core.")] = None,
    cores: Annotated[
        Any, typer.Option("--cores", parser=parsed(parse_cores), help="Cores to run on, like 0,2-4.", metavar="CORES")
    ] = None,
    one_thread: Annotated[bool, typer.Option("--one-thread", help="One thread of each core only.")] = False,
    leave_cores: Annotated[int, typer.Option("--leave-cores", min=0, help="Leave so many cores free.")] = 0,
    leave_memory: Annotated[
        float,
        typer.Option("--leave-memory", min=0, help="Leave so much memory free; instead of --share.", metavar="GIB"),
    ] = 0,
    beside: Annotated[
        list[str] | None, typer.Option("--beside", help="Another load at the same time, in words.", metavar="LOAD")
    ] = None,
    bad_words: Annotated[str, typer.Option("--bad-words", help="A program's output must not hold this.")] = "",
    good_words: Annotated[str, typer.Option("--good-words", help="A program's output must hold this.")] = "",
    go_on: Annotated[bool, typer.Option("--go-on", help="Go on after an error; else stop at the first.")] = False,
    as_json: Annotated[bool, typer.Option("--json", help="Print what came of it as a line of JSON a load.")] = False,
    no_book: Annotated[bool, typer.Option("--no-book", help="Leave no record in the book.")] = False,
    book: BookOption = None,
) -> None:
    """Run a load on this machine, every result verified. Ctrl-C stops it.

    The run goes into the book as a trial on *this machine*, so that it survives a crash.

        tenaz load march --for 60s --share 50%
        tenaz load march --test SS --mode blocks --laps 2 --size 2GiB --go-on
        tenaz load march --for 8h --leave-cores 1 --leave-memory 4
        tenaz load transform --for 10m --level L1 --level-to L3 --beside "checker 25% 1 worker"
        tenaz load solo --for 10m --one-thread
        tenaz load sift
        tenaz load "march 10m; permute 5m"
        tenaz load program --for 1h --bad-words MISMATCH -- ./verify --all

    Exit status: 0 held, 1 errors, 2 could not run, 3 held but not once through, 130 stopped before its end.
    """
    if duration_s is not None and laps is not None:
        leave("--for and --laps are two ends for one load; give one of them.")
    given: dict[str, Any] = {
        "duration_s": duration_s, "laps": laps, "share": share, "size_bytes": size, "level": level,
        "level_to": level_to, "test": test, "data": data, "mode": mode, "wait_s": wait_s, "pulse_hz": hertz,
        "workers": workers, "cores": cores,
    }  # fmt: skip
    given = {name: value for name, value in given.items() if value is not None}
    given |= {"siblings": False} if one_thread else {}
    with errors_told():
        if leave_cores:
            given["workers"] = _cores_but(leave_cores)
        if leave_memory:
            given["share"] = _memory_but(leave_memory)
        plans = [replace(plan, stop_at_first_error=not go_on, **given) for plan in _plans(what)]
        others = tuple(parse_load(words, usual_s=None) for words in beside or ())
        plans = [replace(p, beside=p.beside + others, bad_words=bad_words, good_words=good_words) for p in plans]
        reports = []
        for plan in plans:
            reports.append(_without_book(plan) if no_book else _in_book(plan, book or context.obj))
            _tell(reports[-1], as_json)
            if reports[-1].outcome.verdict is not Verdict.PASS:
                break
    report = reports[-1]
    held = 0 if all(one.least_covered >= 1 for one in reports) else NOT_ONCE_THROUGH
    stopped = STOPPED_BY_HAND if report.elapsed_s else COULD_NOT_RUN
    raise typer.Exit({Outcome.HELD: held, Outcome.STOPPED: stopped}.get(report.outcome, 1))


def _plans(what: list[str]) -> tuple[LoadPlan, ...]:
    """The loads that the words name: a routine's, a program of one's own, or one."""
    if len(what) == 1 and what[0].lower() in ROUTINES:
        return ROUTINES[what[0].lower()].plans
    if what[0].lower() == LoadKind.PROGRAM:
        return (LoadPlan(LoadKind.PROGRAM, command=tuple(what[1:])),)
    first = what[0].split()[0].lower() if what[0].strip() else ""
    if first not in tuple(LoadKind):
        kinds = ", ".join(LoadKind)
        raise Refused(f"{first!r} is no load; it is one of {kinds}; or a routine: {', '.join(ROUTINES)}.")
    return parse_routine(" ".join(what), usual_s=None).plans


def _tell(report: LoadReport, as_json: bool) -> None:
    from tenaz.prints.features import print_of
    from tenaz.prints.suspects import Run, suspicions

    found = print_of(report.mismatches)
    cores = report.plan.workers or 0
    suspected = suspicions(found, Run(report.elapsed_s, None, cores)) if found else ()
    if as_json:
        told = asdict(report)
        for wrong in told["mismatches"]:
            wrong |= {key: f"{wrong[key]:#018x}" for key in ("address", "expected", "read", "read_again")}
        told["points_to"] = [asdict(one) for one in suspected]
        say(json.dumps(told, ensure_ascii=False))
        return
    say(f"{report.plan.kind}: {describe(report)}")
    for mismatch in report.mismatches[:MOST_SHOWN]:
        say(f"  worker {mismatch.worker} at {mismatch.at_s:.1f} s: {mismatch.show()}")
    if report.errors > len(report.mismatches[:MOST_SHOWN]):
        say(f"  … {report.errors} wrong values in all")
    for one in suspected:
        say(f"  {one.show()}\n    {one.try_next}")


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
    from tenaz.workshop.single_load import load_here, throw_away_workshop  # late: --help must not wait for the database

    with ProgressTeller(quiet_log=True) as teller, throw_away_workshop() as workshop:
        return load_here(plan, teller, workshop)


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
