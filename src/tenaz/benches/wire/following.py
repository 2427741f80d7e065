"""One load on a rig across a wire, from here: begun or joined, heard, taken up again when the line was cut, and judged
when the rig went.
"""

import time
from collections import deque
from dataclasses import replace
from typing import Any

from tenaz.benches.wire.reached import Reached
from tenaz.benches.wire.stations import COMES_UP_WITHIN_S
from tenaz.benches.wire.went_down import went_down
from tenaz.core.base.amounts import show_duration
from tenaz.core.base.errors import Interrupted, Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.loads.plan import LoadPlan, LoadProgress, LoadReport
from tenaz.core.ports.bench import LoadWatch
from tenaz.core.sensors.last_seconds import KEPT_S, LastSeconds, Moment
from tenaz.core.trials.facts import facts_by_lanes
from tenaz.wire import forms
from tenaz.wire.frames import Frame
from tenaz.wire.power import MOST_TRIES
from tenaz.wire.protocol import LIVE, NOTICES, End, Ended, Kept, Load, Opened
from tenaz.wire.spool import JUMP
from tenaz.wire.troubles import Unreached, Why

SETTLES_S = 2.0
"""How often what came is acknowledged, once it is in the book."""

KNOWS_WITHIN_S = 10.0
"""So long the end of a load that does not run there any more is waited for."""

BEGINS_WITHIN_S, ENDS_WITHIN_S, ENDED_LOOKED_AT_S = 60.0, 15.0, 0.2
STOPPED_UNHEARD = (
    "stopped by hand while the rig did not answer: what it came to after its last sign of life nobody knows"
)
WIRE = "wire"
"""Whose lines of the log these are."""


