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
        return Coming("nothing tells more", "tick what was noticed, or work on the parts", hint=": r›s, r›w")
    act = picture.acts[0]
    if not picture.goes_on:
        told = (
            f"the next trial would take {_told(picture)} of the doubt away in {act.minutes:.0f} min, less than it costs"
        )
        return Coming(
            f"likeliest: {said.suspect.show()}, {show_chance(said.sure)} sure",
            told,
            hint=": r›w puts another one in and sees whether it stays away, r›c writes what to order",
        )
    if not picture.symptoms and not picture.trials:
        reason = "nothing was told yet of what was noticed: begin so"
    else:
        reason = (
            f"of all that can be done it tells most for its {act.minutes:.0f} min: it takes {_told(picture)} of the "
            f"doubt away; {said.words}"
        )
    return Coming(act.show(), reason, order_for(act))


def _told(picture: FindPicture) -> str:
    """How much of the doubt the next act takes away, in words."""
    part = picture.told_by(picture.acts[0])
    return f"{part:.0%}" if part >= LEAST_TOLD else "next to nothing"


LEAST_TOLD = 0.01
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
