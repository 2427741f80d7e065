"""``tenaz trial``: one trial opened, or two side by side. ``tenaz enter``: trials that were made elsewhere."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import JsonOption, RigOption, book_opened
from tenaz.cli.kit.options import BookOption, errors_told, say
from tenaz.core.base.errors import Refused

if TYPE_CHECKING:
    from tenaz.core.trials.past_trials import PastTrial
    from tenaz.journal.store import Store

WIDTH = 110


def trial(
    context: typer.Context,
    number: Annotated[int, typer.Argument(help="The trial's number.")],
    other: Annotated[int | None, typer.Argument(help="Another one, to stand beside it.")] = None,
    rig: RigOption = "",
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Show all that the book keeps of a trial, or two trials side by side.

    Examples:

        tenaz trial 7
        tenaz trial 7 12 --rig ridge       # what differs between them

    Exit status: 0 shown, 2 could not be.
    """
    from tenaz.cli.kit.trials_as_json import say_found
    from tenaz.journal.opening.opening import open_book
    from tenaz.pictures.book.trial import compared_lines, page_lines
    from tenaz.workshop.looking.trial_page import trial_page

    with errors_told():
        opened = open_book(book or context.obj, read_only=True)
        try:
            name = rig or _last_rig(opened.store)
            if as_json:
                both = [opened.store.trials.one(_id_of(opened.store, name, one)) for one in (number, other) if one]
                say_found(opened.store, [one for one in both if one is not None])
                return
            pages = [
                trial_page(opened.store, _id_of(opened.store, name, one)) for one in (number, other) if one is not None
            ]
        finally:
            opened.close()
    if len(pages) == 1:
        for indent, text, _ in page_lines(pages[0]):
            say(f"{' ' * indent}{text}")
        return
    for what, mine, its, differs in compared_lines(pages[0], pages[1]):
        say(f"{'≠' if differs else ' '} {what:<22} {mine:<40} {its}")


def _last_rig(store: "Store") -> str:
    newest = store.trials.newest()
    if newest is None:
        raise Refused("The book holds no trials yet.")
    return newest.rig


def _id_of(store: "Store", rig: str, number: int) -> int:
    store.rigs.one(rig)
    found = store.trials.numbered(rig, number, number)
    if not found:
        count = store.trials.count(rig)
        raise Refused(f"{rig} has no trial {number}; it has {f'1 to {count}' if count else 'none yet'}.")
    return found[0].id


def enter(
    context: typer.Context,
    what: Annotated[str, typer.Argument(help="A trial in a line, or a file ending in .csv, .jsonl or .txt.")],
    rig: RigOption = "",
    dry: Annotated[bool, typer.Option("--dry", help="Only say what would be entered.")] = False,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Enter trials that were made elsewhere or before: all of them, or none.

    Examples:

        tenaz enter "data rate 6200, tCL 38 | march 1h | erred 12m 3 errors | 2026-11-20 | fan header loose"
        tenaz enter winter.csv --rig ridge    # a column a knob; or one that tenaz book --out wrote
        tenaz enter paper.txt --dry           # a trial a line

    Only how it ended is needed. Values that are not named are as what is in force; the load is march where none is
    named. A time may be about so long: held about 1h. Exit status: 0 entered, 2 could not be.
    """
    from tenaz.core.loads.plan import LoadKind, LoadPlan
    from tenaz.core.rigs.rig import Rig
    from tenaz.orders import EnterPast
    from tenaz.papers.paper_lists import trial_of_line
    from tenaz.papers.trial_files import LIST_ENDINGS, Reading, read_trials
    from tenaz.pictures.book.trial import values_off_stock

    with book_opened(context, book, rig) as workshop:
        rigs, unjudged = dict[str, Rig](), 0
        usual, base = LoadPlan(LoadKind.MARCH), workshop.in_force()
        if what.lower().endswith(LIST_ENDINGS) and "|" not in what:
            rigs = {one.name: one for one in workshop.store.rigs.all()}
            read = read_trials(Path(what), Reading(rigs, workshop.rig, base, usual))
            past, unjudged = read.trials, read.unjudged
        else:
            past = (trial_of_line(what, workshop.rig, base, usual),)
        if as_json:
            told = "" if dry else str(workshop.do(EnterPast(past)))
            rows = [_plain(one, one.rig or workshop.rig.name) for one in past]
            say_object("entered", {"entered": not dry, "trials": rows, "passed_over": unjudged, "words": told})
            return
        for one in past:
            words = f" ({one.uncertain})" if one.uncertain else ""
            mine = rigs.get(one.rig, workshop.rig)
            whose = f"{one.rig}: " if one.rig else ""
            say(f"{whose}{values_off_stock(one.setpoint, mine)}: {one.plan.show()}, {one.record.show()}{words}")
        say(f"{len(past)} would be entered" if dry else str(workshop.do(EnterPast(past))))
        if unjudged:
            say(f"{unjudged} passed over: they were never judged")


def _plain(one: "PastTrial", rig: str) -> dict[str, object]:
    return {
        "rig": rig,
        "setpoint": dict(one.setpoint.items_by_name),
        "load": one.plan.show(),
        "outcome": one.record.outcome.value,
        "words": one.record.show(),
        "at_utc": None if one.at_utc is None else one.at_utc.isoformat(),
        "day_only": one.day_only,
        "note": one.note or None,
    }
