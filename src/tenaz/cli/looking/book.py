"""``tenaz book``: what the book holds. ``tenaz seen``: what was seen of a trial that was cut short."""

from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer
from rich.console import Console, JustifyMethod
from rich.table import Table
from rich.text import Text

from tenaz.cli.books.verbs import verb_of
from tenaz.cli.kit import completing
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import JsonOption, book_opened
from tenaz.cli.kit.options import BookOption, errors_told, leave, parsed, say
from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.base.plain_text import plain
from tenaz.core.base.typed import parse_elapsed_s
from tenaz.core.loads.plan import show_duration
from tenaz.core.trials.trial import Trial

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from tenaz.core.rigs.rig import Rig
    from tenaz.core.trials.querying import Query
    from tenaz.journal.store import Store


Words = Annotated[list[str] | None, typer.Argument(help="What is looked for: outcomes, loads, values, dates, notes.")]
OnlyRig = Annotated[
    str | None,
    typer.Option(
        "--rig",
        help="Only this rig.",
        autocompletion=completing.rigs,
    ),
]
Out = Annotated[Path | None, typer.Option("--out", help="Write them to a file: .csv or .jsonl.", metavar="FILE")]
AsJson = Annotated[bool, typer.Option("--json", help="As JSON, one object with all of them.")]
Whole = Annotated[bool, typer.Option("--all", help="Every value of a setpoint, not only what differs.")]
ScreenOption = Annotated[int | None, typer.Option("--screen", help="Show the picture kept with this trial.")]
Svg = Annotated[Path | None, typer.Option("--svg", help="Write that picture as SVG.", metavar="FILE")]


def book(
    context: typer.Context,
    words: Words = None,
    rig: OnlyRig = None,
    out: Out = None,
    as_json: AsJson = False,
    whole: Whole = False,
    screen: ScreenOption = None,
    svg: Svg = None,
    book: BookOption = None,
) -> None:
    """List the trials in the book, or those that all the words fit; or show the picture kept with one.

    Exit status: 0 all of it, 1 damaged rows were passed over, 2 could not be read.

    Examples:

        tenaz book
        tenaz book failed march 2026-11      # of that month; also: since:2026-10-01, today
        tenaz book "data rate>=6000" held --out held.csv
        tenaz book moved:tcl "fan header"    # a knob off stock, words of a note
        tenaz book "data rate=6400" part:lq-24 by:board   # which boards held that with these modules
        tenaz book --all                     # every value, not only what differs from stock
        tenaz book --rig ridge --json
        tenaz book --rig ridge --screen 7 --svg trial-7.svg
        tenaz book merge /media/TENAZ            # bring home what a stick has done
        tenaz book check                         # is it whole
        tenaz book backup /media/copy.db         # and back: tenaz --book new.db book restore /media/copy.db
        tenaz book away trip.db                  # take a copy along; it comes home: tenaz --book trip.db book home
        tenaz book home                          # of a book on a server: are we in step with it
        tenaz book beside                        # what gave way when two books met; take 3, settle 3
        tenaz book thin 90d                      # telemetry older than that, thinned; records stay
        tenaz book alike part:lq-24              # what rigs with these modules, or that board, usually come to
        tenaz book site /srv/www                 # a page of all rigs, for whoever only looks
        tenaz book figures rigs.prom             # figures for a collector; without a file they are printed
        tenaz book roles | psql DATABASE         # who may look, work, keep on a server

    A picture is kept with every trial when it ends.
    """
    with errors_told():
        verb = verb_of(words or ())
        if verb is not None and words:
            raise typer.Exit(verb.does(book or context.obj, words[1:]))
    from tenaz.cli.kit.trials_as_json import stream_json
    from tenaz.core.trials.querying import parse_query
    from tenaz.journal.opening.opening import open_book

    with errors_told():
        opened = open_book(book or context.obj, read_only=True)
        try:
            # Rigs of which a trial is found are read, and no others: a workshop of years has hundreds.
            rigs = [opened.store.rigs.one(rig).name] if rig else list(opened.store.rigs.names())
            if screen is not None:
                found = [one for name in rigs for one in opened.store.trials.numbered(name, screen, screen)]
                _show_screen(opened.store, found, screen, svg)
                return
            query = parse_query(" ".join(words or ()))
            unread = dict(opened.store.unread)
            if out is not None or words or not as_json:
                rows = _found(opened.store, rigs, query)
                if query.by and out is None:
                    _count(rows, query.by, as_json)
                else:
                    none = "Nothing in the book is like that." if words else "The book holds no trials yet."
                    _tell(opened.store, rows, out, as_json, whole, none)
                unread = dict(opened.store.unread)
            streamed = as_json and not words and out is None
            whole_rigs = [one.name for one in opened.store.rigs.all() if one.name in rigs] if streamed else []
            counts = {name: opened.store.trials.count(name) for name in whole_rigs}
        finally:
            opened.close()
        if streamed:
            unread |= stream_json(book or context.obj, counts)
    for what, why in unread.items():
        say(f"{what} of the book is damaged and was passed over: {why}", err=True)
    raise typer.Exit(int(bool(unread)))


