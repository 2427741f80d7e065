"""``tenaz plan``: trials to come, put there and made from a shell."""

from typing import TYPE_CHECKING, Annotated

import typer

from tenaz.cli.kit.as_json import say_object
from tenaz.cli.kit.asking import Terminal
from tenaz.cli.kit.opened import JsonOption, RigOption, book_opened
from tenaz.cli.kit.options import STOPPED_BY_HAND, BookOption, errors_told, leave, note, say
from tenaz.cli.kit.progress import ProgressTeller
from tenaz.cli.kit.room import columns
from tenaz.core.loads.parsing import parse_load
from tenaz.core.searches.plans import StopRule, parse_rule

if TYPE_CHECKING:
    from tenaz.workshop.shop.shop import Workshop

LINES = 200


def plan(
    context: typer.Context,
    add: Annotated[
        list[str] | None,
        typer.Option("--add", help="Put a trial on it, like 'data rate 6200 | march 1h'.", metavar="TRIAL"),
    ] = None,
    run: Annotated[
        str | None,
        typer.Option("--run", help="Make all of it; ends by this rule, like '2 failures, 9h'.", metavar="RULE"),
    ] = None,
    rig: RigOption = "",
    reason: Annotated[str, typer.Option("--reason", help="Why, where values lie above an advised ceiling.")] = "",
    as_json: JsonOption = False,
    book: BookOption = None,
) -> None:
    """Show the plan and the account of its newest run; put trials on it; make it.

    Exit status: 0 shown, or run to its end; 2 could not; 130 stopped by hand.

    Examples:

        tenaz plan
        tenaz plan --add "data rate 6000 | march 4h" --add "data rate 6000 | transform 2h"
        tenaz plan --run "2 failures, 9h"
    """
    from tenaz.core.loads.plan import LoadKind, LoadPlan
    from tenaz.core.searches.plans import Planned
    from tenaz.orders import AddPlanned
    from tenaz.papers.paper_lists import moved_values

    teller = ProgressTeller()
    with errors_told():
        rule = None if run is None else parse_rule(run)
    with book_opened(context, book, rig, read_only=not add and rule is None, publish=teller) as workshop:
        trials = []
        for text in add or ():
            values, _, load = text.partition("|")
            setpoint = moved_values(values, workshop.rig, workshop.in_force())
            load_plan = parse_load(load) if load.strip() else LoadPlan(LoadKind.MARCH, duration_s=3600.0)
            trials.append(Planned(0, setpoint, load_plan, reason))
        if trials:
            added = str(workshop.do(AddPlanned(tuple(trials))))
            note(added) if as_json else say(added)
        stopped = rule is not None and _run(workshop, rule, teller)
        say_object("plan", _plain(workshop)) if as_json else say(_shown(workshop))
    if stopped:
        raise typer.Exit(STOPPED_BY_HAND)


def _run(workshop: "Workshop", rule: StopRule, teller: ProgressTeller) -> bool:
    """Make all of the plan; whether it was stopped by hand."""
    from tenaz.orders import RunPlan

    terminal = Terminal(teller, workshop)
    workshop.publish_to(terminal)
    with teller:
        workshop.do(RunPlan(rule))
        stopped = terminal.see_through()
    if terminal.trouble:
        leave(terminal.trouble)
    return stopped


def _plain(workshop: "Workshop") -> dict[str, object]:
    kept, stock = workshop.session().kept, workshop.rig.stock
    run = kept.plan_run
    planned = [
        {
            "id": one.id,
            "moved": {change.knob: change.after for change in one.setpoint.changes_from(stock)},
            "load": one.load.show(),
            "state": one.state.value,
            "reason": one.why or None,
            "search": one.search_id,
            "trial": one.trial_id,
        }
        for one in kept.planned
    ]
    ran = None
    if run is not None:
        ended = None if run.ended_utc is None else run.ended_utc.isoformat()
        ran = {
            "from_trial": run.from_number, "rule": run.rule.show(), "begun_utc": run.begun_utc.isoformat(),
            "ended_utc": ended, "why": run.ended_why or None,
        }  # fmt: skip
    return {"rig": workshop.rig.name, "planned": planned, "run": ran}


def _shown(workshop: "Workshop") -> str:
    from datetime import UTC, datetime

    from tenaz.pictures.plan.build import plan_picture
    from tenaz.pictures.plan.cells import draw_plan
    from tenaz.workshop.looking.session_paper import plan_ground

    seen = workshop.session()
    picture = plan_picture(plan_ground(seen.stands, seen.kept, seen.searches), datetime.now(UTC), at=-1)
    return draw_plan(picture, columns(), LINES).text().rstrip()
