"""``tenaz drift``: margins of before against those of now. ``tenaz follow-ups``: what is to be come back to."""

from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.opened import BenchOption, JsonOption, RigOption, book_opened
from tenaz.cli.kit.options import BookOption, say
from tenaz.cli.kit.paper import write_paper
from tenaz.core.base.errors import Refused

if TYPE_CHECKING:
    from collections.abc import Sequence

    from tenaz.advice.visits import VisitTrial
    from tenaz.core.trials.due import Due
    from tenaz.pictures.drift.model import DriftPicture, DriftRow

WIDTH, ROWS_A_KNOB = 120, 6
MOST_ASKED = 3


def drift(
    context: typer.Context,
    rig: RigOption = "",
    bench: BenchOption = None,
    other: Annotated[str, typer.Option("--with", help="Against another rig: the same values there.")] = "",
    due: Annotated[bool, typer.Option("--due", help="Which rigs of the workshop are due for a check.")] = False,
    as_json: JsonOption = False,
    out: Annotated[Path | None, typer.Option("--out", help="Write .svg or .pdf instead.")] = None,
    book: BookOption = None,
) -> None:
    """Compare the margins of a rig with those of an earlier time: months ago, on other parts, under another firmware.

    Both times share how steep the edge is and how far its wall lies behind. What the temperature of the part makes of
    it is taken out; what is left is drift, with the chance that there is any. For a rig that was left alone for a month
    or more it says which few trials tell most; the workbench's next step is the first of them.

    Examples:

        tenaz drift --rig ridge
        tenaz drift --rig ridge --with cliff     # the same values on another board
        tenaz drift --due
        tenaz drift --rig ridge --out ridge-drift.pdf

    Exit status: 0 told, 1 a margin has moved, 2 could not run.
    """
    from tenaz.engine.clock import RealClock
    from tenaz.pictures.drift.build import drift_picture
    from tenaz.pictures.drift.cells import draw_drift
    from tenaz.pictures.drift.model import SURE
    from tenaz.workshop.looking.follow_ups import due_for_check

    with book_opened(context, book, rig, bench, read_only=True) as workshop:
        if due:
            _tell_due(due_for_check(workshop.store, RealClock().utc()), as_json)
            return
        stands, store = workshop.stands(), workshop.store
        real = stands.bench.real
        mine = [one for one in store.trials.of(stands.rig.name) if one.bench.real is real]
        beside = None
        if other:
            there = store.trials.of(store.rigs.one(other).name)
            beside = (other, [one for one in there if one.bench.real is real])
        picture = drift_picture(stands.rig, mine, stands.in_force, beside)
        visits = () if other else workshop.visits()
        if out is not None:
            write_paper("drift", stands, draw_drift(picture, WIDTH, 6 + ROWS_A_KNOB * max(1, len(picture.rows))), out)
        elif as_json:
            say_object("drift", {**_plain(picture), "ask": [_asked(one) for one in visits]})
        else:
            _tell(picture, visits[:MOST_ASKED])
    if any(row.moved.differs >= SURE for row in picture.rows):
        raise typer.Exit(1)


def _tell_due(found: "tuple[Due, ...]", as_json: bool) -> None:
    if as_json:
        say_object("due", {"due": [asdict(one) for one in found]})
    else:
        say("\n".join(one.show() for one in found) or "no rig is due")


def _asked(visit: "VisitTrial") -> dict[str, object]:
    return {
        "knob": visit.knob.name, "value": visit.setpoint[visit.knob.name], "load": visit.plan.show(),
        "tells": visit.telling.tells, "fails": visit.telling.fails, "cost_h": visit.telling.cost_h,
    }  # fmt: skip


def _tell(picture: "DriftPicture", visits: "Sequence[VisitTrial]") -> None:
    say(f"{picture.rig}: {'; '.join(picture.epochs) or 'no trial yet'}")
    for row in picture.rows:
        say(f"{row.knob.label} under {row.kind}: {row.verdict}")
        say(f"    then, {row.then}: edge {_edge(row, True)}, trials {', '.join(map(str, row.trials_then))}")
        say(f"    now, {row.now}: edge {_edge(row, False)}, trials {', '.join(map(str, row.trials_now))}")
        moved = row.moved
        say(f"    moved {moved.steps:+.1f} steps ({moved.low:+.1f} to {moved.high:+.1f}); {row.weather}")
    if picture.words and not visits:
        say(picture.words)
    for visit in visits:
        say(f"to ask: {visit.words}, about {60 * visit.telling.cost_h:.0f} min: {visit.reason}")


def _edge(row: "DriftRow", then: bool) -> str:
    edge = row.edge_then if then else row.edge_now
    return f"{row.knob.between(edge.low):.0f} to {row.knob.between(edge.high):.0f} {row.knob.unit}".rstrip()


def _plain(picture: "DriftPicture") -> dict[str, object]:
    return {
        "rig": picture.rig,
        "times": list(picture.epochs),
        "words": picture.words,
        "drift": [
            {
                "knob": row.knob.name, "load": row.kind.value, "then": row.then, "now": row.now,
                "edge_then": [row.knob.between(one) for one in (row.edge_then.low, row.edge_then.high)],
                "edge_now": [row.knob.between(one) for one in (row.edge_now.low, row.edge_now.high)],
                "trials_then": list(row.trials_then), "trials_now": list(row.trials_now), "verdict": row.verdict,
                **asdict(row.moved),
            }
            for row in picture.rows
        ],
    }  # fmt: skip


def follow_ups(
    context: typer.Context,
    rig: Annotated[str, typer.Option("--rig", help="Only this rig.")] = "",
    done: Annotated[int | None, typer.Option("--done", help="It was done.", metavar="N")] = None,
    drop: Annotated[int | None, typer.Option("--drop", help="It will not be done.", metavar="N")] = None,
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """List what is to be come back to, rig by rig, with why: open notes, and rigs that are due for a check.

    Examples:

        tenaz follow-ups
        tenaz follow-ups --done 12

    Exit status: 0 listed or settled, 2 could not be.
    """
    from tenaz.engine.clock import RealClock
    from tenaz.orders import SettleNote
    from tenaz.workshop.looking.follow_ups import follow_ups as found_follow_ups

    with book_opened(context, book, read_only=done is None and drop is None) as workshop:
        found = found_follow_ups(workshop.store, RealClock().utc(), rig)
        for number, dropped in ((done, False), (drop, True)):
            if number is None:
                continue
            if number not in [one.note_id for one in found]:
                known = ", ".join(str(one.note_id) for one in found if one.note_id is not None) or "none"
                raise Refused(f"There is no open follow-up {number}; open are: {known}.")
            say(str(workshop.do(SettleNote(number, dropped))))
        found = found_follow_ups(workshop.store, RealClock().utc(), rig)
        if as_json:
            say_object("follow-ups", {"follow_ups": [asdict(one) for one in found]})
        elif done is None and drop is None:
            say("\n".join(one.show() for one in found) or "there is nothing to follow up")
