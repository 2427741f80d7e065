"""``tenaz session``: where everything stands, and the whole session on paper."""

from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import JsonOption, RigOption, book_opened
from tenaz.cli.kit.options import BookOption, say
from tenaz.cli.kit.room import columns

if TYPE_CHECKING:
    from tenaz.pictures.day.model import DayPicture

LINES = 60


def session(
    context: typer.Context,
    rig: RigOption = "",
    out: Annotated[Path | None, typer.Option("--out", help="Write all of it as one PDF.", metavar="FILE")] = None,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Say how far the work on a rig has come and where everything stands; or write the whole session as one PDF.

    Exit status: 0 said or written, 2 could not be.

    Examples:

        tenaz session
        tenaz session --rig ridge --out ridge.pdf   # day, climbs, margins, cycle, sheet, plan, every trial
    """
    from tenaz.pictures.day.build import day_picture
    from tenaz.pictures.day.cells import draw_day
    from tenaz.workshop.looking.session_paper import ground_of, session_paper
    from tenaz.workshop.reports.letterhead import our_paper

    with book_opened(context, book, rig, read_only=True) as workshop:
        seen = workshop.session()
        if as_json:
            say_object("session", _plain(workshop.rig.name, day_picture(ground_of(seen))))
        elif out is None:
            say(draw_day(day_picture(ground_of(seen)), columns(), LINES).text().rstrip())
        else:
            session_paper(seen).write(out, our_paper())
            say(f"written: {out.absolute()}")


def _plain(rig: str, picture: "DayPicture") -> dict[str, object]:
    return {
        "rig": rig,
        "title": picture.title,
        "story": picture.story,
        "stages": [{"name": one.name, "state": one.state.value, "words": one.words} for one in picture.stages],
        "now": picture.stages[picture.now].name,
        "stands": [{"what": what, "words": words, "first": first} for what, words, first in picture.stands],
    }
