"""Asking a technician what happened at a station."""

from tenaz.core.errors import Interrupted
from tenaz.core.loop import Move
from tenaz.core.ports import Question, StationReport, Technician


def asked(technician: Technician, question: Question) -> StationReport:
    """The move that the technician answers with; to be stopped instead is an answer too."""
    try:
        answer = technician.ask(question)
    except Interrupted:
        return StationReport(Move.STOP, "stopped by hand")
    assert isinstance(answer, Move)
    return StationReport(answer)
