"""The standing order of a stick: what it does when left alone, how far it is, and what a crash changes."""

import json
import os
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path

from pydantic import TypeAdapter, ValidationError

from tenaz.catalogues.writing import write_whole
from tenaz.core.base.errors import Refused
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.loads.routines import parse_routine
from tenaz.core.machine.kept_free import Which

USUAL = "march 1 lap 100% hash; permute 10m 100%; copy 5m 100%"
"""All of memory once with words that differ, then lines in an order that jumps, then moves there and back."""


class AfterFailure(StrEnum):
    """What follows a load that the machine did not survive, or in which something was wrong."""

    GO_ON = "go on"
    REPEAT = "repeat"
    STOP = "stop"

    @property
    def about(self) -> str:
        """In words."""
        return {
            AfterFailure.GO_ON: "go on with the load after it",
            AfterFailure.REPEAT: "the same load again",
            AfterFailure.STOP: "stop and wait for somebody",
        }[self]


@dataclass(frozen=True, slots=True)
class StandingOrder:
    """``routine`` is loads in turn as they are typed; ``by_turns`` means that each start keeps another range of memory
    from the kernel; ``starts`` is how many starts there are to be (0: until stopped), ``most_failures`` how many in a
    row end it. With ``ladder`` modules are tried one after the other; ``fitting`` says with which it is at work. The
    rest is how far it is: starts done, the load that is next, failures in a row, the number of the
    newest trial that it has reckoned with (``judged``), which range this start was to keep free, why it ended, and
    ``since``, the number of the last trial before it began.
    """

    routine: str = USUAL
    by_turns: bool = True
    starts: int = 2
    after: AfterFailure = AfterFailure.GO_ON
    most_failures: int = 3
    ladder: bool = False
    fitting: str = ""
    rig: str = ""
    starts_done: int = 0
    at: int = 0
    failures: int = 0
    judged: int = 0
    which: Which = Which.NOTHING
    ended: str = ""
    since: int = 0

    @property
    def loads(self) -> tuple[LoadPlan, ...]:
        """Its loads.

        Raises:
            Refused: the line is none.
        """
        return parse_routine(self.routine).plans

    def check(self) -> None:
        """Whether it can be followed.

        Raises:
            Refused: its loads are none, or one of them would never end.
        """
        if any(plan.duration_s is None and plan.laps is None for plan in self.loads):
            raise Refused("A load of the standing order must end by itself: say for how long, or how many laps.")

    def show(self) -> str:
        """In one line."""
        length = f"{self.starts} start{'s' if self.starts != 1 else ''}" if self.starts else "until stopped"
        turns = ", another range of memory with each start" if self.by_turns else ""
        return f"{self.routine}; {length}{turns}; after a failure: {self.after.about}, at most {self.most_failures}"


_standing = TypeAdapter(StandingOrder)


def read_standing(path: Path) -> StandingOrder | None:
    """What was written; None where nothing was, or nothing that can be read."""
    try:
        return _standing.validate_python(json.loads(path.read_text()))
    except (OSError, ValueError, ValidationError):
        return None


def write_standing(path: Path, standing: StandingOrder) -> None:
    """Write it so that after a crash the old one is there, or the new one."""
    path.parent.mkdir(parents=True, exist_ok=True)
    write_whole(path, _standing.dump_json(standing, indent=1))
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)
