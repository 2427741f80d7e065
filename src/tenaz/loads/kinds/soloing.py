"""``solo`` in a worker: one core at a time transforms, the others are idle, so that it clocks as high as it can."""

import time

from tenaz.loads.kinds.transforming import TransformBlock, blocks_of, checked
from tenaz.loads.spec import Spec
from tenaz.loads.worker import Line

TURN_S = 5.0
"""Long enough for a core to settle at its highest clock, short enough that all cores have their turn in a minute."""
LISTEN_EVERY_S = 0.1


def run(spec: Spec, line: Line) -> float:
    """Work in its own turns of a grid that all workers count from the same moment; a lap is a block there and back."""
    block: TransformBlock = blocks_of(spec, line)[0]
    block.place(line.preparing)
    line.wait_for_go(**block.described)
    block.learn()
    line.check_by(checked([block]))
    while not line.stopping and block.laps != spec.plan.laps:
        turn, into = divmod(time.monotonic() - spec.epoch_s, TURN_S)
        if int(turn) % spec.crew == spec.place:
            block.work(TURN_S - into, spec.plan.laps)
        else:
            line.worked(float(block.laps), 0.0, "waiting for its turn")
            line.pause(min(LISTEN_EVERY_S, TURN_S - into))
    return float(block.laps)
