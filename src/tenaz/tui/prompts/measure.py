"""What is asked before something is measured: for how long, in turn with what, or a figure of one's own."""

import re
from typing import TYPE_CHECKING

from tenaz.core.base.errors import Refused
from tenaz.core.base.typed import parse_duration_s
from tenaz.core.scores.measure import MeasurePlan
from tenaz.core.scores.own_figures import EXAMPLE, parse_own
from tenaz.orders import KeepOwn, Measure, MeasureInTurn
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt

if TYPE_CHECKING:
    from tenaz.workshop.looking.view import View

IN_TURN = re.compile(r"in turn(?: with)?\s+(.+?)(?:\s*[×x]\s*(\d+))?\s*", re.IGNORECASE)
WATTS = re.compile(r"(?P<time>\S+)?\s*(?P<watts>[\d.,]+)\s*W\s*")
MOST_ROUNDS = 16


def measure_order(text: str) -> Measure | MeasureInTurn | KeepOwn:
    """Read what was typed: a time, perhaps with watts; ``in turn stock``; or a figure.

    Raises:
        Refused: it is none of them; says how they are typed.
    """
    line = text.strip()
    if found := IN_TURN.fullmatch(line):
        rounds = int(found[2] or 1)
        if not 1 <= rounds <= MOST_ROUNDS:
            raise Refused(f"{rounds} rounds: give 1 to {MOST_ROUNDS}.")
        return MeasureInTurn(found[1], rounds=rounds)
    if found := WATTS.fullmatch(line):
        plan = MeasurePlan(parse_duration_s(found["time"])) if found["time"] else MeasurePlan()
        return _checked(Measure(plan, watts=float(found["watts"].replace(",", "."))))
    if not line or (len(line.split()) == 1 and line[0].isdigit()):
        return _checked(Measure(MeasurePlan(parse_duration_s(line)) if line else MeasurePlan()))
    return KeepOwn(parse_own(line))


def _checked(order: Measure) -> Measure:
    order.plan.check()
    return order


def measure_prompt(view: "View") -> Prompt:
    """Picks are what is usual; a figure of one's own can be typed."""
    picks = [Pick("60s", "this rig as it runs now"), Pick("5m", "the same, narrower")]
    others = [name for name, setpoint in _others(view) if setpoint != view.in_force]
    picks += [Pick(f"in turn {name}", "now, before, before, now: tells a drift from a gain") for name in others]
    picks.append(Pick("60s 120 W", "with what a meter at the plug shows"))
    hint = f"how long, or a figure of your own: {EXAMPLE}\n… x2 behind 'in turn' goes round twice"
    return Prompt(f"measure {view.rig.name}", hint, "60s", measure_order, picks=picks)


def against_prompt(view: "View", now: str) -> Prompt:
    """Which setpoint scores are told against."""
    names = [name for name, _ in _others(view)]
    hint = "a saved setpoint, or a trial by its number, like: trial 7"
    return Prompt("tell scores against", hint, now, lambda text: text, picks=[Pick(name, "") for name in names])


def _others(view: "View") -> "list[tuple[str, object]]":
    return [("stock", view.rig.stock), *((saved.name, saved.setpoint) for saved in view.kept.saved)]
