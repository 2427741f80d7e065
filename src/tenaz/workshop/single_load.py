"""One load on this machine, without the workbench."""

import signal
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from types import FrameType

from tenaz.benches.here import HereBench
from tenaz.core.errors import Refused
from tenaz.core.events import LoadProgressed, Logged
from tenaz.core.loading import LoadPlan, LoadProgress, LoadReport, Mismatch
from tenaz.core.loop import Move
from tenaz.core.outcomes import Outcome
from tenaz.core.ports import HowLong, Publish, Question
from tenaz.core.rigs import BenchKind
from tenaz.core.telemetry import Sample, Sensor
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.workshop.announce import Announcer
from tenaz.workshop.new_rigs import this_machine
from tenaz.workshop.shop import Workshop
from tenaz.workshop.snapshot import keep_snapshot


class _AsItIs:
    """A technician who is not there: the machine is taken as it runs."""

    def ask(self, question: Question) -> Move | Outcome:
        """Agree: the first choice of every question is that all is as asked."""
        return question.choices[0].answer

    def how_long(self, question: HowLong) -> float | None:
        """This machine's loads keep their own time."""
        return question.suggested_s


class _Telling:
    """Passes what a load says on as events."""

    def __init__(self, publish: Publish) -> None:
        self._publish = publish

    def progress(self, progress: LoadProgress) -> None:
        """Pass progress on."""
        self._publish(LoadProgressed(0, progress))

    def mismatch(self, mismatch: Mismatch) -> None:
        """Pass a wrong value on."""
        self._publish(Logged("load", mismatch.show()))

    def sensors(self, sensors: Sequence[Sensor]) -> None:
        """Nobody looks at them here."""

    def sample(self, sample: Sample) -> None:
        """Nobody looks at it here."""

    def note(self, text: str, source: str = "sensors") -> None:
        """Pass a line on."""
        self._publish(Logged(source, text))


@contextmanager
def _interrupt_calls(stop: Callable[[], None]) -> Iterator[None]:
    """While inside, an interrupt typed at the terminal calls ``stop`` instead of breaking off."""

    def heard(_signal: int, _frame: FrameType | None) -> None:
        stop()

    before = signal.signal(signal.SIGINT, heard)
    try:
        yield
    finally:
        signal.signal(signal.SIGINT, before)


def load_here(plan: LoadPlan, publish: Publish, workshop: Workshop | None = None) -> LoadReport:
    """Run one load on this machine as it is; with an open workshop it is a trial in its book. Ctrl-C stops it.

    Raises:
        Refused: a load that cannot run here, or an earlier trial that was never explained.
        BookError: the record could not be kept; the load was then stopped.
    """
    bench = HereBench(this_machine(), _AsItIs())
    with _interrupt_calls(bench.stop):
        if workshop is None:
            return bench.load(plan, _Telling(publish))
        if bench.rig.name not in [rig.name for rig in workshop.store.rigs()]:
            workshop.store.put_rig(bench.rig)
        workshop.choose_rig(bench.rig.name)
        bench.goldens = workshop.store.goldens(bench.rig.name)
        workshop.choose_bench(BenchKind.HERE)
        workshop.refuse_while_unexplained()
        runner = TrialRunner(workshop.rig, bench, workshop.store, RealClock(), publish)
        ended = runner.run(runner.begin(workshop.in_force(), plan))
        keep_snapshot(workshop.store, workshop.rig, ended, RealClock())
        telling = Announcer.from_environment().tell(ended, lambda text: publish(Logged("announce", text)))
        if telling is not None:
            telling.join()
    if bench.report is None:
        raise Refused("The load was stopped before it began.")
    return bench.report
