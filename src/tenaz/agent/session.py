"""One machine's session outlives the line: a load goes on when nobody hears it, and is joined again by its token."""

import socket
import threading
import time
from collections.abc import Callable
from typing import Any

from tenaz import __version__
from tenaz.agent.guest import Guest, Send
from tenaz.agent.hearing import Hearing
from tenaz.agent.kept import kept, up_s
from tenaz.agent.own_door import at_the_door
from tenaz.benches.here import here_bench
from tenaz.core.base.errors import Refused, TenazError
from tenaz.core.loads.plan import LoadPlan
from tenaz.core.ports.bench import Bench, Clock
from tenaz.core.scores.measure import Measured, MeasurePlan
from tenaz.core.sensors.telemetry import Sample
from tenaz.engine.clock import RealClock
from tenaz.probe.here import read_machine
from tenaz.probe.sampler import Often
from tenaz.wire import forms
from tenaz.wire.frames import Frame, Framer, NoFrames
from tenaz.wire.protocol import (
    LOOKS,
    NOTICES,
    ONLOOKER,
    PROTOCOL,
    QUESTIONS,
    Agent,
    End,
    Ended,
    Kept,
    Load,
    Open,
    Opened,
)
from tenaz.wire.spool import Spool

MOMENTS_S = 0.1
"""How often the last seconds are looked at while anything strains."""

ALONE_S = 600.0
"""A load without an end ends so long after the last one who could have stopped it was heard."""

IDLE_S = 60.0
"""So long after nobody is there and nothing runs the session ends; its notes stay."""

LAST_WORD_S = 0.2


