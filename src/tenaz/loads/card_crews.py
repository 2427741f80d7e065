"""Loads of graphics cards divided: a worker for each card, with as much of its memory as is to be gone over."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tenaz.core.base.errors import Refused
from tenaz.core.loads.cards import Card, CardKind
from tenaz.core.loads.plan import LoadPlan, show_bytes
from tenaz.loads.budget import Spared
from tenaz.loads.division import divided
from tenaz.loads.spec import Spec

UNKNOWN_CARD_BYTES = 1 << 30
"""Gone over where no amount is named and a card's driver does not say how much there is."""

NO_CARD = (
    "no graphics card can be reached here: its driver must offer Vulkan (or Metal, or Direct3D 12). Where only "
    "the processor draws, Debian's mesa-vulkan-drivers lets software stand in."
)


@dataclass(frozen=True, slots=True)
class Room:
    """Of main memory all, what is to be had, and what must be left alone: cards without any of their own share it."""

    total_bytes: int
    available_bytes: int
    spared: Spared


def cards_of(plan: LoadPlan, found: Sequence[Card]) -> tuple[Card, ...]:
    """The cards that a plan runs on: those that it names, else all that are cards; software draws where nothing else
    does.

    Raises:
        Refused: there is none, or not the one that is named.
    """
    if not found:
        raise Refused(NO_CARD)
    if plan.cards:
        missing = [number for number in plan.cards if number >= len(found)]
        if missing:
            there = ", ".join(f"{one.index} ({one.name})" for one in found)
            raise Refused(f"there is no card {missing[0]} here; there are: {there}.")
        return tuple(found[number] for number in plan.cards)
    return tuple(one for one in found if one.kind is not CardKind.SOFTWARE) or tuple(found[:1])


def card_crew(first: Spec, found: Sequence[Card], room: Room) -> tuple[tuple[Spec, ...], int]:
    """A worker for each card, from ``first`` on, and how many bytes of main memory they take.

    Raises:
        Refused: there is no such card, or not so much memory.
    """
    cards = cards_of(first.plan, found)
    sizes = [_bytes(first.plan, card, len(cards), room) for card in cards]
    specs = tuple(
        replace(first, worker=first.worker + place, size=size, place=place, crew=len(cards), card=card.index)
        for place, (card, size) in enumerate(zip(cards, sizes, strict=True))
    )
    return specs, sum(size for card, size in zip(cards, sizes, strict=True) if not card.own_memory)


def _bytes(plan: LoadPlan, card: Card, cards: int, room: Room) -> int:
    """How much of its memory a card goes over."""
    if not plan.kind.declared.goes_over:
        return 0
    if not card.own_memory:
        share = plan.share if plan.size_bytes is None else plan.size_bytes * cards / room.total_bytes
        return divided(share, cards, room.total_bytes, room.available_bytes, room.spared, ())[0].size
    if plan.size_bytes is not None:
        if card.memory_bytes is not None and plan.size_bytes > card.memory_bytes:
            raise Refused(f"card {card.index} has {show_bytes(card.memory_bytes)} of memory; give less than that.")
        return plan.size_bytes
    if not 0 < plan.share <= 1:
        raise Refused(f"share {plan.share:.0%} is not a part of memory; give more than 0% and at most 100%.")
    return int(plan.share * (card.memory_bytes - card.spared_bytes)) if card.memory_bytes else UNKNOWN_CARD_BYTES
