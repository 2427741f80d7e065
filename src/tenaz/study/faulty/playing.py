"""Plays the question path against rigs with drawn faults, by a technician's own doors; and the usual practice."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from tenaz.benches.simulated.bench import simulated_bench
from tenaz.core.base.loop import Move
from tenaz.core.base.outcomes import Outcome
from tenaz.core.knobs.readings import unseen_slots
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.loads.plan import LoadPlan, LoadProgress, LoadReport, Mismatch
from tenaz.core.machine.physical_memory import Laid
from tenaz.core.parts.acts import work
from tenaz.core.parts.fitting import Fitting, name_of
from tenaz.core.sensors.last_seconds import LastSeconds
from tenaz.core.sensors.telemetry import Record, Sample, Sensor
from tenaz.core.trials.costs import Costs
from tenaz.core.trials.facts import sensor_facts
from tenaz.finding.belief import Belief
from tenaz.finding.causes import NOTHING, Part, Suspect
from tenaz.finding.easing import eased
from tenaz.finding.enough import Enough
from tenaz.finding.grid import KnownOfFaults
from tenaz.finding.learnt import Learnt
from tenaz.finding.next_acts import next_acts
from tenaz.finding.sensing import sensed_of
from tenaz.finding.sightings import FaultSighting, Ran
from tenaz.finding.verdicts import verdict
from tenaz.simulated.acts import fitting_now, follow
from tenaz.study.faulty.drawing import Drawn

MOST_MIN = 600.0
LEAST_RATE = 0.0006
"""Bits a minute below which more of the same is a waste."""
MOST_TRIALS = 60
STARTS = 3
COSTS = Costs(boot_s=90.0, crash_s=150.0)


@dataclass(slots=True)
class _Watch:
    """Keeps what a load tells."""

    records: list[Record] = field(default_factory=list)

    def progress(self, progress: LoadProgress) -> None:
        """Nothing to keep."""

    def mismatch(self, mismatch: Mismatch) -> None:
        """They come with the report."""

    def laid(self, laid: Laid) -> None:
        """Nothing to keep."""

    def sensors(self, sensors: Sequence[Sensor], *_: float | None) -> None:
        """One record each."""
        self.records = [Record(sensor) for sensor in sensors]

    def sample(self, sample: Sample) -> None:
        """Summed up."""
        for record, value in zip(self.records, sample.values, strict=True):
            record.see(value)

    def note(self, text: str, source: str = "sensors") -> None:
        """Nothing to keep."""

    token = ""

    def settle(self) -> None:
        """Nothing to keep."""

    def last_seconds(self, seconds: LastSeconds) -> None:
        """Nothing to keep."""


class OnTheBench:
    """A drawn rig with hands on it: it can be worked on and tried; minutes are counted."""

    def __init__(self, drawn: Drawn) -> None:
        self.drawn, self.rig, self.state = drawn, drawn.rig, drawn.state
        self.fittings = [fitting_now(self.rig, self.state)]
        self.sightings: list[FaultSighting] = []
        self._at = self.rig.stock
        self._extra_s = 0.0

    @property
    def now(self) -> Fitting:
        """How the parts stand."""
        return self.fittings[-1]

    @property
    def minutes(self) -> float:
        """Spent so far."""
        return (self.state.now_s + self._extra_s) / 60.0

    def work(self, text: str) -> None:
        """Carry out work on the parts; it cools down meanwhile."""
        done = work(self.now, max(1, self.rig.cores_known), text)
        follow(self.state, done.fitting)
        self.rig = done.fitting.into(self.rig)
        self.fittings.append(done.fitting)
        self.state.now_s += done.minutes * 60.0
        self.state.cooler_c, self.state.modules_c = None, {}

    def boot(self, at: Setpoint) -> bool:
        """Set and start it."""
        bench = simulated_bench(self.rig, self.state)
        bench.setting.set(at, self._at)
        self._at = at
        return any(bench.setting.boot().move in (Move.CAME_UP, Move.CAME_UP_RETRAINED) for _ in range(STARTS))

    def trial(self, load: Ran, minutes: float, cut: tuple[str, ...] = ()) -> FaultSighting:
        """One trial, kept."""
        at = self.rig.stock
        for domain in cut:
            at = eased(self.rig, at, domain) or at
        if not self.boot(at):
            seen = FaultSighting(self.now, (load,), Outcome.NO_BOOT, 0.0, None, cut, number=len(self.sightings) + 1)
            self.sightings.append(seen)
            return seen
        bench, watch = simulated_bench(self.rig, self.state), _Watch()
        unseen = unseen_slots(bench.reading.read_back(at))
        plan = LoadPlan(load.kind, minutes * 60.0, share=load.share, cores=load.cores)
        report = bench.loading.load(plan, watch)
        if report.outcome.machine_went_down:
            self._extra_s += COSTS.crash_s - COSTS.boot_s
        self.sightings.append(self._sighting(report, load, cut, unseen, watch))
        return self.sightings[-1]

    def _sighting(
        self, report: LoadReport, load: Ran, cut: tuple[str, ...], unseen: tuple[str, ...], watch: _Watch
    ) -> FaultSighting:
        sensed = sensed_of(sensor_facts(watch.records, ()))
        return FaultSighting(
            self.now, (load,), report.outcome, report.elapsed_s, report.failed_after_s, cut, report.mismatches, unseen,
            sensed, len(self.sightings) + 1,
        )  # fmt: skip

    def belief(self, table: Learnt | None = None) -> Belief:
        """What is to be thought by now."""
        known = KnownOfFaults(
            tuple(self.fittings), max(1, self.rig.cores_known), self.drawn.symptoms, tuple(self.sightings)
        )
        return Belief(known, table)


@dataclass(frozen=True, slots=True)
class Played:
    """One rig played: minutes, trials, what was said, what is true; ``sure`` are all suspects with their chances.
    ``wrong`` says that a part was declared bad that is sound.
    """

    seed: int
    minutes: float
    trials: int
    named: Suspect
    sure_of_it: float
    enough: Enough
    right: bool
    wrong: bool
    truth: tuple[Suspect, ...]
    sure: tuple[tuple[Suspect, float], ...]


def play(drawn: Drawn, table: Learnt | None = None) -> Played:
    """From the complaint to what is sure enough, or until more is a waste."""
    bench = OnTheBench(drawn)
    cut: tuple[str, ...] = ()
    belief = bench.belief(table)
    while True:
        said = verdict(belief)
        if said.enough is not Enough.GO_ON:
            break
        if bench.minutes > MOST_MIN or len(bench.sightings) >= MOST_TRIALS:
            break
        acts = next_acts(belief, bench.now, cut, COSTS)
        if not acts or acts[0].rate < LEAST_RATE:
            break
        act = acts[0]
        if act.work:
            bench.work(act.work)
        cut = act.eased
        bench.trial(act.load, act.load_min, cut)
        belief = bench.belief(table)
    return _judged(drawn, bench, belief)


def truth_of(drawn: Drawn) -> tuple[Suspect, ...]:
    """The parts that are at fault."""
    return tuple(dict.fromkeys(one.suspect for one in drawn.causes)) or (NOTHING,)


def _judged(drawn: Drawn, bench: OnTheBench, belief: Belief) -> Played:
    said, truth = verdict(belief), truth_of(drawn)
    bad = said.enough in (Enough.REPLACE, Enough.CLAIM)
    return Played(
        drawn.state.seed, bench.minutes, len(bench.sightings), said.suspect, said.sure, said.enough,
        said.suspect in truth, bad and said.suspect not in truth, truth, belief.suspects,
    )  # fmt: skip


# -- the usual practice ----------------------------------------

LONG_MIN = 120.0
SHORT_MIN = 30.0


def practice(drawn: Drawn) -> Played:
    """Every module alone through a long test; those that held through each slot; then something else: cleaning, another
    supply, a test of the cores.
    """
    bench = OnTheBench(drawn)
    named = _practised(bench)
    truth = truth_of(drawn)
    return Played(
        drawn.state.seed, bench.minutes, len(bench.sightings), named, 1.0, Enough.REPLACE, named in truth,
        named not in truth, truth, (),
    )  # fmt: skip


def _practised(bench: OnTheBench) -> Suspect:
    march = Ran(LoadKind.MARCH)
    home = [(name_of(one), one.slot) for one in bench.now.fitted]
    first = home[0][1]
    sound: list[str] = []
    for place, (serial, slot) in enumerate(home):
        if place == 0:
            if len(home) > 1:
                bench.work(f"alone {slot}")
        else:
            bench.work(f"pull {first}; fit {serial} {first}")
        if not _fails(bench, march, LONG_MIN):
            sound.append(serial)
    bad = [serial for serial, _ in home if serial not in sound]
    if bad and sound:
        return Suspect(Part.MODULE, bad[0])
    if bad:
        return Suspect(Part.SLOT, first)
    good = name_of(bench.now.fitted[0])
    for slot in [one.slot for one in bench.now.modules if one.slot != first]:
        bench.work(f"move {bench.now.sitting(good)} {slot}")
        if _fails(bench, march, LONG_MIN):
            return Suspect(Part.SLOT, slot)
    return _something_else(bench)


def _something_else(bench: OnTheBench) -> Suspect:
    """The cores under their heaviest load; then parts that change it, one after the other."""
    pulse, solo = Ran(LoadKind.PULSE), Ran(LoadKind.SOLO)
    failing = next((load for load in (pulse, solo) if _fails(bench, load, LONG_MIN)), None)
    if failing is None:
        return NOTHING
    wrong = next(
        (one.core for seen in bench.sightings for one in seen.wrong if one.core is not None and not one.address), None
    )
    bench.work("clean")
    if not _fails(bench, failing, SHORT_MIN):
        return Suspect(Part.COOLER)
    bench.work("supply")
    if not _fails(bench, failing, SHORT_MIN):
        return Suspect(Part.SUPPLY)
    if wrong is not None:
        return Suspect(Part.CORE, str(wrong))
    seen = bench.trial(failing, SHORT_MIN, ("cores",))
    return Suspect(Part.BOARD) if seen.failed else Suspect(Part.SETTING)


def _fails(bench: OnTheBench, load: Ran, minutes: float) -> bool:
    seen = bench.trial(load, minutes)
    return seen.failed or seen.outcome is Outcome.NO_BOOT
