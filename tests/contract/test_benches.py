"""One suite over every bench: the loop from set to judge, durable before visible, stopped within a second."""

import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from pathlib import Path

import pytest

from tenaz.benches.by_hand import hand_bench
from tenaz.benches.here import here_bench
from tenaz.benches.simulated.bench import simulated_bench
from tenaz.benches.wire.bench import wire_bench
from tenaz.core.base.errors import BookError, Interrupted, Refused
from tenaz.core.base.loop import Move, Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.base.pace import Pace
from tenaz.core.evidence.shown import evidence_at
from tenaz.core.knobs.readings import Reading, Source, reading_of, unseen_slots
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.loads.plan import CacheLevel, LoadKind, LoadPlan, LoadReport
from tenaz.core.ports.bench import Bench, HowLong, LoadWatch, Question, Ran, StationReport
from tenaz.core.ports.events import LoadProgressed
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.trials.costs import BY_HAND, costs_of
from tenaz.core.trials.index import TrialIndex
from tenaz.core.trials.trial import Trial
from tenaz.engine.clock import RealClock
from tenaz.engine.confirming import confirm
from tenaz.engine.recovery import explain
from tenaz.engine.runner import TrialRunner
from tenaz.journal.opening.opening import open_book
from tenaz.journal.store import Store
from tenaz.wire.ways import Ssh
from tests.doors.wire import Sshd, sshd
from tests.patience import PATIENCE_S

SHORT = LoadPlan(LoadKind.TRANSFORM, duration_s=1.5, level=CacheLevel.L1)
LONG = replace(SHORT, duration_s=600.0)


@dataclass
class Scripted:
    """A technician who knows the answer for each station; without one for the load, keeps watching until stopped."""

    answers: dict[Station, Move | Outcome]
    asked: list[Question] = field(default_factory=list)
    stopped: threading.Event = field(default_factory=threading.Event)
    times_s: list[float | None] = field(default_factory=list)
    asked_how_long: list[HowLong] = field(default_factory=list)

    def ask(self, question: Question) -> Move | Outcome:
        self.asked.append(question)
        if question.station in self.answers:
            answer = self.answers[question.station]
            assert answer in [choice.answer for choice in question.choices]
            return answer
        self.stopped.wait()
        raise Interrupted("stopped by hand")

    def how_long(self, question: HowLong) -> Ran | None:
        self.asked_how_long.append(question)
        told_s = self.times_s.pop(0) if self.times_s else question.suggested_s
        return None if told_s is None else Ran(told_s)


ALL_WELL: dict[Station, Move | Outcome] = {
    Station.SET: Move.ENTERED,
    Station.BOOT: Move.CAME_UP,
    Station.CONFIRM: Move.CONFIRMED,
}


@dataclass
class Setup:
    """A bench with its technician, a runner on an open book, and what was published."""

    bench: Bench
    technician: Scripted
    runner: TrialRunner
    store: Store
    rig: Rig
    events: list[object]

    def run(self, plan: LoadPlan = SHORT) -> Trial:
        return self.runner.run(self.runner.begin(self.rig.stock, plan))


@pytest.fixture(scope="module")
def far(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Sshd]:
    """A rig across a wire: this machine, over its own ssh."""
    with sshd(tmp_path_factory.mktemp("far")) as server:
        yield server


@pytest.fixture(params=list(BenchKind))
def make(
    request: pytest.FixtureRequest, store: Store, rig: Rig, monkeypatch: pytest.MonkeyPatch
) -> Callable[..., Setup]:
    kind: BenchKind = request.param
    if kind is BenchKind.WIRE:
        for name, value in request.getfixturevalue("far").environment().items():
            monkeypatch.setenv(name, value)

    def build(answers: dict[Station, Move | Outcome] | None = None, pace: float | None = None) -> Setup:
        technician = Scripted(ALL_WELL | (answers or {}))
        benches: dict[BenchKind, Callable[[], Bench]] = {
            BenchKind.SIM: lambda: simulated_bench(rig, pace=Pace(pace)),
            BenchKind.HERE: lambda: here_bench(rig, technician, RealClock()),
            BenchKind.HAND: lambda: hand_bench(rig, technician, RealClock()),
            BenchKind.WIRE: lambda: wire_bench(rig, technician, RealClock(), "the tests", way=Ssh(Sshd.host)),
        }
        bench, events = benches[kind](), []
        runner = TrialRunner(rig, bench, store, RealClock(), events.append)
        return Setup(bench, technician, runner, store, rig, events)

    return build


