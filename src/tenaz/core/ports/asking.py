"""Asking a technician what happened at a station."""

from enum import Enum

from tenaz.core.base.errors import Interrupted
from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome
from tenaz.core.ports.bench import Question, Ran, StationReport, Technician


class Reply(Enum):
    """What is no answer to the question."""

    STOP = "stop the run"
    A_SLIP = "a slip"


Answer = Move | Outcome | Ran | Reply


def asked(technician: Technician, question: Question) -> StationReport:
    """The move that the technician answers with; to be stopped instead is an answer too."""
    try:
        answer = technician.ask(question)
    except Interrupted:
        return StationReport(Move.STOP, "stopped by hand")
    assert isinstance(answer, Move)
    return StationReport(answer)
