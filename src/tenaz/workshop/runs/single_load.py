"""One load on this machine, or on a rig across a wire, without the workbench: as it runs, with nobody to be asked."""

import signal
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from types import FrameType

from tenaz.announcing.announcer import LIMIT_S
from tenaz.announcing.hooks import Hooks
from tenaz.core.base.errors import Refused
from tenaz.core.base.pace import Pace
from tenaz.core.base.systems import signals
from tenaz.core.knobs.readings import Source
from tenaz.core.knobs.setpoint import AUTO
from tenaz.core.loads.plan import LoadPlan, LoadReport
from tenaz.core.ports.bench import Loading, LoadWatch, Publish
from tenaz.core.ports.events import Logged
from tenaz.core.rigs.rig import BenchKind
from tenaz.core.trials.trial import Trial
from tenaz.engine.runner import TrialRunner
from tenaz.intake.new_rigs import this_machine
from tenaz.orders import ChooseBench, ChooseRig, KeepRig
from tenaz.workshop.bench.reaching import bench_for
from tenaz.workshop.shop.shop import Workshop

STOPPING = signals("SIGINT", "SIGTERM", "SIGHUP")


@contextmanager
def interrupt_calls(stop: Callable[[], None]) -> Iterator[None]:
    """While inside, an interrupt typed at the terminal, a hang-up or a request to end calls ``stop``."""

    def heard(_signal: int, _frame: FrameType | None) -> None:
        stop()

    before = {number: signal.signal(number, heard) for number in STOPPING}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)


class Overheard:
    """The part of a bench that loads; its last report is kept."""

    def __init__(self, loading: Loading) -> None:
        self._loading = loading
        self.report: LoadReport | None = None

    def check(self, plan: LoadPlan) -> None:
        """As it does."""
        self._loading.check(plan)

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        """As it does."""
        self.report = self._loading.load(plan, watch)
        return self.report

    def stop(self) -> None:
        """As it does."""
        self._loading.stop()


def _at_this_machine(workshop: Workshop) -> None:
    fresh = this_machine()
    if fresh.name not in workshop.store.rigs.names():
        workshop.do(KeepRig(fresh))
    workshop.do(ChooseRig(fresh.name))
    workshop.do(ChooseBench(BenchKind.HERE))


def load_once(plan: LoadPlan, publish: Publish, workshop: Workshop, rig: str = "") -> tuple[LoadReport, Trial]:
    """Run one load on this machine as it is, or on a rig across a wire, as a trial in the workshop's book. Ctrl-C stops
    it. Gives the report, and the trial, which knows what was read back and what only assumed.

    Raises:
        Refused: a load that cannot run here, an earlier trial that was never explained, or values that are not those
            that the book says are in force.
        BookError: the record could not be kept; the load was then stopped.
    """
    if rig:
        workshop.do(ChooseRig(rig))
        workshop.do(ChooseBench(BenchKind.WIRE))
    else:
        _at_this_machine(workshop)
    # The book's rig, with what was said about its sensors, its ceilings and its purpose.
    bench, clock = bench_for(workshop.at, None, False, Pace())
    loads = Overheard(bench.loading)
    bench = replace(bench, loading=loads)
    with interrupt_calls(loads.stop):
        workshop.at.refuse_while_unexplained()
        told: list[str] = []

        def listen(event: object) -> None:
            if isinstance(event, Logged) and event.text.startswith("load:"):
                told.append(event.text)
            publish(event)

        runner = TrialRunner(workshop.rig, bench, workshop.store, clock, listen)
        ended = runner.run(runner.begin(workshop.in_force(), plan))
        workshop.recording.ended(ended)
        telling = Hooks.known().tell(ended, lambda text: publish(Logged("announce", text)))
        if telling is not None:
            telling.join(LIMIT_S)
    if loads.report is None:
        read = workshop.store.trials.readings_of(ended.id)
        differing = [one.differs_in_words for one in (read[-1] if read else ()) if not one.agrees]
        if differing:
            stands = ", ".join(differing)
            raise Refused(
                f"{rig or 'This machine'} does not run at what the book says is set: {stands}. Trial {ended.number} "
                f"does not count; set it as the book has it, or start a trial in the workbench and say what stands."
            )
        raise Refused(f"The load was stopped before it began{f': {told[-1]}' if told else ''}.")
    # What the guard made of it is in the record; the report alone does not know.
    return replace(
        loads.report, outcome=ended.outcome or loads.report.outcome, failed_after_s=ended.failed_after_s
    ), ended


def assumed_words(trial: Trial) -> str:
    """What of a trial's values was only assumed; empty where all were read."""
    counts = {source: len(names) for source, names in trial.sources}
    assumed = counts.get(Source.ASSUMED, 0)
    left = sum(
        trial.setpoint[name] is AUTO for source, names in trial.sources if source is Source.ASSUMED for name in names
    )
    if not assumed:
        return ""
    auto = f" ({left} of them left to the firmware)" if left else ""
    return f"{counts.get(Source.READ, 0)} values read back, {assumed} assumed{auto}: nothing here can read them"


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
