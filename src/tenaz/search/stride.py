"""``stride``: one grid step at a time until it fails, then step back to what holds, and show that it does."""

from tenaz.core.climbs import Advice, Proposal, Strategy
from tenaz.core.knobs import Knob
from tenaz.core.outcomes import Verdict

HOLDS_TO_SHOW = 2
"""Times that the value stepped back to must have held: near the edge one pass is often luck."""


def stride(knob: Knob, start: int, limit: int) -> Strategy:
    """Climb from ``start`` towards ``limit`` (both in the knob's unit), one step each.

    Begins with ``start`` itself: a climb stands on ground that held. Void results change nothing; the same value is
    proposed again. Results at other values than the one proposed count as well.
    """
    top = knob.strain(limit)
    holds: dict[int, int] = {}
    failed = top + 1
    value = knob.strain(start)
    first = value
    while True:
        result = yield Proposal(knob.at_strain(value), _reason(knob, value, first, failed, holds))
        tried = knob.strain(result.value)
        if result.verdict is Verdict.PASS:
            holds[tried] = holds.get(tried, 0) + 1
        elif result.verdict is Verdict.FAIL:
            failed = min(failed, tried)
        held = max((k for k in holds if k < failed), default=None)
        if held is None:
            if failed > first:
                value = first
                continue
            value = failed - 1
            if knob.harder_by(knob.at_strain(failed), -1) is None:
                return Advice(None, f"failed down to {knob.show(knob.at_strain(failed))}, the easiest value there is")
        elif held + 1 < failed:
            value = held + 1
        elif failed > top:
            at = knob.show(knob.at_strain(held))
            return Advice(knob.at_strain(held), f"{at} held, and the climb may go no further")
        elif holds[held] < HOLDS_TO_SHOW:
            value = held
        else:
            here, there = knob.show(knob.at_strain(held)), knob.show(knob.at_strain(failed))
            return Advice(knob.at_strain(held), f"{here} held {holds[held]} times, {there} failed")


def _reason(knob: Knob, value: int, first: int, failed: int, holds: dict[int, int]) -> str:
    if holds.get(value):
        return f"{knob.show(knob.at_strain(failed))} failed: step back, and show that this holds more than once"
    if holds.get(value - 1):
        return f"{knob.show(knob.at_strain(value - 1))} held: one step further"
    if value == first and failed > first:
        return "a climb stands on ground that held: show where it starts"
    return f"{knob.show(knob.at_strain(failed))} failed: step back until something holds"
