"""Which load a knob feels: nobody tries a core's voltage by going over memory, nor a timing by arithmetic."""

from dataclasses import replace

from tenaz.core.knobs.knob import Knob
from tenaz.core.loads.kinds import LoadKind, Strains
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.rigs.rig import Purpose

STRAINED = {"processor": Strains.CPU, "memory": Strains.MEMORY, "graphics": Strains.GRAPHICS}
"""By a knob's domain; of others nobody knows."""
GRAPHICS = "graphics"
PART_DRAWN, LEAST_DRAWN_H = 0.25, 0.5
USUAL = {Strains.CPU: LoadKind.TRANSFORM, Strains.MEMORY: LoadKind.MARCH, Strains.GRAPHICS: LoadKind.PAINT}


def felt(knob: Knob, kind: LoadKind) -> bool:
    """Whether a kind of load strains what a knob moves."""
    wanted = STRAINED.get(knob.domain)
    return wanted is None or kind.strains in (wanted, Strains.ANYTHING)


def kind_for(knob: Knob, purpose: Purpose) -> LoadKind:
    """The kind of load for a knob: what the purpose asks most of among those that it feels."""
    asked = [(hours, kind) for kind, hours in purpose.hours_asked if felt(knob, kind)]
    wanted = STRAINED.get(knob.domain, Strains.MEMORY)
    return max(asked, key=lambda one: one[0])[1] if asked and knob.domain in STRAINED else USUAL[wanted]


def asked_along(knob: Knob, purpose: Purpose) -> Purpose:
    """What a purpose asks where a knob is moved: hours of arithmetic show nothing of a graphics card, and a card's
    loads nothing of memory. A card of which it asks nothing is to have drawn for a part of what is asked of all else.
    """
    on_cards = knob.domain == GRAPHICS
    kinds = tuple(one for one in purpose.hours_asked if one[0].declared.on_cards == on_cards)
    if kinds == purpose.hours_asked:
        return purpose
    if not kinds and on_cards:
        most_h = max((hours for _, hours in purpose.hours_asked), default=0.0)
        kinds = ((USUAL[Strains.GRAPHICS], max(LEAST_DRAWN_H, most_h * PART_DRAWN)),)
    return replace(purpose, hours_asked=kinds)


def felt_by(knob: Knob, plan: LoadPlan, purpose: Purpose) -> LoadPlan:
    """A load as it is where a knob feels it; else for as long of a kind that it feels."""
    if felt(knob, plan.kind):
        return plan
    return LoadPlan(kind_for(knob, purpose), duration_s=plan.duration_s, laps=plan.laps, share=plan.share)
