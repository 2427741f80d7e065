"""A far side of the tests' own in this process: its machine, its bench with a scripted load, its line, its crashes."""

import socket
import threading
import time
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from tenaz.agent.session import Session
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadPlan, LoadProgress, LoadReport, Mismatch, MismatchKind, WorkerProgress
from tenaz.core.ports.bench import Bench, LoadWatch, StationReport
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.sensors.telemetry import Guards, Sample, Sensor, SensorKind
from tenaz.probe.sampler import Often
from tenaz.wire.spool import Spool
from tenaz.wire.ways import Told

SENSORS = (
    Sensor("cpu/temp1", "cpu", SensorKind.TEMPERATURE, Guards.PROCESSOR),
    Sensor("psu/in1", "12 V", SensorKind.VOLTAGE),
)
if TYPE_CHECKING:
    from random import Random

STEP_S = 0.01
NOISY = 0.05


@dataclass
class FarClock:
    """The far machine's clock; its boot is another after each crash."""

    boot: str = "boot-1"

    def monotonic_s(self) -> float:
        return time.monotonic()

    def utc(self) -> datetime:
        return datetime.now(UTC)

    def boot_id(self) -> str:
        return self.boot


@dataclass
class Scripted:
    """A load of ``steps`` steps, each with a sample, some with a wrong value; stops when told."""

    steps: int
    wrong_at: tuple[int, ...] = ()
    hot_from: int | None = None
    often: Often | None = None
    stopped: threading.Event = field(default_factory=threading.Event)
    gone: threading.Event = field(default_factory=threading.Event)
    """The machine is gone: nothing more happens, and no end comes."""

    def check(self, plan: LoadPlan) -> None: ...

    def set(self, *_: object) -> StationReport:
        raise NotImplementedError

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        watch.sensors(SENSORS, 5.0, STEP_S)
        found: list[Mismatch] = []
        step = 0
        while step < self.steps and not self.stopped.is_set():
            if self.gone.is_set():
                threading.Event().wait()
            step += 1
            lane = WorkerProgress(0, 0, laps=step / 10, rate=1.0, errors=len(found), doing="march", kind=plan.kind)
            other = WorkerProgress(1, 1, laps=step / 10, rate=1.0, doing="march", kind=plan.kind)
            at_s = step * STEP_S
            watch.progress(LoadProgress(plan, at_s, None, None, step / 10, 2.0, len(found), (lane, other)))
            sample = Sample(at_s, (99.0 if self.hot_from and step >= self.hot_from else 50.0 + step % 7, 12.0))
            if self.often is not None:
                self.often.on_moment(sample)
            watch.sample(sample)
            if step in self.wrong_at:
                found.append(Mismatch(0, at_s, step, 4096 + step, 0, 1, 1, MismatchKind.STORED, load=plan.kind, core=0))
                watch.mismatch(found[-1])
            time.sleep(STEP_S)
        outcome = Outcome.STOPPED if self.stopped.is_set() else Outcome.ERRED if found else Outcome.HELD
        first = found[0].at_s if found else None
        return LoadReport(plan, outcome, step * STEP_S, step / 10, 2.0, len(found), first, tuple(found))

    def stop(self) -> None:
        self.stopped.set()


class Far:
    """One far machine, and a way to it (it is a :class:`tenaz.wire.ways.Way`) that can be cut."""

    text = "ssh far"

    def __init__(self, folder: Path, steps: int = 60, wrong_at: tuple[int, ...] = (), hot_from: int | None = None):
        self.clock = FarClock()
        self._folder, self._script = folder, (steps, wrong_at, hot_from)
        self.loads: list[Scripted] = []
        self.begun = 0
        self.cut_after_bytes: list[int] = []
        """After so many bytes from the far side each connection is cut, in turn; then no more."""
        self.down = False
        self.frozen = threading.Event()
        self._ends: list[socket.socket] = []
        self._spool = Spool(folder / "notes.db", self.clock.boot)
        self._session = Session(self._spool, self._bench, self.clock)
        self.sent = bytearray()
        self.noise: Random | None = None
        """Of a line that turns a letter into another now and then."""

    def _bench(self, rig: Rig, _nobody: None, clock: FarClock, _goldens: object, often: Often | None = None) -> Bench:
        load = Scripted(*self._script, often=often)
        if often is not None:
            self.begun += 1
            self.loads.append(load)
        return Bench(BenchKind.HERE, load, load, load, clock)  # type: ignore[arg-type]

    def crash(self, forget: str = "nothing") -> None:
        """The machine goes down, in the middle of whatever it does, and is up again on another boot. With it goes
        nothing, ``the last notices``, or ``all`` that it kept.
        """
        for load in self.loads:
            load.gone.set()
        self.cut()
        if forget == "the last notices":
            self._spool._base.execute("DELETE FROM notices")
            self._spool._base.execute("DELETE FROM sqlite_sequence")
        self._spool.close()
        if forget == "all":
            for left in self._folder.glob("notes.db*"):
                left.unlink()
        self.clock = FarClock(f"boot-{int(self.clock.boot.split('-')[1]) + 1}")
        self._spool = Spool(self._folder / "notes.db", self.clock.boot)
        self._session = Session(self._spool, self._bench, self.clock)

    def cut(self) -> None:
        for end in self._ends:
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
        self._ends = []

    def open(self) -> "FarEnds":
        if self.down:
            return FarEnds(None, Told(255, "ssh: connect to host far port 22: No route to host"))
        near, far = socket.socketpair()
        self._ends += [near, far]
        budget = self.cut_after_bytes.pop(0) if self.cut_after_bytes else None
        session, left = self._session, [budget]

        def send(data: bytes) -> None:
            while self.frozen.is_set():
                time.sleep(0.01)
            if self.noise is not None and self.noise.random() < NOISY:
                place = self.noise.randrange(len(data))
                data = data[:place] + bytes([data[place] ^ 1 << self.noise.randrange(7)]) + data[place + 1 :]
            if left[0] is not None:
                part, left[0] = data[: left[0]], left[0] - len(data)
                far.sendall(part)
                if left[0] <= 0:
                    far.shutdown(socket.SHUT_RDWR)
                    near.shutdown(socket.SHUT_RDWR)
                    raise OSError("cut")
                return
            self.sent += data
            far.sendall(data)

        def close() -> None:
            with suppress(OSError):
                far.shutdown(socket.SHUT_RDWR)

        threading.Thread(target=session.serve, args=(lambda: far.recv(65536), send, close), daemon=True).start()
        return FarEnds(near, Told(255, "Connection to far closed by remote host."))


@dataclass
class FarEnds:
    """This machine's end."""

    end: socket.socket | None
    told: Told

    def read(self) -> bytes:
        return b"" if self.end is None else self.end.recv(65536)

    def write(self, data: bytes) -> None:
        if self.end is not None:
            self.end.sendall(data)

    def close(self) -> Told:
        if self.end is not None:
            with suppress(OSError):
                self.end.shutdown(socket.SHUT_RDWR)
        return self.told
