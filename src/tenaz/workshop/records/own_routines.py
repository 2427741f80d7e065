"""Loads in turn that the workshop keeps under names of its own."""

from tenaz.core.loads.routines import check_name, parse_routine
from tenaz.orders import DropRoutine, SaveRoutine
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out


class OwnRoutines:
    """Kept and dropped; either can be taken back."""

    def __init__(self, at_work: AtWork) -> None:
        self._at = at_work

    @carries_out(SaveRoutine)
    def save(self, order: SaveRoutine) -> str:
        """Keep loads in turn under a name, in place of what had it.

        Raises:
            Refused: no name, one that is shipped, or a line that is no routine.
        """
        name, routines = check_name(order.name), self._at.store.routines
        parse_routine(order.text)
        before = routines.saved().get(name)
        routines.save(name, order.text, self._at.clock)

        def back() -> None:
            routines.drop(name) if before is None else routines.save(name, before, self._at.clock)

        self._at.undoing.push(f"routine kept as {name}", back)
        return f"kept as {name}"

    @carries_out(DropRoutine)
    def drop(self, order: DropRoutine) -> str:
        """Forget a routine of one's own."""
        routines = self._at.store.routines
        before = routines.saved().get(order.name, "")
        routines.drop(order.name)
        self._at.undoing.push(
            f"routine {order.name} dropped", lambda: routines.save(order.name, before, self._at.clock)
        )
        return f"{order.name} dropped"
