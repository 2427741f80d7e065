"""Loads in turn that the workshop keeps under names of its own."""

from tenaz.core.ports import Clock
from tenaz.core.routines import check_name, parse_routine
from tenaz.workshop.at_work import AtWork
from tenaz.workshop.orders import DropRoutine, SaveRoutine


class OwnRoutines:
    """Kept and dropped; either can be taken back."""

    def __init__(self, at_work: AtWork, clock: Clock) -> None:
        self._at = at_work
        self._clock = clock

    def save(self, order: SaveRoutine) -> str:
        """Keep loads in turn under a name, in place of what had it.

        Raises:
            Refused: no name, one that is shipped, or a line that is no routine.
        """
        name, routines = check_name(order.name), self._at.store.routines
        parse_routine(order.text)
        before = routines.saved().get(name)
        routines.save(name, order.text, self._clock)

        def back() -> None:
            routines.drop(name) if before is None else routines.save(name, before, self._clock)

        self._at.undoing.push(f"routine kept as {name}", back)
        return f"kept as {name}"

    def drop(self, order: DropRoutine) -> str:
        """Forget a routine of one's own."""
        routines = self._at.store.routines
        before = routines.saved().get(order.name, "")
        routines.drop(order.name)
        self._at.undoing.push(f"routine {order.name} dropped", lambda: routines.save(order.name, before, self._clock))
        return f"{order.name} dropped"
