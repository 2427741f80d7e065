"""Whether a machine is one that is known already, and what it is called where it is not."""

from collections.abc import Collection

from tenaz.core.machine.machine import Machine


def same_machine(known: Machine | None, seen: Machine | None) -> bool:
    """Whether two readings are of one machine: by the board's serial, else by its name, processor and a module."""
    if known is None or seen is None:
        return False
    if known.board_serial and seen.board_serial:
        return known.board_serial == seen.board_serial
    if (known.board, known.processor) != (seen.board, seen.processor):
        return False
    before = {one.serial for one in known.modules if one.serial}
    now = {one.serial for one in seen.modules if one.serial}
    return not before or not now or bool(before & now)


def free_name(taken: Collection[str], wanted: str) -> str:
    """The name wanted, or the first with a number behind it, that none has."""
    return next(name for k in range(1, len(taken) + 2) if (name := wanted if k == 1 else f"{wanted} {k}") not in taken)
