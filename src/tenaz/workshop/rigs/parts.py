"""How the parts of the rig at work stand, and what was done to them: the one place that knows."""

from collections.abc import Sequence
from dataclasses import replace

from tenaz.core.parts.acts import Worked
from tenaz.core.parts.fitting import Fitting, fitting_of, slots_of
from tenaz.core.parts.works import TYPED_IN, PartLabel, Work
from tenaz.core.rigs.rig import Rig
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.machines import machine_of
from tenaz.workshop.rigs.simulated import SimulatedRigs


class Parts:
    """Read from the book each time: work on parts is rare."""

    def __init__(self, at_work: AtWork, simulated: SimulatedRigs) -> None:
        self._at = at_work
        self._simulated = simulated

    def works(self) -> tuple[Work, ...]:
        """All work on the parts of the rig at work, on this side."""
        return self._at.store.works.of(self._at.rig.name, self._at.bench)

    def labels(self) -> tuple[PartLabel, ...]:
        """The newest label of each part that has one."""
        newest = {one.part: one for one in self._at.store.works.labels(self._at.rig.name)}
        return tuple(newest.values())

    def now(self) -> Fitting:
        """How the parts stand."""
        works = self.works()
        return works[-1].fitting if works else self._unworked()

    def first(self, works: Sequence[Work]) -> Fitting:
        """How they stood when the first of ``works`` is told of: before any."""
        return works[0].fitting if works else self._unworked()

    def _unworked(self) -> Fitting:
        if self._at.bench.real:
            return fitting_of(self._at.rig, False)
        from tenaz.simulated.acts import fitting_now  # noqa: PLC0415 - only simulated rigs pay for it

        at = self._at
        return fitting_now(at.rig, machine_of(at.store, at.rig, at.clock.utc(), at.in_force()))

    def keep(self, before: Fitting, text: str, done: Worked) -> None:
        """Work that was done, as typed: of a simulated rig it is done now, of a real one it is written down."""
        store, rig, bench = self._at.store, self._at.rig, self._at.bench
        if bench.real:
            self._at.put(done.fitting.into(rig))
            self._at.log("parts", done.told)
        else:
            self._simulated.follow(done)
        key = store.works.add(rig.name, bench, before, text, done.told, done.minutes, done.fitting, self._at.clock)

        def back() -> None:
            store.works.take_out(key)
            if bench.real:
                self._at.put(before.into(self._at.rig))
            else:
                self._simulated.set_back(before)

        self._at.undoing.push(f"work on the parts: {done.told}", back)

    def saw(self, after: Fitting, word: str, told: str) -> None:
        """Other parts than before were found, or typed in: written down as work."""
        at = self._at
        at.store.works.add(at.rig.name, at.bench, self.now(), word, told, 0.0, after, at.clock)

    def typed_in(self, before: Rig) -> None:
        """The form of the rig at work was kept: other modules in it are work on the parts too."""
        rig, works, simulated = self._at.rig, self.works(), not self._at.bench.real
        stood = works[-1].fitting if works else fitting_of(before, simulated)
        if fitting_of(rig, simulated).modules == stood.modules:
            return
        after = replace(stood, modules=slots_of(rig))
        at = self._at
        at.store.works.add(rig.name, at.bench, stood, TYPED_IN, TYPED_IN, 0.0, after, at.clock)