def test_a_trial_at_stock_goes_round_the_loop_and_holds(make: Callable[..., Setup]) -> None:
    setup = make({Station.LOAD: Outcome.HELD})
    trial = setup.run()
    assert (trial.station, trial.outcome, trial.verdict) == (Station.CLOSED, Outcome.HELD, Verdict.PASS)
    assert trial.bench is setup.bench.kind
    assert trial.entered
    assert trial == setup.store.trials.one(trial.id)
    if setup.bench.kind is not BenchKind.HAND:
        assert trial.elapsed_s == pytest.approx(SHORT.duration_s, abs=0.5)
        assert any(isinstance(event, LoadProgressed) for event in setup.events)
        assert trial.heartbeat is not None
    stations = [text.split(":")[0] for _, source, text in setup.store.log.lines("ridge") if source == "loop"]
    assert stations == ["trial 1 begins", "set", "boot", "confirm", "load", "trial 1"]


def test_every_value_in_force_says_how_it_is_known_and_facts_are_kept_with_the_trial(
    make: Callable[..., Setup],
) -> None:
    setup = make({Station.LOAD: Outcome.HELD})
    trial = setup.store.trials.one(setup.run().id)
    by_hand = setup.bench.traits.needs_hands
    expected = Source.ACCEPTED if by_hand else Source.READ
    assert {trial.source_of(knob.name) for knob in setup.rig.knobs} == {expected}
    assert (trial.otherwise, trial.asked) == ((), setup.rig.stock)
    ((*readings,),) = setup.store.trials.readings_of(trial.id)
    assert {one.knob for one in readings if one.knob} == {knob.name for knob in setup.rig.knobs}
    (fact,) = trial.facts.loads
    assert (fact.kind, fact.level, fact.by_hand) == (SHORT.kind, SHORT.level, setup.bench.kind is BenchKind.HAND)
    assert fact.seconds == trial.elapsed_s
    if setup.bench.kind is not BenchKind.HAND:
        assert len(fact.cores) == fact.of_cores > 0, "on all cores"
        assert fact.rate > 0
    assert [(one.station, one.by_hand) for one in trial.stations] == [(Station.SET, by_hand), (Station.BOOT, by_hand)]
    assert all(one.seconds is not None for one in trial.stations)


