"""``tenaz report``: what the client gets, and what goes into the archive."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import BenchOption, JsonOption, RigOption, book_opened
from tenaz.cli.kit.options import BookOption, errors_told, note, say, say_ascii

if TYPE_CHECKING:
    from collections.abc import Sequence

    from tenaz.papers.reports.report import Report

NOT_PROVEN = 1


def report(
    context: typer.Context,
    out: Annotated[
        list[Path] | None, typer.Option("--out", help="Write it: .pdf, .html, .csv, .json, .txt.", metavar="FILE")
    ] = None,
    rig: RigOption = "",
    bench: BenchOption = None,
    archive: Annotated[bool, typer.Option("--archive", "--shelf", help="All of it, for the archive.")] = False,
    paper: Annotated[str, typer.Option("--paper", help="a4 or letter; else as set.", metavar="SIZE")] = "",
    language: Annotated[
        str, typer.Option("--language", help="en, es, or your own sentences, a .toml; else as set.", metavar="NAME")
    ] = "",
    sentences: Annotated[
        bool, typer.Option("--sentences", help="Print the sentences in English, to be said in a language of your own.")
    ] = False,
    number: Annotated[int | None, typer.Option("--number", help="One that was given out before.")] = None,
    kept: Annotated[bool, typer.Option("--list", help="Which were given out.")] = False,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Write a report: a page for the client in plain words, or all of it for the archive; one made once stays as it is.

    Examples:

        tenaz report                                       # the client's page, here
        tenaz report --out ridge.pdf --out ridge.html
        tenaz report --archive --paper letter --out archive.pdf
        tenaz report --number 2 --out as-it-was.pdf
        tenaz report --language es --out informe.pdf
        tenaz report --sentences

    The workshop's name, address, mark, who signs, paper and language are settings. A report is kept in the book with a
    number; where nothing changed since, the newest is written again.

    Exit status: 0 proven, 1 something is still to be run, 2 could not run.
    """
    from tenaz.orders import MakeReport
    from tenaz.papers.reports.figures import as_json_text
    from tenaz.papers.reports.language import ENGLISH, sentences_of
    from tenaz.papers.reports.report import Edition
    from tenaz.press.leaf_text import as_text
    from tenaz.workshop.reports.letterhead import our_paper
    from tenaz.workshop.reports.reporting import ReportPaper, check_report_path, tongue_of

    if sentences:
        say(sentences_of(ENGLISH).rstrip())
        return
    with errors_told():
        size, tongue = our_paper(paper), tongue_of(language)
        edition = Edition.SHELF if archive else Edition.CLIENT
        for path in out or []:
            check_report_path(path)
    with book_opened(context, book, rig, bench) as workshop:
        if kept:
            _list(workshop.reporting.kept(), as_json)
            return
        made = workshop.do(MakeReport(number))
        form = ReportPaper(made, edition, tongue)
        for path in out or []:
            form.write(path, size)
            (note if as_json else say)(f"written: {path.absolute()}")
        if as_json:
            say_ascii(as_json_text(made))
        elif not out:
            say(as_text(form.leaf).rstrip())
        else:
            say(_line(made))
    if not made.proven:
        raise typer.Exit(NOT_PROVEN)


def _list(kept: "Sequence[Report]", as_json: bool) -> None:
    if as_json:
        rows = [
            {"number": one.number, "at_utc": one.at_utc.isoformat(), "proven": one.proven, "owed": list(one.owed)}
            for one in kept
        ]
        say_object("reports", {"reports": rows})
        return
    for one in kept:
        say(_line(one))


def _line(one: "Report") -> str:
    state = "proven" if one.proven else f"still to run: {'; '.join(one.owed)}"
    return f"report {one.number} of {one.at_utc:%d %b %Y}: {state}"
