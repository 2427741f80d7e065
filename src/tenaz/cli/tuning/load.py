"""``tenaz load``: run a load, or a routine of loads, on this machine or on a rig across a wire."""

from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

import typer

from tenaz.cli.kit import load_options as option
from tenaz.cli.kit.as_json import say_line
from tenaz.cli.kit.options import (
    COULD_NOT_RUN,
    DOES_NOT_COUNT,
    NOT_ONCE_THROUGH,
    STOPPED_BY_HAND,
    BookOption,
    errors_told,
    leave,
    say,
)
from tenaz.cli.kit.progress import ProgressTeller
from tenaz.core.base.errors import BookError, Refused
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.kinds import check_fields
from tenaz.core.loads.parsing import checked_step, checked_warm, in_our_words, parse_load
from tenaz.core.loads.plan import LoadKind, LoadPlan, LoadReport
from tenaz.core.loads.routines import ROUTINES, parse_routine
from tenaz.core.machine.machine import show_gib
from tenaz.engine.runner import describe

MOST_SHOWN = 20


def load(
    context: typer.Context,
    what: option.What,
    duration_s: option.For = None,
    laps: option.Laps = None,
    share: option.Share = None,
    size: option.Size = None,
    level: option.Level = None,
    level_to: option.LevelTo = None,
    test: option.Test = None,
    data: option.Data = None,
    mode: option.Mode = None,
    wait_s: option.Wait = None,
    hertz: option.Hertz = None,
    cards: option.Cards = None,
    side_px: option.Side = None,
    in_step: option.InStep = None,
    warm_c: option.Warm = None,
    workers: option.Workers = None,
    cores: option.Cores = None,
    one_thread: option.OneThread = False,
    leave_cores: option.LeaveCores = 0,
    leave_memory: option.LeaveMemory = 0,
    beside: option.Beside = None,
    bad_words: option.BadWords = "",
    good_words: option.GoodWords = "",
    go_on: option.GoOnPastErrors = False,
    as_json: option.AsJson = False,
    no_book: option.NoBook = False,
    rig: option.AcrossTheWire = "",
    book: BookOption = None,
) -> None:
    """Run a load on this machine, every result verified. Ctrl-C stops it.

    The run goes into the book as a trial on *this machine*, so that it survives a crash; or on a rig
    across a wire, whose crash is then seen from here.

        tenaz load march --for 60s --share 50%
        tenaz load march --test SS --mode blocks --laps 2 --size 2GiB --go-on
        tenaz load march --for 8h --leave-cores 1 --leave-memory 4
        tenaz load transform --for 10m --level L1 --level-to L3 --beside "checker 25% 1 worker"
        tenaz load solo --for 10m --one-thread
        tenaz load march --for 1h --warm 60 --beside transform
        tenaz load paint --for 10m --card 0
        tenaz load transform --for 10m --in-step 1 --beside "march 40% 1 worker" --beside paint
        tenaz load sift
        tenaz load "march 10m; permute 5m"
        tenaz load sift --rig "back office"
        tenaz load program --for 1h --bad-words MISMATCH -- ./verify --all

    Exit status: 0 held, 1 errors, 2 could not run, 3 held but not once through, 4 kept from its
    cores or its own check failed: it does not count, 130 stopped before its end.
    """
    given: dict[str, Any] = {
        "duration_s": duration_s, "laps": laps, "share": share, "size_bytes": size, "level": level,
        "level_to": level_to, "test": test, "data": data, "mode": mode, "wait_s": wait_s, "pulse_hz": hertz,
        "warm_c": warm_c, "cards": cards, "side_px": side_px, "step_hz": in_step,
        "workers": workers, "cores": cores, "siblings": False if one_thread else None,
        "stop_at_first_error": False if go_on else None, "bad_words": bad_words or None,
        "good_words": good_words or None,
    }  # fmt: skip
    with errors_told():
        plans = _plans_said(what, given, beside or (), leave_cores, leave_memory)
        if rig and no_book:
            leave("--rig is for a rig of the book; without a record run it there.")
        _run(plans, as_json, no_book, book or context.obj, rig)


