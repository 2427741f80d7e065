"""Guards a running load by its sensors: what is said of them, and what it must stop for."""

from collections.abc import Sequence
from dataclasses import replace

from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadReport
from tenaz.core.rigs.rig import Purpose
from tenaz.core.sensors.guard import Alarm, Guard, Said
from tenaz.core.sensors.telemetry import Record, Sample, Sensor, ceilings_for, unwatched
from tenaz.core.trials.facts import SensorFact, sensor_facts

OUTCOME_OF = {Alarm.TOO_HOT: Outcome.TOO_HOT, Alarm.HARDWARE_ERROR: Outcome.ERRED, Alarm.BLIND: Outcome.STOPPED}
"""What a trial came to that was stopped for an alarm."""


class Guarding:
    """Sees each sample; ``stopped_for`` is the first thing said that a load must be stopped for."""

    def __init__(self, purpose: Purpose, now_s: float) -> None:
        self._purpose = purpose
        self._sensors: tuple[Sensor, ...] = ()
        self._guard: Guard | None = None
        self._ceilings: set[str] = set()
        self._answer_within_s: float | None = None
        self._answered_s = self._looked_s = now_s
        self.unwatched = ""
        """What temperature nobody watches, in words."""
        self.stopped_for: Said | None = None

    def watches(
        self, sensors: Sequence[Sensor], answer_within_s: float | None, period_s: float | None, now_s: float
    ) -> None:
        """Guard these from now on."""
        self._sensors = tuple(sensors)
        ceilings = ceilings_for(sensors, self._purpose)
        self._ceilings = {ceiling.sensor_id for ceiling in ceilings}
        self._guard = Guard(sensors, ceilings, period_s)
        self.unwatched = unwatched(sensors)
        self._answer_within_s, self._answered_s = answer_within_s, now_s

    @property
    def began(self) -> bool:
        """Whether it was told what to guard."""
        return self._guard is not None

    @property
    def sensors(self) -> tuple[Sensor, ...]:
        """What is guarded."""
        return self._sensors

    @property
    def records(self) -> tuple[Record, ...]:
        """What each sensor has read."""
        return self._guard.records if self._guard else ()

    def sees(self, sample: Sample, now_s: float) -> list[Said]:
        """Take a sample; gives what is new about it."""
        if self._guard is None:
            return []
        self._answered_s = now_s
        return [self._heeded(said) for said in self._guard.see(sample)]

    def knew(self, samples: Sequence[Sample]) -> None:
        """Samples that were seen, and heeded, by who stood here before."""
        for sample in samples:
            if self._guard is not None and len(sample.values) == len(self._sensors):
                self._guard.see(sample)

    def looks(self, now_s: float, at_s: float) -> list[Said]:
        """A guard that does not answer within its time is blind, whatever the reason: a sensor that never returns, or a
        sampler that is no more. ``at_s`` is the time of the load.
        """
        if self._guard is None or not self._guard.guards or self._answer_within_s is None:
            return []
        looked_s, self._looked_s = self._looked_s, now_s
        if now_s - looked_s > self._answer_within_s:
            # Nobody looked for so long: this process itself stood still.
            self._answered_s = now_s
        silent_s = now_s - self._answered_s
        said = [self._heeded(one) for one in self._guard.overdue(silent_s, at_s)]
        if silent_s > self._answer_within_s and self.stopped_for is None:
            text = f"no sensor was read for {silent_s:.0f} s: nothing guards temperature and errors any more"
            said.append(self._heeded(Said(at_s, Alarm.BLIND, text)))
        return said

    def _heeded(self, said: Said) -> Said:
        if said.alarm.stops and self.stopped_for is None:
            self.stopped_for = said
        return said

    @property
    def sensors_read(self) -> tuple[SensorFact, ...]:
        """Peak and mean of what was read."""
        guarded = [one for one in self._sensors if one.id in self._ceilings]
        return sensor_facts(self._guard.records, guarded) if self._guard else ()

    def judged(self, report: LoadReport) -> LoadReport:
        """The report, with what the guard stopped it for: a load that found nothing may have failed all the same."""
        said = self.stopped_for
        if said is None or report.outcome not in (Outcome.STOPPED, Outcome.HELD):
            return report
        outcome = OUTCOME_OF[said.alarm]
        failed_after_s = None if outcome is Outcome.STOPPED else said.at_s
        return replace(report, outcome=outcome, failed_after_s=failed_after_s, detail=said.show())
