"""One load on this machine, without the workbench."""

import signal
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from types import FrameType

from tenaz.benches.here import HereBench
from tenaz.core.errors import Refused
from tenaz.core.events import Logged
from tenaz.core.loading import LoadPlan, LoadReport
from tenaz.core.loop import Move
from tenaz.core.outcomes import Outcome
from tenaz.core.ports import HowLong, Publish, Question
from tenaz.core.rigs import BenchKind
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.workshop.announce import LIMIT_S, Announcer
from tenaz.workshop.new_rigs import this_machine
from tenaz.workshop.shop import Workshop
from tenaz.workshop.snapshot import keep_snapshot

STOPPING = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class _AsItIs:
    """A technician who is not there: the machine is taken as it runs."""

    def ask(self, question: Question) -> Move | Outcome:
        """Agree: the first choice of every question is that all is as asked."""
        return question.choices[0].answer

    def how_long(self, question: HowLong) -> float | None:
        """This machine's loads keep their own time."""
        return question.suggested_s


@contextmanager
def _interrupt_calls(stop: Callable[[], None]) -> Iterator[None]:
    """While inside, an interrupt typed at the terminal, a hang-up or a request to end calls ``stop``."""

    def heard(_signal: int, _frame: FrameType | None) -> None:
        stop()

    before = {number: signal.signal(number, heard) for number in STOPPING}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)


def load_here(plan: LoadPlan, publish: Publish, workshop: Workshop) -> LoadReport:
    """Run one load on this machine as it is, as a trial in the workshop's book. Ctrl-C stops it.

    Raises:
        Refused: a load that cannot run here, or an earlier trial that was never explained.
        BookError: the record could not be kept; the load was then stopped.
    """
    fresh = this_machine()
    if fresh.name not in [rig.name for rig in workshop.store.rigs()]:
        workshop.store.put_rig(fresh)
    workshop.choose_rig(fresh.name)
    workshop.choose_bench(BenchKind.HERE)
    # The book's rig, with what was said about its sensors, its ceilings and its purpose.
    bench = HereBench(workshop.rig, _AsItIs(), goldens=workshop.store.goldens(workshop.rig.name))
    with _interrupt_calls(bench.stop):
        workshop.refuse_while_unexplained()
        runner = TrialRunner(workshop.rig, bench, workshop.store, RealClock(), publish)
        ended = runner.run(runner.begin(workshop.in_force(), plan))
        keep_snapshot(workshop.store, workshop.rig, ended, RealClock())
        telling = Announcer.from_environment().tell(ended, lambda text: publish(Logged("announce", text)))
        if telling is not None:
            telling.join(LIMIT_S)
    if bench.report is None:
        raise Refused("The load was stopped before it began.")
    # What the guard made of it is in the record; the report alone does not know.
    return replace(bench.report, outcome=ended.outcome or bench.report.outcome, failed_after_s=ended.failed_after_s)


@contextmanager
def throw_away_workshop() -> Iterator[Workshop]:
    """A workshop on a book that is gone afterwards: for loads that are to leave no record."""
    with tempfile.TemporaryDirectory(prefix="tenaz-no-book-") as folder:
        workshop = Workshop()
        try:
            workshop.open(Path(folder) / "book.db")
            yield workshop
        finally:
            workshop.close()
