"""``tenaz words``: what a word means here, ours or the trade's."""

from typing import Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.options import say


def words(
    text: Annotated[list[str] | None, typer.Argument(help="A word of the trade, or a part of one.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print it as JSON.")] = False,
) -> None:
    """Say what a word means here; without one, list all that is understood.

    Examples:

        tenaz words multiplier
        tenaz words row hammer
        tenaz words blue screen --json

    Exit status: 0 found, 1 only something near it, or nothing.
    """
    from tenaz.core.words.finding import ALL, Meant, find

    typed = " ".join(text or ())
    if len(typed) > MOST_WORD_LETTERS:
        raise typer.BadParameter(f"{len(typed)} letters are no word; give up to {MOST_WORD_LETTERS}.")
    found = find(typed) if typed else tuple(Meant(word, 1.0) for word in ALL)
    sure = [one for one in found if one.called]
    if as_json:
        rows = [
            {"kind": one.word.about.value, "name": one.word.name, "called": one.word.ours, "means": one.word.means,
             "trade": list(one.word.trade), "fits": round(one.fits, 3)}
            for one in found
        ]  # fmt: skip
        say_object("words", {"asked": typed, "found": rows})
    else:
        if typed and not sure:
            say(f"nothing here is called {typed!r}" + ("; near it:" if found else ", and nothing is near it."))
        width = max((len(one.word.ours) for one in found), default=0)
        for one in found:
            also = f" ({', '.join(one.word.trade)})" if one.word.trade else ""
            say(f"{one.word.about:<13} {one.word.ours:<{width}}  {one.word.means}{also}")
    raise typer.Exit(int(bool(typed and not sure)))


MOST_WORD_LETTERS = 80
