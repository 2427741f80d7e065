"""A load across a wire that is cut anywhere: nothing lost, nothing counted twice, nothing held that nobody verified."""

import random
import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pytest

from tenaz.benches.wire import following, reached
from tenaz.benches.wire.bench import wire_bench
from tenaz.benches.wire.went_down import went_down
from tenaz.core.base.errors import Refused
from tenaz.core.base.loop import Station
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.plan import LoadKind, LoadPlan
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.sensors.last_seconds import CoreMoment, LastSeconds, Moment, core_that_tells
from tenaz.core.trials.trial import Trial
from tenaz.engine.clock import RealClock
from tenaz.engine.runner import TrialRunner
from tenaz.journal.store import Store
from tenaz.wire import protocol
from tenaz.wire.frames import Framer, to_bytes
from tenaz.wire.power import Power, power_of
from tenaz.wire.protocol import Kept
from tenaz.wire.spool import JUMP, Spool
from tenaz.wire.troubles import Unreached, Why, trouble_of
from tenaz.wire.ways import Ssh, Told, way_of
from tests.doors.far import STEP_S, Far
from tests.patience import PATIENCE_S

PLAN = LoadPlan(LoadKind.MARCH, duration_s=60.0)
WRONG_AT = (7, 8, 30)


@pytest.fixture(autouse=True)
def quick(monkeypatch: pytest.MonkeyPatch) -> None:
    """Nothing is waited for longer than it takes here."""
    monkeypatch.setattr(reached, "TRIES_AFTER_S", (0.0, 0.02))
    monkeypatch.setattr(following, "SETTLES_S", 0.05)
    monkeypatch.setattr(following, "KNOWS_WITHIN_S", 1.5)


class Near:
    """A runner on a book, with a line to a far side."""

    def __init__(self, far: Far, store: Store, rig: Rig) -> None:
        self.store, self.rig = store, rig
        self.bench = wire_bench(rig, None, RealClock(), "me", way=far)
        self.events: list[object] = []
        self.runner = TrialRunner(rig, self.bench, store, RealClock(), self.events.append)

    def begin(self) -> Trial:
        return self.runner.begin(self.rig.stock, PLAN)

    def trial(self) -> Trial:
        return self.runner.run(self.begin())


@pytest.fixture
def bare(rig: Rig, store: Store) -> Rig:
    """A rig of which nothing is known that a machine would have to show."""
    bare = replace(rig, processor="", cores=2, memory_bytes=None, machine=None, benches=(BenchKind.WIRE,))
    bare = replace(bare, cores=None)
    store.rigs.put(bare)
    return bare


def soon(what: Callable[[], bool]) -> None:
    deadline = time.monotonic() + PATIENCE_S
    while not what():
        assert time.monotonic() < deadline
        time.sleep(0.005)


@pytest.fixture
def behind() -> Iterator[list[threading.Thread]]:
    threads: list[threading.Thread] = []
    yield threads
    for thread in threads:
        thread.join(PATIENCE_S)


def as_it_was(far: Far, store: Store, trial: Trial, steps: int, wrong_at: tuple[int, ...]) -> None:
    """All that happened there is in the book, once."""
    assert far.begun == 1
    samples = store.load.samples_of(trial.id)
    assert [round(one.at_s / STEP_S) for one in samples] == list(range(1, steps + 1))
    assert [one.lap for one in store.load.mismatches_of(trial.id)] == list(wrong_at)
    assert trial.elapsed_s == pytest.approx(steps * STEP_S)
    assert (trial.outcome, trial.errors) == ((Outcome.ERRED, len(wrong_at)) if wrong_at else (Outcome.HELD, 0))


def conversation_bytes(tmp_path: Path, store: Store, bare: Rig) -> int:
    """How long what the far side says in such a load is."""
    far = Far(tmp_path / "whole", 40, WRONG_AT)
    as_it_was(far, store, Near(far, store, bare).trial(), 40, WRONG_AT)
    return len(far.sent)


def test_a_line_that_is_cut_after_any_byte_loses_and_doubles_nothing(tmp_path: Path, store: Store, bare: Rig) -> None:
    whole = conversation_bytes(tmp_path, store, bare)
    luck = random.Random(1871)
    for number in range(24):
        far = Far(tmp_path / f"cut-{number}", 40, WRONG_AT)
        near = Near(far, store, bare)
        trial = near.begin()
        # The second cut meets what is told once more; some fall into the greeting itself.
        near.bench.loading.check(PLAN)
        far.cut_after_bytes = [luck.randrange(1, whole), luck.randrange(1, 2000)]
        far.cut()
        as_it_was(far, store, near.runner.run(trial), 40, WRONG_AT)


