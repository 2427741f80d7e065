"""``tenaz next``: what comes next on a rig, and why."""

from dataclasses import asdict
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit import completing
from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import BenchOption, JsonOption, RigOption, book_opened
from tenaz.cli.kit.options import BookOption, say

if TYPE_CHECKING:
    from tenaz.advice.coming import Coming
    from tenaz.advice.known import Known
    from tenaz.core.knobs.knob import Knob


def next_(
    context: typer.Context,
    rig: RigOption = "",
    bench: BenchOption = None,
    knob: Annotated[
        str,
        typer.Option(
            "--knob",
            help="Along which knob; else the one climbed last.",
            autocompletion=completing.knobs,
        ),
    ] = "",
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Tell what comes next on a rig, and why; always a suggestion.

    Examples:

        tenaz next
        tenaz next --rig ridge --knob tCL
        tenaz next --rig ridge --json

    Exit status: 0 told, 2 could not be.
    """
    from tenaz.advice.tuning import next_step

    with book_opened(context, book, rig, bench, read_only=True) as workshop:
        known = workshop.known()
        along = workshop.rig.knob(knob) if knob else _climbed_last(known)
        coming = next_step(known, known.stands.in_force, along, busy=False)
        if as_json:
            say_object("next", _plain(known, along, coming))
            return
        say(f"{known.stands.rig.name}: {_lead(known, coming)}{coming.step}\n  {coming.reason}")


def _lead(known: "Known", coming: "Coming") -> str:
    """What goes before a step that is only a value: on the screen its key says that."""
    from tenaz.core.searches.search import Proposal
    from tenaz.search.registry import strategy_of

    going, stands = known.searches.going, known.searches.standing
    on_climb = going is not None and isinstance(stands, Proposal) and strategy_of(going.strategy).climbs
    return "the climb goes on with " if on_climb and coming.key == "c" else ""


def _climbed_last(known: "Known") -> "Knob":
    """The knob that the search under way moves, or the newest one did; else the rig's first."""
    rig, searches = known.stands.rig, known.searches
    names = {one.name for one in rig.knobs}
    moved = [one.knob for one in (*searches.every, *((searches.going,) if searches.going else ())) if one.knob in names]
    return rig.knob(moved[-1]) if moved else rig.knobs[0]


def _plain(known: "Known", knob: "Knob", coming: "Coming") -> dict[str, object]:
    stand = coming.stand
    return {
        "rig": known.stands.rig.name,
        "bench": known.stands.bench.value,
        "knob": knob.name,
        "step": coming.step,
        "reason": coming.reason,
        "order": type(coming.order).__name__ if coming.order is not None else None,
        "changes": [] if stand is None else [asdict(one) for one in stand.changes_from(known.stands.in_force)],
        "loads": [one.show() for one in coming.owed],
    }