def test_the_beginning_is_in_the_book_before_the_bench_is_touched(
    make: Callable[..., Setup], book: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    setup = make({Station.LOAD: Outcome.HELD})
    seen: list[tuple[str, Station]] = []
    for part, name in ((setup.bench.setting, "set"), (setup.bench.loading, "load")):
        original = getattr(part, name)

        def spying(*arguments: object, name: str = name, original: Callable[..., object] = original) -> object:
            other = open_book(book, read_only=True)
            seen.extend((name, trial.station) for trial in other.store.trials.unfinished())
            other.close()
            return original(*arguments)

        monkeypatch.setattr(part, name, spying)
    setup.run()
    assert seen == [("set", Station.SET), ("load", Station.LOAD)]


def test_stop_ends_a_load_at_once_and_counts_as_void(make: Callable[..., Setup]) -> None:
    setup = make(pace=100.0)
    trial = setup.runner.begin(setup.rig.stock, LONG)
    done: list[Trial] = []
    running = threading.Thread(target=lambda: done.append(setup.runner.run(trial)))
    running.start()
    deadline = time.monotonic() + PATIENCE_S
    while setup.store.trials.one(trial.id).station is not Station.LOAD and time.monotonic() < deadline:
        time.sleep(0.05)
    time.sleep(1.0)
    asked_s = time.monotonic()
    setup.runner.stop()
    setup.technician.stopped.set()
    running.join(10)
    assert time.monotonic() - asked_s < (2.0 if setup.bench.kind is BenchKind.WIRE else 1.5), (
        "and the record is written"
    )
    assert (done[0].outcome, done[0].verdict) == (Outcome.STOPPED, Verdict.VOID)


def test_what_may_not_be_set_leaves_no_trace(make: Callable[..., Setup]) -> None:
    setup = make()
    with pytest.raises(Refused, match="hard ceiling"):
        setup.runner.begin(setup.rig.stock.replacing("memory_vdd_mv", 1500), SHORT)
    assert setup.store.trials.of("ridge") == ()


def test_a_book_that_cannot_be_written_stops_the_load(
    make: Callable[..., Setup], monkeypatch: pytest.MonkeyPatch
) -> None:
    setup = make(pace=100.0)
    trial = setup.runner.begin(setup.rig.stock, LONG)
    stopped = threading.Event()
    original = setup.bench.loading.stop

    def stop() -> None:
        original()
        setup.technician.stopped.set()
        stopped.set()

    def full(*_: object) -> None:
        raise BookError("the disk is full")

    monkeypatch.setattr(setup.bench.loading, "stop", stop)
    monkeypatch.setattr(setup.store.load, "heartbeat", full)
    with pytest.raises(BookError, match="disk is full"):
        setup.runner.run(trial)
    assert stopped.is_set()
    assert setup.store.trials.one(trial.id).station is Station.LOAD, "open, to be explained: nothing is made up"


@pytest.mark.parametrize(
    ("answers", "outcome"),
    [
        ({Station.BOOT: Move.STAYED_DOWN}, Outcome.NO_BOOT),
        ({Station.BOOT: Move.FELL_BACK}, Outcome.NO_BOOT),
        ({Station.LOAD: Outcome.FROZE}, Outcome.FROZE),
        ({Station.LOAD: Outcome.ERRED}, Outcome.ERRED),
        ({Station.LOAD: Outcome.TOO_HOT}, Outcome.TOO_HOT),
        ({Station.LOAD: Outcome.PICTURE}, Outcome.PICTURE),
        ({Station.LOAD: Outcome.STOP_CODE}, Outcome.STOP_CODE),
    ],
)
def test_by_hand_the_technician_says_how_it_ended(
    store: Store, rig: Rig, answers: dict[Station, Move | Outcome], outcome: Outcome
) -> None:
    technician = Scripted(ALL_WELL | answers)
    runner = TrialRunner(rig, hand_bench(rig, technician, RealClock()), store, RealClock(), lambda _: None)
    setpoint = rig.stock.replacing("data_rate_mts", 6000)
    trial = runner.run(runner.begin(setpoint, LONG))
    assert (trial.outcome, trial.verdict, trial.seen_by) == (outcome, Verdict.FAIL, "technician")
    assert trial.failed_after_s is not None
    assert technician.asked[0].lines[0] == "▸ data rate     6000 MT/s   was 4800"


def test_by_hand_what_really_ran_counts_and_not_when_the_answer_came(store: Store, rig: Rig) -> None:
    # A slip first (asked again), then nothing at all (nothing can have held), then the truth.
    technician = Scripted({**ALL_WELL, Station.LOAD: Outcome.HELD}, times_s=[None, 0.0, 5.0])
    runner = TrialRunner(rig, hand_bench(rig, technician, RealClock()), store, RealClock(), lambda _: None)
    trial = runner.run(runner.begin(rig.stock, LONG))
    assert (trial.outcome, trial.elapsed_s) == (Outcome.HELD, 5.0)
    assert [asked.may_be_none for asked in technician.asked_how_long] == [False] * 3
    assert "held: how long did transform run?" in technician.asked_how_long[0].prompt


def test_by_hand_only_what_changed_is_asked_and_what_was_told_is_kept(store: Store, rig: Rig) -> None:
    technician = Scripted({**ALL_WELL, Station.LOAD: Outcome.HELD}, times_s=[5.0] * 9)
    runner = TrialRunner(rig, hand_bench(rig, technician, RealClock()), store, RealClock(), lambda _: None)

    def asked(setpoint: Setpoint, outcome: Outcome = Outcome.HELD) -> list[Station]:
        technician.asked.clear()
        technician.answers[Station.LOAD] = outcome
        ended = runner.run(runner.begin(setpoint, SHORT))
        assert ended.outcome is outcome
        assert set(ended.sources[0][1]) >= {"data_rate_mts"}
        return [one.station for one in technician.asked]

    every = [Station.SET, Station.BOOT, Station.CONFIRM, Station.LOAD]
    faster = rig.stock.replacing("data_rate_mts", 5000)
    assert asked(faster) == every
    assert asked(faster) == [Station.LOAD], "it stands and runs as before"
    assert store.trials.of(rig.name)[-1].source_of("data_rate_mts") is Source.ACCEPTED
    assert asked(faster, Outcome.STOP_CODE) == [Station.LOAD]
    assert asked(faster) == every[1:], "it went down: somebody starts it anew"
    assert asked(rig.stock, Outcome.PICTURE) == every
    question = next(one for one in technician.asked if one.station is Station.LOAD)
    assert any("tenaz load transform" in line for line in question.lines)
    costs = costs_of(store.trials.of(rig.name), BY_HAND)
    assert "enter_s" in costs.measured, "what was not done has no time"


@pytest.mark.parametrize(
    ("slip", "station"),
    [
        ({Station.BOOT: Move.STAYED_DOWN}, Station.BOOT),
        ({Station.BOOT: Move.FELL_BACK}, Station.BOOT),
        ({Station.LOAD: Outcome.FROZE}, Station.JUDGE),
    ],
)
def test_undo_goes_back_to_where_the_slip_was(
    store: Store, rig: Rig, slip: dict[Station, Move | Outcome], station: Station
) -> None:
    technician = Scripted({**ALL_WELL, **slip}, times_s=[7.0, 9.0])
    runner = TrialRunner(rig, hand_bench(rig, technician, RealClock()), store, RealClock(), lambda _: None)
    undone = store.trials.undo(runner.run(runner.begin(rig.stock, SHORT)), RealClock())
    assert undone.station is station
    if station is Station.BOOT:
        technician.answers = {**ALL_WELL, Station.LOAD: Outcome.HELD}
        again = runner.run(undone)
        assert (again.outcome, again.elapsed_s) == (Outcome.HELD, 7.0)
    else:
        with pytest.raises(Refused, match="cannot have held: no time"):
            explain(undone, Outcome.HELD, store, RealClock(), 0.0)
        assert explain(undone, Outcome.HELD, store, RealClock(), 9.0).elapsed_s == 9.0


@pytest.mark.parametrize(("answer", "move"), [(Move.CONFIRMED, Move.CONFIRMED), (Move.DIFFERS, Move.DIFFERS)])
def test_here_each_difference_is_accepted_or_sent_back(rig: Rig, answer: Move, move: Move) -> None:
    assert rig.machine is not None
    module = replace(rig.machine.modules[1], present_mts=4400)
    technician = Scripted({Station.CONFIRM: answer})
    machine = replace(rig.machine, modules=(module,))
    bench = here_bench(rig, technician, RealClock(), read_machine=lambda: machine)
    report, readings = confirm(bench.reading.read_back(rig.stock), technician, looks=True)
    assert report.move is move
    assert [reading.name for reading in readings if not reading.agrees] == ["data rate"]
    assert "data rate was to be 4800 MT/s, but reads 4400 MT/s" in technician.asked[0].prompt
    assert len(technician.asked) == (2 if answer is Move.CONFIRMED else 1)
    if answer is Move.CONFIRMED:
        assert "memory VDD      1100 mV   reads 1100 mV" in "\n".join(technician.asked[1].lines)


def test_here_a_module_that_is_not_seen_is_named_by_its_slot(rig: Rig) -> None:
    assert rig.machine is not None
    seen = tuple(one for one in rig.machine.modules if one.slot == "A2")
    machine = replace(rig.machine, modules=seen, memory_bytes=23 * 2**30)
    bench = here_bench(rig, Scripted({}), RealClock(), read_machine=lambda: machine)
    read = bench.reading.read_back(rig.stock)
    assert unseen_slots(read) == ("B2",)
    assert next(one for one in read if one.name == "memory").read == "23.0 GiB, B2 not seen"


class Rounding:
    """A bench whose firmware makes 38 of a tRCD of 37, ``rounds`` times over, and says nothing."""

    def __init__(self, rig: Rig, rounds: int = 10**6) -> None:
        self.rig, self.rounds, self.sets = rig, rounds, 0

    def check(self, plan: LoadPlan) -> None: ...

    def set(self, setpoint: Setpoint, before: Setpoint) -> StationReport:
        self.sets += 1
        self.made = setpoint
        if self.sets <= self.rounds and setpoint["t_rcd_nck"] == 37:
            self.made = setpoint.replacing("t_rcd_nck", 38)
        return StationReport(Move.ENTERED)

    def boot(self) -> StationReport:
        return StationReport(Move.CAME_UP_RETRAINED)

    def read_back(self, setpoint: Setpoint) -> tuple[Reading, ...]:
        return tuple(reading_of(k, setpoint[k.name], self.made[k.name]) for k in self.rig.knobs)

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        return LoadReport(plan, Outcome.HELD, 1.0, 1.0, 1.0, 0)

    def stop(self) -> None: ...


def round_the_loop(store: Store, rig: Rig, rounding: Rounding, technician: Scripted | None) -> Trial:
    bench = Bench(BenchKind.SIM, rounding, rounding, rounding, RealClock(), technician)
    runner = TrialRunner(rig, bench, store, RealClock(), lambda _: None)
    return store.trials.one(runner.run(runner.begin(rig.stock.replacing("t_rcd_nck", 37), SHORT)).id)


def test_values_that_did_not_take_are_set_again(store: Store, rig: Rig) -> None:
    rounding = Rounding(rig, rounds=1)
    trial = round_the_loop(store, rig, rounding, Scripted({Station.CONFIRM: Move.DIFFERS}))
    assert (trial.outcome, trial.setpoint["t_rcd_nck"], rounding.sets) == (Outcome.HELD, 37, 2)


def test_what_was_accepted_counts_for_what_it_reads(store: Store, rig: Rig) -> None:
    trial = round_the_loop(store, rig, Rounding(rig), Scripted({Station.CONFIRM: Move.CONFIRMED}))
    assert (trial.outcome, trial.setpoint["t_rcd_nck"], trial.asked["t_rcd_nck"]) == (Outcome.HELD, 38, 37)
    asked = evidence_at(trial.asked, TrialIndex([trial]), rig)
    assert [kind.passed for kind in asked.kinds] == [0, 0]
    assert evidence_at(trial.setpoint, TrialIndex([trial]), rig).kinds[1].passed == 1


@pytest.mark.parametrize("attended", [True, False])
def test_a_firmware_that_rounds_ends_the_trial_void_with_the_values_named(
    store: Store, rig: Rig, attended: bool
) -> None:
    rounding = Rounding(rig)
    technician = Scripted({Station.CONFIRM: Move.DIFFERS}) if attended else None
    trial = round_the_loop(store, rig, rounding, technician)
    assert (trial.verdict, trial.elapsed_s, rounding.sets) == (Verdict.VOID, 0.0, 3 if attended else 1)
    said = " ".join(text for _, _, text in store.log.lines("ridge"))
    assert "not as asked: tRCD was to be 37 nCK, reads 38 nCK" in said
    assert ("for the 3rd time: the firmware rounds it" in said) == attended
    assert 37 not in rig.without_values("t_rcd_nck", [37]).knob("t_rcd_nck").grid