def test_a_line_with_noise_gives_whole_notices_or_none(tmp_path: Path, store: Store, bare: Rig) -> None:
    far = Far(tmp_path, 150, WRONG_AT)
    near = Near(far, store, bare)
    trial = near.begin()
    far.noise = random.Random(7)
    as_it_was(far, store, near.runner.run(trial), 150, WRONG_AT)
    assert any("damaged" in text for _, source, text in store.log.lines(bare.name) if source == "wire")


@pytest.mark.parametrize("how", ["cut", "frozen"])
def test_what_happened_while_the_line_was_away_comes_when_it_is_back(
    how: str, tmp_path: Path, store: Store, bare: Rig, behind: list[threading.Thread], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(protocol, "SILENT_AFTER_S", 0.4)
    far = Far(tmp_path, 80, (20, 70))
    near = Near(far, store, bare)
    near.bench.loading._reached.line._patience_s = 0.4  # type: ignore[attr-defined]

    def away() -> None:
        soon(lambda: bool(far.loads))
        time.sleep(0.1)
        if how == "frozen":
            far.frozen.set()
            time.sleep(0.6)
            far.frozen.clear()
        else:
            far.down = True
            far.cut()
            time.sleep(0.3)
            far.down = False

    behind.append(threading.Thread(target=away))
    behind[0].start()
    trial = near.trial()
    as_it_was(far, store, trial, 80, (20, 70))
    said = [text for _, source, text in store.log.lines(bare.name) if source == "wire"]
    assert any("no sign of life since" in text for text in said)
    assert any("the rig stayed up" in text for text in said)


@pytest.mark.parametrize("forget", ["nothing", "the last notices", "all"])
def test_a_rig_that_went_down_is_judged_from_here_and_nothing_has_held(
    forget: str, tmp_path: Path, store: Store, bare: Rig, behind: list[threading.Thread]
) -> None:
    far = Far(tmp_path, 6000, (5,))
    near = Near(far, store, bare)

    def crash() -> None:
        soon(lambda: bool(far.loads))
        time.sleep(0.8)
        far.crash(forget)

    behind.append(threading.Thread(target=crash))
    behind[0].start()
    trial = near.trial()
    # This machine has been up for long: seen from its boot the far one stood until somebody started it.
    assert trial.outcome in (Outcome.RESTARTED, Outcome.FROZE)
    assert trial.verdict is Verdict.FAIL
    assert 0 < trial.elapsed_s < 10
    assert [one.lap for one in store.load.mismatches_of(trial.id)] == [5]
    last = store.load.last_seconds_of(trial.id)
    assert last is not None
    assert last.moments[-1].cores
    assert last.end_s == pytest.approx(trial.elapsed_s, abs=0.5)
    far.loads.clear()
    far._script = (20, (), None)  # type: ignore[assignment]
    assert near.trial().outcome is Outcome.HELD, "the next one runs on the new boot, and is heard"


def test_what_still_runs_when_a_new_tenaz_comes_is_joined_not_begun_again(
    tmp_path: Path, store: Store, bare: Rig
) -> None:
    far = Far(tmp_path, 120, (20, 100))
    near = Near(far, store, bare)
    trial = near.begin()
    killed = threading.Thread(target=lambda: near.runner.run(trial), daemon=True)
    killed.start()
    soon(lambda: store.trials.one(trial.id).heartbeat is not None and len(store.load.mismatches_of(trial.id)) == 1)
    time.sleep(0.2)
    # As a kill leaves it: nothing more is written by who was there.
    near.bench.loading._reached.line.take = lambda _s: threading.Event().wait()  # type: ignore[attr-defined]
    far.cut()
    time.sleep(0.2)
    open_trial = store.trials.one(trial.id)
    assert open_trial.station is Station.LOAD
    after = Near(far, store, bare)
    as_it_was(far, store, after.runner.run(open_trial), 120, (20, 100))


def test_the_guard_stops_the_load_there_though_nobody_hears(tmp_path: Path, store: Store, bare: Rig) -> None:
    far = Far(tmp_path, 100_000, hot_from=20)
    near = Near(far, store, replace(bare, purpose=replace(bare.purpose, processor_ceiling_c=(80.0, 90.0))))
    far.cut_after_bytes = []
    trial = near.begin()
    thread = threading.Thread(target=lambda: near.runner.run(trial))
    thread.start()
    soon(lambda: bool(far.loads))
    far.down = True
    far.cut()
    soon(far.loads[0].stopped.is_set)
    far.down = False
    thread.join(PATIENCE_S)
    ended = store.trials.one(trial.id)
    assert (ended.outcome, ended.failed_after_s) == (Outcome.TOO_HOT, pytest.approx(21 * STEP_S))


def test_a_load_stopped_while_the_line_is_cut_is_lost_and_ended_when_the_rig_is_heard_again(
    tmp_path: Path, store: Store, bare: Rig
) -> None:
    far = Far(tmp_path, 100_000)
    near = Near(far, store, bare)
    trial = near.begin()
    thread = threading.Thread(target=lambda: near.runner.run(trial))
    thread.start()
    soon(lambda: store.trials.one(trial.id).heartbeat is not None)
    far.down = True
    far.cut()
    soon(lambda: not near.bench.loading._reached.line.up)  # type: ignore[attr-defined]
    near.runner.stop()
    thread.join(PATIENCE_S)
    assert store.trials.one(trial.id).outcome is Outcome.LOST
    far.down = False
    after = Near(far, store, bare)
    second = threading.Thread(target=after.trial)
    second.start()
    soon(lambda: len(far.loads) == 2)
    assert far.loads[0].stopped.is_set()
    after.runner.stop()
    second.join(PATIENCE_S)
    assert store.trials.of(bare.name)[-1].outcome is Outcome.STOPPED


def test_a_rig_that_stays_silent_has_its_power_switched_and_froze(
    tmp_path: Path, store: Store, bare: Rig, behind: list[threading.Thread], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(reached, "SAYS_EVERY_S", 0.1)
    far, switched = Far(tmp_path, 6000), list[str]()

    def switch() -> str:
        switched.append("off and on")
        far.crash()
        far.down = False
        return "its power was switched off and on"

    bench = wire_bench(bare, None, RealClock(), "me", way=far, power=Power(switch, after_s=0.4))
    runner = TrialRunner(bare, bench, store, RealClock(), lambda _: None)

    def silence() -> None:
        soon(lambda: bool(far.loads) and far.loads[0].steps > 0)
        time.sleep(0.6)
        far.down = True
        far.cut()

    behind.append(threading.Thread(target=silence))
    behind[0].start()
    ended = runner.run(runner.begin(bare.stock, PLAN))
    assert (ended.outcome, switched) == (Outcome.FROZE, ["off and on"])


def test_another_workshop_is_refused_by_name_while_one_is_at_work(tmp_path: Path, store: Store, bare: Rig) -> None:
    far = Far(tmp_path)
    mine = wire_bench(bare, None, RealClock(), "ana at tower", way=far)
    mine.loading.check(PLAN)
    with pytest.raises(Refused, match="ana at tower is at work on this rig"):
        wire_bench(bare, None, RealClock(), "juan at laptop", way=far).loading.check(PLAN)


# -- single pieces ----------------------------------------


def test_frames_come_whole_or_not_at_all_whatever_the_pieces() -> None:
    frames = [{"n": 1, "do": "x", "with": "á\n"}, {"seq": 2, "event": "sample", "data": [1.5, None]}]
    damaged = to_bytes({"n": 2}).replace(b"2", b"3", 1)
    data = b"welcome\n\n" + damaged + b"".join(map(to_bytes, frames)) + b'{"n": 3'
    for size in (1, 2, 3, 7, 1000):
        framer = Framer()
        came = [one for at in range(0, len(data), size) for one in framer.take(data[at : at + size])]
        assert came == frames
        assert framer.passed_over == ["welcome", damaged.decode().strip()]


def test_notes_outlive_who_wrote_them_and_go_when_they_are_acknowledged(tmp_path: Path) -> None:
    first = Spool(tmp_path / "notes.db", "boot-1")
    first.begin("a", "boot-1")
    numbers = [first.put("note", {"text": str(one)}) for one in range(150)]
    first.close()
    second = Spool(tmp_path / "notes.db", "boot-1")
    assert second.name == first.name
    assert [one["seq"] for one in (*second.after(0), *second.after(100))] == numbers
    second.acknowledged(149)
    assert [one["data"]["text"] for one in second.after(0)] == ["149"]
    assert second.put("note", {}) == 151
    assert [(one.token, one.ended) for one in second.loads()] == [("a", False)]
    second.end("a")
    second.acknowledged(151)
    assert not list(second.loads())
    assert second.put("note", {}) == 152, "numbers are never given twice"
    second.close()
    third = Spool(tmp_path / "notes.db", "boot-2")
    assert third.put("note", {}) > JUMP, "nor those that a crash took"
    third.close()
    (tmp_path / "notes.db").write_bytes(b"half a file")
    assert Spool(tmp_path / "notes.db", "boot-1").put("note", {}) == 1
    with pytest.raises(Refused, match=r"/dev/null/x/notes.db on the rig cannot be written"):
        Spool(Path("/dev/null/x/notes.db"), "boot-1")


def core(number: int, clock: float = 5000.0, rate: float = 2.0, errors: int = 0, since_s: float = 0.1) -> CoreMoment:
    return CoreMoment(number, clock, rate, errors, since_s)


@pytest.mark.parametrize(
    ("last", "named"),
    [
        ((core(0), core(1), core(2)), ""),
        ((core(0), core(1, errors=3), core(2)), "core 1 had 3 errors, no other had any"),
        ((core(0), core(1, since_s=1.2), core(2)), "core 1 stood still for its last 1.2 s while all others worked"),
        ((core(0, since_s=1.2), core(1, since_s=1.2), core(2, since_s=1.2)), ""),
        ((core(0), core(1), core(2, clock=800.0)), "core 2's clock had fallen to 800 MHz from 5000 MHz"),
        ((core(0, clock=800.0), core(1), core(2, clock=800.0)), ""),
        ((core(0, since_s=9.0),), ""),
    ],
)
def test_a_crash_names_its_core_where_the_last_seconds_do(last: tuple[CoreMoment, ...], named: str) -> None:
    usual = tuple(replace(one, clock_mhz=5000.0, rate=2.0, errors=0, since_s=0.1) for one in last)
    moments = (*(Moment(k / 10, (), usual) for k in range(10)), Moment(1.0, (), last))
    assert core_that_tells(LastSeconds((), moments)) == named


@pytest.mark.parametrize(
    ("kept", "after_s", "switched", "outcome", "words"),
    [
        (Kept("b", 5.0), 40.0, False, Outcome.RESTARTED, "it began anew 40s after"),
        (Kept("b", 5.0), 900.0, False, Outcome.FROZE, "it stood for 15m, until somebody started it anew"),
        (Kept("b", 5.0), 200.0, True, Outcome.FROZE, "its power was switched"),
        (Kept("b", 5.0, "Kernel panic - not syncing"), 40.0, False, Outcome.STOP_CODE, "Kernel panic"),
        (Kept("b", 5.0, "", ("mce: CPU 3",)), 40.0, False, Outcome.RESTARTED, "hardware tells: mce: CPU 3"),
    ],
)
def test_the_end_of_a_machine_is_told_by_its_times_and_by_what_its_kernel_kept(
    kept: Kept, after_s: float, switched: bool, outcome: Outcome, words: str
) -> None:
    told = went_down(kept, after_s, switched, LastSeconds((), ()))
    assert told[0] is outcome
    assert words in told[1]


@pytest.mark.parametrize(
    ("status", "said", "why", "remedy"),
    [
        (255, "@@@\nWARNING: REMOTE HOST IDENTIFICATION HAS CHANGED!", Why.SETTLED, "ssh-keygen -R"),
        (255, "root@far: Permission denied (publickey).", Why.SETTLED, "ssh-copy-id"),
        (127, "sh: 1: exec: tenaz: not found", Why.SETTLED, "tenaz wire prepare"),
        (127, "bash: línea 1: tenaz: orden no encontrada", Why.SETTLED, "tenaz wire prepare"),
        (2, "/root/x cannot be written: No space left on device", Why.SETTLED, "make room"),
        (255, "ssh: connect to host far port 22: No route to host", Why.AWAY, "does not answer"),
        (255, "ssh: connect to host far port 22: Network is unreachable", Why.NO_NETWORK, "this machine has no"),
        (255, "ssh: connect to host far port 22: Connection refused", Why.STARTING, "does not take calls yet"),
        (None, "", Why.AWAY, "does not answer"),
    ],
)
def test_each_reason_why_a_rig_is_not_reached_has_its_remedy(status: int, said: str, why: Why, remedy: str) -> None:
    trouble = trouble_of(Ssh("far"), Told(status, said), [])
    assert trouble.why is why
    assert remedy in trouble.words
    assert str(Unreached(trouble)) == trouble.words


@pytest.mark.parametrize(
    "text", ["ssh -oProxyCommand=x", "ssh a b", "telnet far", "serial ttyUSB0", "", "ssh", 'command "']
)
def test_what_is_no_way_to_a_rig_is_refused(text: str) -> None:
    with pytest.raises(Refused, match=r"is no way to a rig|close the quotes"):
        way_of(text)


@pytest.mark.parametrize("text", ["wake 02:00:5e:10:00", "http://switch.lan/3", "ftp://x/{state}", "on"])
def test_what_switches_no_power_is_refused(text: str) -> None:
    with pytest.raises(Refused, match="switches no power"):
        power_of(text)
    assert power_of("wake 02:00:5e:10:00:01").known
    assert not power_of("").known
