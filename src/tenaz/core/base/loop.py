"""The loop set → boot → confirm → load → judge as a table of legal moves.

A trial stands at one station. A move is something that happened; the table says where it leads. What the table
does not hold cannot happen: there are no flags beside it.
"""

from enum import StrEnum

from tenaz.core.base.errors import Refused


class Station(StrEnum):
    """Where in the loop a trial stands."""

    SET = "set"
    BOOT = "boot"
    CONFIRM = "confirm"
    LOAD = "load"
    JUDGE = "judge"
    CLOSED = "closed"


RAIL = (Station.SET, Station.BOOT, Station.CONFIRM, Station.LOAD, Station.JUDGE)


class Move(StrEnum):
    """What happened at a station."""

    ENTERED = "entered"
    CAME_UP = "came up"
    CAME_UP_AS_ASKED = "came up, as asked"
    CAME_UP_RETRAINED = "came up after retraining"
    FELL_BACK = "fell back to defaults"
    STAYED_DOWN = "did not come up"
    CONFIRMED = "confirmed"
    DIFFERS = "differs"
    LOAD_ENDED = "load ended"
    MACHINE_WENT_DOWN = "machine went down"
    STOP = "stop"
    JUDGED = "judged"
    REOPENED = "reopened"
    REOPENED_AT_SET = "reopened at set"
    REOPENED_AT_BOOT = "reopened at boot"
    REOPENED_AT_CONFIRM = "reopened at confirm"


LEGAL_MOVES: dict[tuple[Station, Move], Station] = {
    (Station.SET, Move.ENTERED): Station.BOOT,
    (Station.BOOT, Move.CAME_UP): Station.CONFIRM,
    (Station.BOOT, Move.CAME_UP_AS_ASKED): Station.CONFIRM,
    (Station.BOOT, Move.CAME_UP_RETRAINED): Station.CONFIRM,
    (Station.BOOT, Move.FELL_BACK): Station.JUDGE,
    (Station.BOOT, Move.STAYED_DOWN): Station.JUDGE,
    (Station.CONFIRM, Move.CONFIRMED): Station.LOAD,
    (Station.CONFIRM, Move.DIFFERS): Station.SET,
    (Station.LOAD, Move.LOAD_ENDED): Station.JUDGE,
    (Station.JUDGE, Move.JUDGED): Station.CLOSED,
    (Station.CLOSED, Move.REOPENED): Station.JUDGE,
    (Station.CLOSED, Move.REOPENED_AT_SET): Station.SET,
    (Station.CLOSED, Move.REOPENED_AT_BOOT): Station.BOOT,
    (Station.CLOSED, Move.REOPENED_AT_CONFIRM): Station.CONFIRM,
    **{(station, Move.STOP): Station.JUDGE for station in RAIL[:-1]},
    **{(station, Move.MACHINE_WENT_DOWN): Station.JUDGE for station in RAIL[:-1]},
}


REOPENED_AT = {
    Station.SET: Move.REOPENED_AT_SET,
    Station.BOOT: Move.REOPENED_AT_BOOT,
    Station.CONFIRM: Move.REOPENED_AT_CONFIRM,
}
"""Back to where somebody said the wrong thing: stations at which nothing has run yet, so that all can be said anew."""


class IllegalMove(Refused):
    """A move that the table does not hold for that station."""


def legal_moves(station: Station) -> tuple[Move, ...]:
    """The moves that can happen at a station."""
    return tuple(move for at, move in LEGAL_MOVES if at is station)


def after(station: Station, move: Move) -> Station:
    """The station that a move leads to.

    Raises:
        IllegalMove: naming the moves that are possible there.
    """
    try:
        return LEGAL_MOVES[station, move]
    except KeyError:
        possible = ", ".join(legal_moves(station)) or "none"
        raise IllegalMove(f"'{move}' cannot happen at station {station}; possible there: {possible}.") from None
