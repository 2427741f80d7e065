"""What something costs a real machine, told before it is done: hours to come, hours that would be lost."""

from collections.abc import Sequence
from dataclasses import dataclass

from tenaz.core.base.amounts import show_duration
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.searches.search import Proposal
from tenaz.core.trials.costs import BY_HAND, MOST_LOOKED_AT, USUAL_LAP_S, costs_of
from tenaz.core.trials.stands import Stands
from tenaz.core.trials.trial import Trial
from tenaz.orders import Begins, BeginSearch, FollowFound, GoOn, StartRoutine, StartTrial, TakeUp

MINUTE_S = 60.0
MOST_NAMED = 3


@dataclass(frozen=True, slots=True)
class Price:
    """What is to be done, in a line, and what it costs, in lines; ``does`` is what Enter does."""

    what: str
    costs: tuple[str, ...]
    does: str


def price_of(
    order: Begins[object], stands: Stands, standing: Proposal | None = None, taken_up: Trial | None = None
) -> Price:
    """What is to be begun on a rig; ``standing`` is what a search under way would try, ``taken_up`` the trial that it
    goes on with.
    """
    at, plans, does, to_come_h = stands.in_force, tuple[LoadPlan, ...](), "begins it", 0.0
    match order:
        case StartTrial():
            at, plans = order.setpoint, (order.load,)
        case StartRoutine():
            at, plans, does = order.setpoint, order.loads, "begins them"
        case GoOn() if standing is not None:
            at, plans, to_come_h = standing.setpoint, (standing.plan,), standing.to_come_h
        case BeginSearch():
            at, plans, does = order.base, (order.load,), "begins its first trial"
        case TakeUp() if taken_up is not None:
            at, plans, does = taken_up.asked, (taken_up.plan,), "goes on with it"
        case FollowFound():
            plans = (order.load,)
    if not plans:
        return Price("something that runs", ("until it has ended, or s stops it",), does)
    return _priced(stands, at, plans, does, to_come_h)


def price_of_stopping(trial: Trial | None, elapsed_s: float, searching: bool) -> Price:
    """What is lost where a run is stopped."""
    if trial is None:
        return Price("stop what runs", ("nothing is under load now, and nothing is lost",), "stops it")
    lost = f"trial {trial.number} does not count then: {_about(elapsed_s)} under load are lost"
    goes_on = ("the search stays, and goes on with c",) if searching else ()
    return Price(f"stop trial {trial.number}, {trial.plan.show()}", (lost, *goes_on), "stops it")


def price_of_ending(what: str, trials: Sequence[Trial]) -> Price:
    """What is given up where a search is ended."""
    hours = sum(trial.elapsed_s for trial in trials)
    stays = f"its {len(trials)} trial{'s' if len(trials) != 1 else ''}, {_about(hours)} under load, stay in the book"
    return Price(f"end the {what}", (stays, "what it was after stays open; u takes the end back"), "ends it")


def _priced(stands: Stands, setpoint: Setpoint, plans: Sequence[LoadPlan], does: str, to_come_h: float) -> Price:
    rig, changes = stands.rig, setpoint.changes_from(stands.in_force)
    costs = costs_of(stands.index.latest(MOST_LOOKED_AT), BY_HAND)
    knobs = {knob.name: knob for knob in rig.knobs}
    known = [(knobs[one.knob], one) for one in changes if one.knob in knobs]
    moved = [f"{knob.label} {one.before} → {knob.show(one.after)}" for knob, one in known]
    what = f"{', '.join(moved) if len(moved) <= MOST_NAMED else f'{len(moved)} values changed'}: " if moved else ""
    loads = "; ".join(plan.show() for plan in plans[:MOST_NAMED]) + (" …" if len(plans) > MOST_NAMED else "")
    under_s = sum(plan.duration_s if plan.duration_s is not None else USUAL_LAP_S * (plan.laps or 1) for plan in plans)
    hands_s = costs.enter_s + costs.boot_s if changes else 0.0
    lines = [f"about {_about(under_s + hands_s)} of {rig.name}: {_about(under_s)} under load"]
    if changes:
        lines[0] += f", {_about(hands_s)} until it is typed in and up"
        lines.append(f"if it does not start: {_about(costs.no_start_s)} for its tries, a clear, the sheet typed anew")
    if to_come_h:
        lines.append(f"about {to_come_h:.3g} h to come in all; one trial now")
    return Price(f"{what}{loads}", tuple(lines), does)


def _about(seconds: float) -> str:
    """Whole minutes, where it is more than a minute."""
    return show_duration(seconds if seconds < MINUTE_S else MINUTE_S * round(seconds / MINUTE_S))
