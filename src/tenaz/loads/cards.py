"""Cards as the parent of workers knows them: asked for in processes of their own, since a driver may fall over."""

import json
import os
import subprocess
import sys
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import cache
from typing import Any

from tenaz.core.base.errors import Refused
from tenaz.core.loads.cards import Card, CardKind
from tenaz.core.loads.plan import LoadPlan
from tenaz.loads.processes import worker_environment
from tenaz.probe.cards import memory_of_cards

LISTED_WITHIN_S, ANSWERS_WITHIN_S = 60.0, 15.0


@cache
def cards_here() -> tuple[Card, ...]:
    """The cards of this machine, those with memory of their own first; asked once.

    Raises:
        Refused: the extra is missing, or no driver can be asked.
    """
    said = _ask("listing", LISTED_WITHIN_S)
    try:
        told = json.loads(said.splitlines()[-1]) if said else {}
    except ValueError:
        told = {}
    if "refused" in told:
        raise Refused(str(told["refused"]))
    if "cards" not in told:
        raise Refused(
            "The graphics drivers of this machine fell over when they were asked for its cards: see what they say by "
            "python -m tenaz.loads.graphics.listing; renew them, or take them away."
        )
    cards = [Card(**{**one, "kind": CardKind(one["kind"])}) for one in told["cards"]]
    known = memory_of_cards()
    return tuple(replace(one, memory_bytes=_memory(one, known)) for one in cards)


def _memory(card: Card, known: Sequence[tuple[int, int, int]]) -> int | None:
    """By its numbers on the bus: of two of a kind the smaller, as nobody knows which is which."""
    mine = [size for vendor, device, size in known if (vendor, device) == (card.vendor_id, card.device_id)]
    return min(mine) if mine and card.own_memory else None


def cards_for(plan: LoadPlan) -> tuple[Card, ...]:
    """The cards that there are, where a load or one beside it asks for any."""
    asks = any(one.kind.declared.on_cards for one in (plan, *plan.beside))
    return cards_here() if asks else ()


def answers_again(card: int) -> bool:
    """Whether a card that was lost does what it is asked now."""
    return _ask("answering", ANSWERS_WITHIN_S, str(card)).strip().endswith("yes")


def prove(card: int, tries: int, told: Callable[[str], object]) -> Iterator[dict[str, Any]]:
    """Faults put into what a card runs, and what its loads find of them, row by row as they come.

    Raises:
        Refused: it cannot be opened, or its driver fell over.
    """
    rows = 0
    command = [sys.executable, "-P", "-m", "tenaz.loads.proof.cards", str(card), str(tries)]
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, env=worker_environment(os.environ)
    ) as process:
        assert process.stdout is not None
        for line in process.stdout:
            row: dict[str, Any] = json.loads(line)
            if "refused" in row:
                raise Refused(str(row["refused"]))
            if "doing" in row:
                told(str(row["doing"]))
                continue
            rows += 1
            yield row
    if process.returncode:
        raise Refused(f"The driver of card {card} fell over after {rows} faults: renew it, or do not trust it.")


def _ask(module: str, within_s: float, *words: str) -> str:
    command = [sys.executable, "-P", "-m", f"tenaz.loads.graphics.{module}", *words]
    try:
        done = subprocess.run(
            command, capture_output=True, timeout=within_s, check=False, env=worker_environment(os.environ)
        )
    except (subprocess.TimeoutExpired, OSError):
        return ""
    return done.stdout.decode(errors="replace")