def _count(rows: "Iterable[tuple[Trial, Rig]]", by: str, as_json: bool) -> None:
    """What was found, counted."""
    from dataclasses import asdict

    from tenaz.pictures.book.build import tallied

    found = tallied(rows, by)
    if as_json:
        say_object("counts", {"by": by, "counted": [asdict(one) for one in found]})
    else:
        say("\n".join(one.show() for one in found) or "nothing in the book is like that")


def _tell(
    store: "Store", found: "Iterable[tuple[Trial, Rig]]", out: Path | None, as_json: bool, whole: bool, none: str
) -> None:
    """Trials as a table, as JSON, or a file."""
    from tenaz.papers.trial_files import TrialsPaper

    if out is not None:
        every = tuple(found)
        TrialsPaper(every).write(out)
        say(f"{len(every)} written: {out.absolute()}")
    elif as_json:
        from tenaz.cli.kit.trials_as_json import say_found

        say_found(store, (trial for trial, _ in found))
    else:
        _print(found, whole, none)


def _found(store: "Store", rigs: list[str], query: "Query") -> "Iterator[tuple[Trial, Rig]]":
    """Trials that all the words fit, oldest first, as they are read: few of them are in memory at once. Those of a rig
    that cannot be read are passed over, as it is.
    """
    known: dict[str, Rig | None] = {}
    for page in store.trials.narrowed(query.narrow, rigs):
        for trial in page:
            if trial.rig not in known:
                known[trial.rig] = _rig(store, trial.rig)
            of = known[trial.rig]
            if of is not None and query.matches(trial, of):
                yield trial, of


def _rig(store: "Store", name: str) -> "Rig | None":
    """A rig; None where it cannot be read, which the store names."""
    try:
        return store.rigs.one(name)
    except Refused:
        return None


def _show_screen(store: "Store", found: list[Trial], number: int, svg: Path | None) -> None:
    kept = [one for trial in found if (one := store.load.snapshot(trial.id)) is not None]
    if not kept:
        raise Refused(f"The book keeps no picture of a trial {number}; one is kept when a trial ends.")
    text, picture = kept[-1]
    if svg is None:
        say(text)
        return
    from tenaz.catalogues.writing import write_whole

    write_whole(svg, picture)
    say(f"written: {svg.absolute()}")