def _plans_said(
    what: list[str], given: dict[str, Any], beside: Sequence[str], leave_cores: int, leave_memory: float
) -> list[LoadPlan]:
    """The loads as words and options say them."""
    fields = {name: value for name, value in given.items() if value is not None}
    if "duration_s" in fields and "laps" in fields:
        leave("--for and --laps are two ends for one load; give one of them.")
    if "step_hz" in fields:
        checked_step(fields["step_hz"])
    if "warm_c" in fields:
        checked_warm(fields["warm_c"])
    if leave_cores:
        fields["workers"] = _cores_but(leave_cores)
    if leave_memory:
        fields["share"] = _memory_but(leave_memory)
    others, plans = tuple(parse_load(words, usual_s=None) for words in beside), _plans(what)
    check_fields(tuple(dict.fromkeys(plan.kind for plan in plans)), tuple(fields))
    return [
        replace(
            plan,
            **{name: value for name, value in fields.items() if plan.kind.declared.uses(name)},
            beside=plan.beside + others,
        )
        for plan in plans
    ]


def _run(plans: Sequence[LoadPlan], as_json: bool, no_book: bool, place: str | None, rig: str) -> None:
    """One load after the other, until one does not hold; leaves with the status of that."""
    reports = []
    for plan in plans:
        report, assumed = _without_book(plan) if no_book else _in_book(plan, place, rig)
        reports.append(report)
        _tell(report, as_json)
        if assumed and not as_json and not no_book:
            say(f"  set now: {assumed}")
        if report.outcome.verdict is not Verdict.PASS:
            break
    report = reports[-1]
    held = 0 if all(one.least_covered >= 1 for one in reports) else NOT_ONCE_THROUGH
    stopped = STOPPED_BY_HAND if report.elapsed_s else COULD_NOT_RUN
    says_nothing = dict.fromkeys((Outcome.STARVED, Outcome.UNCHECKED), DOES_NOT_COUNT)
    raise typer.Exit({Outcome.HELD: held, Outcome.STOPPED: stopped, **says_nothing}.get(report.outcome, 1))


def _plans(what: list[str]) -> tuple[LoadPlan, ...]:
    """The loads that the words name: a routine's, a program of one's own, or one."""
    if len(what) == 1 and what[0].lower() in ROUTINES:
        return ROUTINES[what[0].lower()].plans
    if what[0].lower() == LoadKind.PROGRAM:
        return (LoadPlan(LoadKind.PROGRAM, command=tuple(what[1:])),)
    line = in_our_words(" ".join(what))
    first = line.split()[0].lower() if line.strip() else ""
    if first not in tuple(LoadKind):
        kinds = ", ".join(LoadKind)
        raise Refused(f"{first!r} is no load; it is one of {kinds}; or a routine: {', '.join(ROUTINES)}.")
    return parse_routine(line, usual_s=None).plans


def _tell(report: LoadReport, as_json: bool) -> None:
    from tenaz.finding.prints.suspicion import Circumstances, suspicions

    cores = report.plan.workers or 0
    suspected = suspicions(report.mismatches, Circumstances(report.elapsed_s, None, cores))
    if as_json:
        told = asdict(report)
        for wrong in told["mismatches"]:
            wrong |= {key: f"{wrong[key]:#018x}" for key in ("address", "expected", "read", "read_again")}
        told["points_to"] = [asdict(one) for one in suspected]
        say_line("load", told)
        return
    say(f"{report.plan.kind}: {describe(report)}")
    for other in report.loads[1:]:
        failed = "" if other.failed_after_s is None else f", wrong after {other.failed_after_s:.1f} s"
        say(f"  beside it {other.kind}: {other.laps:.2f} laps, {other.rate:.1f} {other.kind.rate_unit}{failed}")
    for mismatch in report.mismatches[:MOST_SHOWN]:
        of = f" ({mismatch.load})" if len(report.loads) > 1 else ""
        say(f"  worker {mismatch.worker}{of} at {mismatch.at_s:.1f} s: {mismatch.show()}")
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


def _without_book(plan: LoadPlan) -> tuple[LoadReport, str]:
    from tenaz.workshop.runs.single_load import (  # late: --help must not wait for the database
        load_once,
        throw_away_workshop,
    )

    with ProgressTeller(quiet_log=True) as teller, throw_away_workshop() as workshop:
        return load_once(plan, teller, workshop)[0], ""


def _in_book(plan: LoadPlan, place: str | None, rig: str) -> tuple[LoadReport, str]:
    from tenaz.workshop.runs.single_load import assumed_words, load_once
    from tenaz.workshop.shop.shop import Workshop

    workshop = Workshop()
    try:
        workshop.open(place, rig=rig)
        if workshop.store.read_only:
            raise BookError(f"{workshop.store.read_only} Use --no-book to load without a record.")
        with ProgressTeller(quiet_log=True) as teller:
            report, trial = load_once(plan, teller, workshop, rig)
            return report, assumed_words(trial)
    finally:
        workshop.close()
