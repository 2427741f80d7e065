"""What a shell completes: rigs, knobs, setpoints out of the book; loads, routines and strategies out of the program."""

from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager, suppress
from typing import TYPE_CHECKING

import typer

if TYPE_CHECKING:
    from tenaz.workshop.shop.shop import Workshop

Completes = Callable[[typer.Context, str], list[str]]


@contextmanager
def _looked_at(context: typer.Context) -> "Iterator[Workshop]":
    """The book that the command would open, to be looked at; on the rig that was named already."""
    from tenaz.orders import ChooseRig
    from tenaz.workshop.shop.shop import Workshop

    workshop = Workshop()
    workshop.open(context.params.get("book") or context.find_root().params.get("book"), read_only=True)
    try:
        if context.params.get("rig"):
            workshop.do(ChooseRig(str(context.params["rig"])))
        yield workshop
    finally:
        workshop.close()


def _begun(names: Iterable[str], incomplete: str) -> list[str]:
    wanted = incomplete.lower()
    return [name for name in names if name.lower().startswith(wanted)]


def rigs(context: typer.Context, incomplete: str) -> list[str]:
    """Rigs of the book. A book that cannot be opened has none: a shell is told of no trouble."""
    with suppress(Exception), _looked_at(context) as workshop:
        return _begun(workshop.store.rigs.names(), incomplete)
    return []


def knobs(context: typer.Context, incomplete: str) -> list[str]:
    """Knobs of the rig, as they are typed in one word."""
    with suppress(Exception), _looked_at(context) as workshop:
        return _begun((knob.name for knob in workshop.rig.knobs), incomplete.replace("-", "_"))
    return []


def setpoints(context: typer.Context, incomplete: str) -> list[str]:
    """Setpoints of the rig by name, and stock."""
    with suppress(Exception), _looked_at(context) as workshop:
        saved = [one.name for one in workshop.store.sheets.saved(workshop.rig.name)]
        return _begun(["stock", *saved], incomplete)
    return []


def loads(context: typer.Context, incomplete: str) -> list[str]:
    """Loads and routines, one's own among them."""
    from tenaz.core.loads.kinds import LoadKind
    from tenaz.core.loads.routines import ROUTINES

    own: list[str] = []
    with suppress(Exception), _looked_at(context) as workshop:
        own = list(workshop.store.routines.saved())
    return _begun([*(kind.value for kind in LoadKind), *ROUTINES, *own], incomplete)


def strategies(context: typer.Context, incomplete: str) -> list[str]:
    """Ways of climbing."""
    from tenaz.search.registry import all_strategies

    del context
    return _begun((name for name, kind in all_strategies().items() if kind.climbs), incomplete)