def seen(
    context: typer.Context,
    outcome: Annotated[
        Outcome | None, typer.Argument(help="What was seen, like froze, restarted, stopped or lost.")
    ] = None,
    ran_s: Annotated[
        float | None,
        typer.Option("--for", parser=parsed(parse_elapsed_s), help="How long; else by its heartbeat.", metavar="TIME"),
    ] = None,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Say what was seen of the trial that was cut short; without an outcome, tell what is known of it.

    Examples:

        tenaz seen
        tenaz seen froze
        tenaz seen held --for 8h

    Without --for its time is that of the last heartbeat.

    Exit status: 0 recorded or told, 2 could not be.
    """
    from tenaz.orders import Explain

    with book_opened(context, book) as workshop:
        unfinished = workshop.store.trials.unfinished()
        if not unfinished:
            leave("Every trial in the book has been judged; there is nothing to explain.")
        lines = workshop.question_about(unfinished[-1]).lines if outcome is None else ()
        trial = unfinished[-1] if outcome is None else workshop.do(Explain(unfinished[-1].id, outcome, ran_s))
    if as_json:
        told = {"rig": trial.rig, "number": trial.number, "outcome": trial.outcome, "verdict": trial.verdict}
        say_object("unfinished", {**told, "known": list(lines)})
    elif outcome is None:
        say("\n".join(lines))
    else:
        say(f"trial {trial.number} on {trial.rig}: {trial.outcome} ({trial.verdict})")


def _setpoint(trial: Trial, rig: "Rig", whole: bool) -> str:
    """What a trial ran at: what differs from stock, or every value."""
    labels = {knob.name: knob.label for knob in rig.knobs}
    shown = list(trial.setpoint) if whole else [change.knob for change in trial.setpoint.changes_from(rig.stock)]
    asked = {change.knob: change.before for change in trial.otherwise}
    words = (
        f"{labels.get(name, name)} {trial.setpoint[name]}" + (f" (asked {asked[name]})" if name in asked else "")
        for name in dict.fromkeys((*shown, *asked))
    )
    return ", ".join(words) or "stock"


HEADINGS = ("rig", "trial", "begun", "bench", "setpoint", "load", "outcome", "after", "note")
LEAST_WIDTH, LEAST = 4, {"begun": 10, "setpoint": 10, "load": 5, "outcome": 6, "note": 8}
"""Columns are not narrower than that, where there is no room for all of it."""
FIRST_ROWS, ROWS = 40, 400
"""Rows that are written at once: the first soon, however large the book is."""


def _print(found: "Iterable[tuple[Trial, Rig]]", whole: bool, none: str) -> None:
    """A table, written as it is read: its columns are as wide as its first rows ask for, or what follows; ``none`` is
    said where there is nothing.
    """
    console, widths = Console(highlight=False), [0] * len(HEADINGS)
    rows, count = iter(_row(trial, rig, whole) for trial, rig in found), FIRST_ROWS
    while page := list(islice(rows, count)):
        first = count == FIRST_ROWS
        table = Table(box=None, pad_edge=False, header_style="bold", show_header=first)
        widths = [max(wide, *(len(row[k]) for row in page)) for k, wide in enumerate(widths)]
        if first:
            widths = [max(wide, len(heading)) for wide, heading in zip(widths, HEADINGS, strict=True)]
        # Where it does not fit the terminal each page makes do with what room there is.
        fits = sum(widths) + 2 * len(widths) <= console.width
        for heading, wide in zip(HEADINGS, widths, strict=True):
            justify: JustifyMethod = "right" if heading == "trial" else "left"
            least = wide if fits else min(wide, LEAST.get(heading, LEAST_WIDTH))
            table.add_column(heading, justify=justify, min_width=least, overflow="fold")
        for row in page:
            table.add_row(*map(Text, row))
        console.print(table)
        count = ROWS
    if count == FIRST_ROWS:
        console.print(none)


def _row(trial: Trial, rig: "Rig", whole: bool) -> tuple[str, ...]:
    return tuple(
        plain(text)
        for text in (
            trial.rig,
            str(trial.number),
            trial.begun_utc.astimezone().strftime("%Y-%m-%d %H:%M"),
            trial.bench,
            _setpoint(trial, rig, whole),
            trial.plan.kind,
            trial.outcome or f"open, at {trial.station}",
            show_duration(trial.clean_s),
            trial.note,
        )
    )