class Session:
    """The bench of this machine, its notes, and who is there. ``serve`` hears one guest; a new one takes the place of
    the one before, whose line may be frozen.
    """

    def __init__(self, spool: Spool, make_bench: Callable[..., Bench] = here_bench, clock: Clock | None = None) -> None:
        self._spool = spool
        self._make_bench = make_bench
        self._clock = clock or RealClock()
        self._lock = threading.RLock()
        self._guest: Guest | None = None
        self._open_with: Open | None = None
        self._bench: Bench | None = None
        self._measuring: Bench | None = None
        self._running = ""
        self._near = ""
        """Whose load runs."""
        self._endless = False
        self._left_s = time.monotonic()
        for one in spool.loads():
            if not one.ended:
                went = one.boot_id != self._clock.boot_id()
                why = "the machine was started anew" if went else "the agent there was ended"
                self._ended(Ended(one.token, End.CUT_SHORT, None, why))

    # -- guests ----------------------------------------

    def greeting(self) -> Frame:
        """Who answers here."""
        agent = Agent(PROTOCOL, __version__, socket.gethostname(), self._clock.boot_id(), self._spool.name)
        return {"agent": forms.dump(Agent, agent)}

    def serve(self, read: Callable[[], bytes], send: Send, close: Callable[[], None], lasts: bool = False) -> None:
        """Hear one guest until its line ends; on one that is never hung up (``lasts``) each begins with ``who``."""
        guest, framer = Guest(send, close, self._spool), Framer()
        if not lasts:
            guest.tell(self.greeting())
        try:
            while not guest.over and (data := read()):
                guest.heard_s = time.monotonic()
                for frame in framer.take(data):
                    if "bye" in frame and not lasts:
                        return
                    self._take(guest, frame)
        except (OSError, NoFrames):
            pass
        finally:
            self._gone(guest)
            guest.leave()

    def _gone(self, guest: Guest) -> None:
        with self._lock:
            if self._guest is guest:
                self._guest, self._left_s = None, time.monotonic()

    def _take(self, guest: Guest, frame: Frame) -> None:
        if "who" in frame:
            guest.tell(self.greeting())
        elif "bye" in frame:
            guest.rest()
            self._gone(guest)
        elif "ack" in frame and isinstance(frame["ack"], int):
            self._spool.acknowledged(frame["ack"])
        elif "n" in frame:
            # Each on a thread of its own: nothing that takes long holds up a stop.
            threading.Thread(target=self._answer, args=(guest, frame), name="answer", daemon=True).start()

    def _answer(self, guest: Guest, frame: Frame) -> None:
        number, do = frame["n"], str(frame.get("do"))
        try:
            if do not in QUESTIONS:
                raise Refused(f"{do[:40]!r} is nothing that can be asked here.")
            asks, answers = QUESTIONS[do]
            value = forms.read(asks, frame.get("with"), f"what {do} goes with")
            came = self._open(guest, value) if do == "open" else self._opened_only(guest, do, value)
            told: Frame = {"n": number, "came": forms.dump(answers, came)}
        except TenazError as error:
            told = {"n": number, "refused": str(error)}
        except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
            told = {"n": number, "refused": f"the agent there cannot do that: {type(error).__name__}: {error}"[:400]}
        guest.tell(told)
        if do == "open" and "came" in told and value.near != ONLOOKER:
            guest.begin(value.near, value.heard if value.notes == self._spool.name else 0)

    def _opened_only(self, guest: Guest, do: str, value: Any) -> Any:
        if guest is not self._guest and not (guest.looks and do in LOOKS):
            raise Refused("Say first who is there (open).")
        does: dict[str, Callable[[], Any]] = {
            "machine": read_machine,
            "check": lambda: self.bench().loading.check(value),
            "load": lambda: self._begin(value, guest.near),
            "stop": lambda: self._stop(value),
            "measure": lambda: self._measure(value),
            "kept": self._kept,
        }
        return does[do]() if do in does else at_the_door(do, value)

    def _open(self, guest: Guest, value: Open) -> Opened:
        if value.near == ONLOOKER:
            guest.looks = True
            return self._stands()
        with self._lock:
            other = self._guest
            if other is not None and other is not guest and other.near != value.near and other.is_heard:
                raise Refused(f"{other.near} is at work on this rig now; let that end, or look on there.")
            if self._running and self._near != value.near:
                raise Refused(f"A load of {self._near} runs on this rig; stop it there, or with: tenaz wire stop.")
            self._guest, self._open_with = guest, value
        if other is not None and other is not guest:
            other.leave()
        return self._stands()

    def _stands(self) -> Opened:
        ended = next((one.token for one in self._spool.loads() if one.ended), "")
        return Opened(self._clock.boot_id(), up_s(), self._running, ended)

    # -- the bench's parts ----------------------------------------

    def bench(self, often: Often | None = None) -> Bench:
        """A bench for one thing that is to be done.

        Raises:
            Refused: nobody said yet which rig this is.
        """
        if self._open_with is None:
            raise Refused("No rig was named.")
        return self._make_bench(self._open_with.rig, None, self._clock, self._open_with.goldens, often=often)

    def _begin(self, load: Load, near: str) -> Opened:
        """Begin a load, or join it where it runs; one that ended is not run again."""
        with self._lock:
            known = {one.token for one in self._spool.loads()}
            if load.token == self._running or load.token in known:
                return self._stands()
            if self._running:
                raise Refused("Another load runs on this rig.")
            self.bench().loading.check(load.plan)
            self._spool.begin(load.token, self._clock.boot_id())
            self._running, self._near = load.token, near
            self._endless = load.plan.duration_s is None and load.plan.laps is None
        threading.Thread(target=self._run, args=(load.token, load.plan), name="load", daemon=True).start()
        return self._stands()

    def _run(self, token: str, plan: LoadPlan) -> None:
        hearings: list[Hearing] = []

        def moment(sample: Sample) -> None:
            hearings[0].moment(sample)

        try:
            bench = self.bench(Often(MOMENTS_S, moment))
            assert self._open_with is not None
            hearings.append(Hearing(token, self._open_with.rig.purpose, self._keep, self._show, bench.loading.stop))
            self._bench = bench
            ended = Ended(token, End.REPORTED, hearings[0].judged(bench.loading.load(plan, hearings[0])))
        except TenazError as error:
            ended = Ended(token, End.REFUSED, None, str(error))
        except Exception as error:  # noqa: BLE001 - it is told, and the rest goes on
            ended = Ended(token, End.CUT_SHORT, None, f"{type(error).__name__}: {error}"[:400])
        finally:
            self._bench = None
        with self._lock:
            self._ended(ended)
            self._running, self._left_s = "", time.monotonic()

    def _ended(self, ended: Ended) -> None:
        self._keep("ended", ended)
        self._spool.end(ended.token)

    def _stop(self, token: str) -> None:
        """End a load; any, where none is named."""
        if token not in ("", self._running):
            return
        # It may have been begun a moment ago.
        for _ in range(100):
            bench = self._bench
            if bench is not None:
                bench.loading.stop()
            if bench is not None or not self._running:
                break
            time.sleep(0.02)
        if self._measuring is not None and self._measuring.measuring is not None:
            self._measuring.measuring.stop()

    def _measure(self, plan: MeasurePlan) -> Measured:
        bench = self._measuring = self.bench()
        assert bench.measuring is not None
        try:
            return bench.measuring.measure(plan, lambda progress: self._show("measuring", progress))
        finally:
            self._measuring = None

    def _kept(self) -> Kept:
        return kept(self._clock.boot_id())

    def _keep(self, name: str, value: Any) -> None:
        self._spool.put(name, forms.dump(NOTICES[name], value))
        guest = self._guest
        if guest is not None:
            guest.wake()

    def _show(self, name: str, value: Any) -> None:
        guest = self._guest
        if guest is not None:
            guest.show(name, value)

    # -- its end ----------------------------------------

    def over(self) -> bool:
        """Whether it can end: nobody is there, nothing runs. A load that only somebody could end is ended here."""
        with self._lock:
            guest, alone_s = self._guest, time.monotonic() - self._left_s
            if guest is not None:
                # A line that was frozen for long is none; whoever calls again is let in.
                if time.monotonic() - guest.heard_s > IDLE_S:
                    self._gone(guest)
                    guest.leave()
                return False
            if self._running:
                if self._endless and alone_s > ALONE_S:
                    self._stop(self._running)
                return False
            return alone_s > IDLE_S

    def end(self) -> None:
        """Let everybody go; a load that runs is stopped, its end is kept."""
        self._stop("")
        deadline = time.monotonic() + 5.0
        while self._running and time.monotonic() < deadline:
            time.sleep(0.05)
        guest = self._guest
        if guest is not None:
            guest.tell({"bye": "the agent there was ended"})
            time.sleep(LAST_WORD_S)
            guest.leave()
        self._spool.close()
