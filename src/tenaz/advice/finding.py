"""What comes next on the question path to the faulty part."""

from typing import TYPE_CHECKING

from tenaz.advice.coming import Coming
from tenaz.core.base.amounts import show_chance
from tenaz.core.loads.plan import LoadPlan, show_duration
from tenaz.finding.enough import Enough
from tenaz.orders import BeginSearch, Steps
from tenaz.orders.found import order_for
from tenaz.pictures.find.model import FindPicture

if TYPE_CHECKING:
    from tenaz.finding.rescue import Rescue


def next_found(picture: FindPicture, fresh: bool) -> Coming:
    """The next step on the question path."""
    if not fresh:
        return Coming("being worked out …", "what the last trial says of the parts")
    said = picture.verdict
    if said.enough is not Enough.GO_ON:
        if picture.rescue is not None:
            return _rescue(picture, picture.rescue)
        return Coming(f"{said.enough}: {said.suspect.show()}", _what_then(picture))
    if not picture.acts:
        return Coming("nothing tells more", "tick what was noticed, or work on the parts", hint=": y, P")
    act = picture.acts[0]
    if not picture.goes_on:
        told = f"the next trial would tell {act.bits:.2f} bits for {act.minutes:.0f} min, less than it costs"
        return Coming(
            f"likeliest: {said.suspect.show()}, {show_chance(said.sure)} sure",
            told,
            hint=": P puts another one in and sees whether it stays away, K writes what to order",
        )
    if not picture.symptoms and not picture.trials:
        reason = "nothing was told yet of what was noticed: begin so"
    else:
        reason = f"{act.bits:.2f} bits for {act.minutes:.0f} min: of all that can be done it tells most; {said.words}"
    return Coming(act.show(), reason, order_for(act))


RESCUE_S = 1800.0


def _rescue(picture: FindPicture, how: "Rescue") -> Coming:
    """A rig that does not hold its own stock."""
    knob = picture.rig.knob(how.knob)
    load = LoadPlan(how.load, RESCUE_S)
    order = BeginSearch((how.knob,), how.base, load, "it does not hold its own stock", "retreat", steps=Steps())
    cost = f"; {picture.around[0]}" if picture.around else ""
    return Coming(
        f"rescue: one large cut of {knob.label}, then creep back ({how.load}, {show_duration(RESCUE_S)} each)",
        f"{show_chance(picture.verdict.sure)} sure that it is set too hard{cost}",
        order,
    )


def _what_then(picture: FindPicture) -> str:
    """What is done with a verdict."""
    said = picture.verdict
    if said.enough is Enough.HAND_BACK:
        hides = "; ".join(f"{what} {chance:.1%}" for what, chance in picture.hides[:2])
        return f"{show_chance(said.sure)} sure; could hide still: {hides or 'nothing worth naming'}"
    if said.enough is Enough.WORK_AROUND and picture.around:
        return f"{show_chance(said.sure)} sure; {picture.around[0]}; prove it again"
    return f"{show_chance(said.sure)} sure; order or claim it, put another one in, then prove it again"