class Following:
    """One load; :meth:`to_its_end` blocks."""

    def __init__(self, reached: Reached, plan: LoadPlan, watch: LoadWatch) -> None:
        self._reached, self._line = reached, reached.line
        self._plan, self._watch, self._token = plan, watch, watch.token
        self._last = LastSeconds((), ())
        self._moments: deque[Moment] = deque()
        self._progress: LoadProgress | None = None
        self._boot = ""
        self._silent_s = 0.0
        self._settled_s, self._settled = time.monotonic(), 0
        self._ended: Ended | None = None
        self._told_to_stop = False
        self._switched = 0
        self._in_order = 0, 0
        """The call in which the newest notice came, and its number."""

    def to_its_end(self) -> LoadReport:
        """Until it ended there, or the rig went, or it was stopped.

        Raises:
            Refused: the rig refuses it, or cannot be reached to begin it.
        """
        self._reached.running = self._token
        try:
            return self._follow()
        finally:
            self._reached.running = ""
            self._reached.stopping.clear()

    def _follow(self) -> LoadReport:
        opened = self._begin()
        if opened.boot_id != self._boot:
            return self._after_restart(opened)
        waited_from_s = self._since_when(opened)
        while self._ended is None:
            if self._reached.stopping.is_set() and not self._told_to_stop and self._line.up:
                self._told_to_stop = True
                self._reached.tell_stop(self._token)
            frame = self._line.take(0.1)
            if frame is not None:
                self._take(frame)
                continue
            self._settle_now_and_then()
            if self._line.up and self._line.newest > self._reached.heard and self._line.waiting == 0:
                self._ask_again(self._reached.heard + 1)
            if waited_from_s is not None and time.monotonic() - waited_from_s > KNOWS_WITHIN_S:
                return self._short(Outcome.LOST, "the rig knows nothing of this load any more")
            if not self._line.up:
                back = self._take_up_again()
                if isinstance(back, LoadReport):
                    return back
                waited_from_s = self._since_when(back)
        return self._report(self._ended)

    def _say(self, text: str) -> None:
        self._watch.note(text, WIRE)

    def _since_when(self, opened: Opened) -> float | None:
        """From when on its end is waited for, where it does not run any more."""
        return None if opened.running == self._token else time.monotonic()

    def _begin(self) -> Opened:
        """Have it begin, or join it. A line cut meanwhile is waited for: asked once more, it is not begun twice."""
        while True:
            opened = self._reached.wait(COMES_UP_WITHIN_S, say=self._say)
            if opened is None:
                raise Refused(self._reached.why_not)
            if self._boot and opened.boot_id != self._boot:
                return opened
            self._boot = opened.boot_id
            try:
                self._end_others(opened)
                begun: Opened = self._reached.ask("load", Load(self._token, self._plan), BEGINS_WITHIN_S)
                return begun
            except Unreached as unreached:
                if not unreached.trouble.passes:
                    raise
                self._say(f"{unreached.trouble.words} It is tried again.")

    def _end_others(self, opened: Opened) -> None:
        """A load of ours that nobody waits for any more: it was stopped while the rig was not heard."""
        if opened.running in ("", self._token):
            return
        self._say("a load of before still ran there; it is ended")
        self._reached.ask("stop", opened.running)
        deadline = time.monotonic() + ENDS_WITHIN_S
        while self._reached.connect().running and time.monotonic() < deadline:
            time.sleep(ENDED_LOOKED_AT_S)

    # -- what comes ----------------------------------------

    def _take(self, frame: Frame) -> None:
        self._settle_now_and_then()
        if "live" in frame:
            self._live(str(frame["live"]), frame.get("data"))
            return
        seq, event = frame.get("seq"), str(frame.get("event"))
        if (
            not isinstance(seq, int)
            or seq <= self._reached.heard
            or event not in NOTICES
            or self._gap_before(seq, event)
        ):
            return
        self._notice(event, forms.read(NOTICES[event], frame.get("data"), event))
        self._reached.heard = seq

    def _gap_before(self, seq: int, event: str) -> bool:
        """Whether one before it was lost on the way, as on a line with noise: then what was not heard comes again."""
        call, before = self._in_order
        # What is told again to who joins later is followed by what is new.
        lost = call == self._line.calls and before > 0 and 1 < seq - before < JUMP // 2
        self._in_order = self._line.calls, 0 if event == "sensors" else seq
        if lost:
            self._ask_again(before + 1)
        return lost

    def _ask_again(self, number: int) -> None:
        self._say(f"notice {number} came over damaged: it is asked for again")
        self._line.hang_up()

    def _live(self, name: str, data: Any) -> None:
        if name not in LIVE:
            return
        value = forms.read(LIVE[name], data, name)
        if name == "progress":
            self._progress = value
            self._watch.progress(value)
        elif name == "glimpse":
            self._moments.append(value)
            while self._moments[0].at_s < value.at_s - KEPT_S:
                self._moments.popleft()

    def _notice(self, event: str, value: Any) -> None:
        watch = self._watch
        match event:
            case "sensors" if self._last.sensors:
                # Told again where somebody joined.
                return
            case "sensors":
                self._last = LastSeconds(value.sensors, ())
                # It is guarded where it runs: what comes late over the wire is no sign of blindness.
                watch.sensors(value.sensors, None, value.period_s)
            case "sample":
                watch.sample(value)
            case "mismatch":
                watch.mismatch(value)
            case "laid":
                watch.laid(value)
            case "note":
                watch.note(value.text, value.source)
            case _:
                if value.token == self._token:
                    self._ended = value

    def _settle_now_and_then(self) -> None:
        if time.monotonic() - self._settled_s < SETTLES_S or self._reached.heard == self._settled:
            return
        self._settled_s = time.monotonic()
        self._watch.settle()
        self._settled = self._reached.heard
        if self._ended is None:
            self._line.acknowledge(self._settled)

    # -- its end ----------------------------------------

    def _report(self, ended: Ended) -> LoadReport:
        self._watch.settle()
        self._reached.acknowledge_later()
        if ended.report is not None:
            return ended.report
        if ended.end is End.REFUSED:
            raise Refused(ended.why)
        opened = self._line.opened
        if opened is not None and opened.boot_id != self._boot:
            return self._went_down(opened)
        return self._short(Outcome.LOST, ended.why)

    def _short(self, outcome: Outcome, detail: str) -> LoadReport:
        """A report of what was heard of it."""
        heard, rig = self._progress, self._reached.rig
        elapsed_s = heard.elapsed_s if heard is not None else 0.0
        if self._moments and outcome.machine_went_down:
            # The last that was heard of it is nearer to its end than what was told of the whole.
            elapsed_s = max(elapsed_s, self._moments[-1].at_s)
        lanes = heard.lanes if heard is not None else ()
        return LoadReport(
            self._plan,
            outcome,
            elapsed_s,
            heard.laps if heard is not None else 0.0,
            heard.rate if heard is not None else 0.0,
            heard.errors if heard is not None else 0,
            elapsed_s if outcome.machine_went_down else None,
            detail=detail,
            loads=facts_by_lanes(self._plan, elapsed_s, lanes, rig.cores_known, rig.memory_bytes) if heard else (),
        )

    def _take_up_again(self) -> Opened | LoadReport:
        """The line is down: was it the line, or the rig? It is tried until one of them tells."""
        self._silent_s, clock = self._line.heard_s, self._line.heard_utc.strftime("%H:%M:%S UTC")
        self._watch.settle()
        self._say(f"no sign of life since {clock}: {self._reached.why_not} It is tried again.")
        try:
            opened = self._reached.wait(None, say=self._still_silent)
        except Interrupted:
            return self._short(Outcome.LOST, STOPPED_UNHEARD)
        except Refused as refused:
            return self._short(Outcome.LOST, str(refused))
        assert opened is not None
        if opened.boot_id == self._boot:
            away = show_duration(time.monotonic() - self._silent_s)
            self._say(f"the line was cut for {away}; the rig stayed up, what it noted meanwhile comes now")
            return opened
        return self._after_restart(opened)

    def _after_restart(self, opened: Opened) -> LoadReport:
        """What it could still write down comes first; then it is judged."""
        deadline = time.monotonic() + KNOWS_WITHIN_S
        while self._ended is None and time.monotonic() < deadline:
            frame = self._line.take(0.5)
            if frame is None:
                break
            self._take(frame)
        self._reached.acknowledge_later()
        return self._went_down(opened)

    def _still_silent(self, text: str) -> None:
        """Said each minute; where the rig's power can be switched from here, that is done in the end."""
        self._say(text)
        power, trouble = self._reached.power, self._line.trouble
        mine = trouble is not None and trouble.why is Why.NO_NETWORK
        away_s = time.monotonic() - self._silent_s
        if power.known and not mine and self._switched < MOST_TRIES and away_s >= power.after_s * (1 + self._switched):
            self._switched += 1
            self._say(power.again())

    def _went_down(self, opened: Opened) -> LoadReport:
        try:
            kept: Kept = self._line.ask("kept")
        except Refused:
            kept = Kept(opened.boot_id, opened.up_s)
        began_after_s = time.monotonic() - kept.up_s - (self._silent_s or self._line.heard_s)
        last = replace(self._last, moments=tuple(self._moments)).shortened()
        self._watch.last_seconds(last)
        outcome, told = went_down(kept, began_after_s, bool(self._switched), last)
        self._say(told)
        return self._short(outcome, told)


class LoadsThere:
    """The part of the bench that runs loads."""

    def __init__(self, reached: Reached) -> None:
        self._reached = reached

    def check(self, plan: LoadPlan) -> None:
        """Refuse what the rig refuses, or a rig that is not reached."""
        self._reached.ask("check", plan)

    def load(self, plan: LoadPlan, watch: LoadWatch) -> LoadReport:
        """Run the load there, and hear it to its end, whatever becomes of the line."""
        return Following(self._reached, plan, watch).to_its_end()

    def stop(self) -> None:
        """End what runs; where the rig is not heard it is ended once it is."""
        self._reached.stopping.set()
