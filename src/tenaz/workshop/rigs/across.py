"""A rig across a wire, looked at while nothing runs there for us."""

from collections.abc import Iterator
from contextlib import contextmanager

from tenaz.core.loads.goldens import Goldens
from tenaz.core.machine.machine import Machine
from tenaz.core.rigs.rig import Rig
from tenaz.wire.line import Line
from tenaz.wire.protocol import ONLOOKER, Agent, Open
from tenaz.wire.ways import Way

READ_WITHIN_S = 60.0
NO_GOLDENS: Goldens = {}


@contextmanager
def called(way: Way, rig: Rig) -> Iterator[Line]:
    """A line to it, for as long as it is looked at: who is at work there is not disturbed.

    Raises:
        Refused: it was not reached, or will not work with us.
    """

    def opening(agent: Agent) -> Open:
        return Open(ONLOOKER, rig, NO_GOLDENS, agent.notes, 0)

    line = Line(way, opening)
    line.connect()
    try:
        yield line
    finally:
        line.hang_up()


def machine_across(way: Way, rig: Rig) -> Machine:
    """What it is, read there.

    Raises:
        Refused: it was not reached.
    """
    with called(way, rig) as line:
        machine: Machine = line.ask("machine", within_s=READ_WITHIN_S)
        return machine
