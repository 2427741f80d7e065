"""The child process that runs one load on one core: ``python -m tenaz.loads.worker SPEC``.

It speaks JSON lines. Up: ``ready`` (block in place), ``progress``, ``mismatch``, ``done``. Down, on standard input:
``go``, ``stop`` and ``duty 0.4``, the part of its time that it is to work; the end of standard input means that the
parent is gone and stops it too. What it worked, what it verified and on which core, it tells with each progress and
with its last word.
"""

import importlib
import json
import os
import signal
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import asdict, replace
from typing import Any

from tenaz.core.loads.cards import Drawn
from tenaz.core.loads.plan import LoadKind, Mismatch, MismatchKind
from tenaz.loads.budget import be_considerate
from tenaz.loads.goldens import made_with
from tenaz.loads.kernels.clock import ClockMeter
from tenaz.loads.memory import Block
from tenaz.loads.physical import physical_address
from tenaz.loads.processes import core_now
from tenaz.loads.spec import Spec
from tenaz.loads.tried import Checked
from tenaz.loads.work_clock import WorkClock

CLOCK_EVERY_S = 1.0
"""How often the clock reached is measured; it costs a third of a millisecond."""

MOST_REST_S, RESTS_S = 2.0, 1.0
"""A pause is never so long that a worker would be taken for one that hangs; who is to rest works a moment between."""

WORKED_OF_STEP = 0.5
"""In step, the part of each period that is worked."""

FEEDS_NICE = 5
"""Niceness of who feeds a card; all other workers stand behind it."""

MOST_MISMATCHES_TOLD = 200
"""Each mismatch is counted; only so many are told one by one, so that a flood cannot drown the parent."""


class Line:
    """The worker's line to its parent, and its ear for stop."""

    def __init__(self, spec: Spec) -> None:
        self.spec = spec
        self.errors = 0
        self._go = threading.Event()
        self._stop = threading.Event()
        self._duty = 1.0
        self._worked_at_s = 0.0
        self._told = 0
        self._last_report = 0.0
        self._work_since_report = 0.0
        self._work = 0.0
        self._meter = ClockMeter()
        self._clock_mhz = 0.0
        self._last_clock = 0.0
        self._clock = WorkClock()
        self._checked: Checked | None = None
        self.resting: Callable[[], None] = lambda: None
        """What must be waited for before a rest: a card still works at what it was handed."""
        self.covered = 0.0
        """The part of what it was given that it has verified after straining it; kinds that go over memory tell it."""
        self._physical: Callable[[int], int | None] = physical_address
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self) -> None:
        for line in sys.stdin:
            if line.strip() == "go":
                self._go.set()
            elif line.startswith("duty "):
                self._duty = float(line.split()[1])
            elif line.strip() == "stop":
                break
        self._stop.set()
        self._go.set()

    def say(self, word: str, **fields: Any) -> None:
        """One line to the parent; a parent that is gone stops the worker."""
        try:
            sys.stdout.write(json.dumps({"say": word, "worker": self.spec.worker, **fields}) + "\n")
            sys.stdout.flush()
        except BrokenPipeError:
            os._exit(1)

    @property
    def stopping(self) -> bool:
        """Whether to leave off at the next chance."""
        return self._stop.is_set() or (self.errors > 0 and self.spec.plan.stop_at_first_error)

    def golden(self, name: str, digest: str, made: str = "") -> None:
        """Tell a result that must always be the same; where it differs from the golden taken at stock, that is wrong.

        Only goldens ``made`` with the same are compared, on the same card, or with the same instructions and
        libraries: others need not agree.
        """
        made = made or made_with()
        self.say("golden", name=name, digest=digest, made_with=made)
        known = self.spec.goldens.get(made, {}).get(name)
        if known is not None and known != digest:
            words = (int(known[:16], 16), int(digest[:16], 16), int(digest[:16], 16))
            self.wrong_word(1, 0, words, MismatchKind.COMPUTED, f"{name} differs from its golden taken at stock")

    def take_block(self) -> Block:
        """The memory that this worker is to load, in place; where it lies is told, as far as the system says."""
        block = Block(self.spec.size, self.spec.parts)
        block.populate(self.preparing)
        self._physical = block.physical
        if (small := block.in_small_pages()) is not None:
            self.note(
                f"worker {self.spec.worker}: {small:.0%} of its memory lies in small pages, as the system had no more "
                f"huge ones: it is slower, and neighbours in it need not be neighbours in the modules"
            )
        spans = block.spans(lambda: not self._stop.is_set())
        self.say("laid", spans=[(span.start, span.end) for span in spans])
        return block

    def wait_for_go(self, **block: int) -> None:
        """Say that the block is in place and wait until all workers are."""
        self.say("ready", **block)
        self._go.wait()
        self._last_report = self._worked_at_s = time.monotonic()
        self._clock.begin()

    def elapsed_s(self) -> float:
        """Seconds of work since go."""
        self._clock.look()
        return self._clock.worked_s

    def check_by(self, checked: Checked) -> None:
        """Have the load's own check tried from now on, at moments that nobody can foresee."""
        self._checked = checked

    def pause(self, seconds: float) -> None:
        """Sleep, as belongs to the load."""
        time.sleep(seconds)
        self._clock.paused(seconds)

    def paused(self, seconds: float) -> None:
        """So much of the time just passed was left idle on purpose."""
        self._clock.paused(seconds)

    def preparing(self, fraction: float) -> bool:
        """Tell how far the block is; False when the worker is to stop."""
        self.say("preparing", fraction=round(fraction, 3))
        return not self._stop.is_set()

    def worked(self, laps: float, work: float, doing: str | Callable[[], str]) -> None:
        """Count work done (bytes or operations); a report goes up now and then."""
        self._work_since_report += work
        self._work += work
        self._clock.look()
        if not self.spec.plan.kind.declared.goes_over:
            self.covered = float(laps > 0)
        if self._checked is not None and (blind := self._checked.look()):
            self.say("unchecked", text=blind)
        self._rest()
        self._in_step()
        now = time.monotonic()
        since = now - self._last_report
        if since >= self.spec.report_every_s:
            if self.spec.card is None and now - self._last_clock >= CLOCK_EVERY_S:
                self._last_clock, self._clock_mhz = now, self._meter.measure_mhz()
            self.say(
                "progress",
                **self.account(laps),
                rate=self._work_since_report / since / 1e9,
                clock_mhz=round(self._clock_mhz),
                doing=doing if isinstance(doing, str) else doing(),
            )
            self._last_report, self._work_since_report = now, 0.0

    def _rest(self) -> None:
        """Let the part cool, as it is told to: that is neither work nor time in which there was work to do."""
        if self._duty < 1.0:
            most_s = MOST_REST_S if self._duty > 0 else RESTS_S
            worked_s = time.monotonic() - self._worked_at_s
            self._clock.look()
            self._stop.wait(min(most_s, worked_s * (1.0 / max(self._duty, 1e-3) - 1.0)))
            self._clock.begin()
        self._worked_at_s = time.monotonic()

    def _in_step(self) -> None:
        """Where all work in step: rest until the next common moment to begin."""
        hz = self.spec.plan.step_hz
        if hz is None:
            return
        phase = (time.monotonic() - self.spec.epoch_s) * hz % 1.0
        if phase >= WORKED_OF_STEP:
            began_s = time.monotonic()
            self.resting()
            self._stop.wait((1.0 - phase) / hz)
            self._clock.paused(time.monotonic() - began_s)

    def account(self, laps: float) -> dict[str, float]:
        """What it has come to, as it goes up with each progress and with the last word."""
        clock = self._clock
        return {
            "laps": laps,
            "errors": self.errors,
            "at_s": clock.worked_s,
            "of_s": clock.asked_s,
            "stood_s": clock.stood_s,
            "covered": self.covered,
            "core": core_now(),
        }

    def done(self, laps: float) -> None:
        """The last word."""
        rate = self._work / max(self.elapsed_s(), 1e-9) / 1e9
        self.say("done", **self.account(laps), rate=rate)

    def void(self, text: str) -> None:
        """What this worker did says nothing about the rig, and why."""
        self.say("void", text=text)

    def note(self, text: str) -> None:
        """A line for the book."""
        self.say("note", text=text)

    def wrong_word(self, lap: int, address: int, words: tuple[int, int, int], kind: MismatchKind, where: str) -> None:
        """Tell a wrong word; ``words`` are what was expected, what was read, and what was read again."""
        physical = self._physical(address) if address else None
        self.wrong(Mismatch(self.spec.worker, self.elapsed_s(), lap, address, *words, kind, where, physical))

    def wrong_on_card(
        self,
        lap: int,
        offset: int,
        words: tuple[int, int, int],
        kind: MismatchKind,
        where: str,
        drawn: Drawn | None = None,
    ) -> None:
        """Tell a wrong word of a card's memory, or a wrong pixel that it drew."""
        found = Mismatch(self.spec.worker, self.elapsed_s(), lap, offset, *words, kind, where, drawn=drawn)
        self.wrong(replace(found, card=self.spec.card))

    def more_wrong(self, count: int) -> None:
        """So many more were wrong, which nobody tells one by one."""
        self.errors += count

    def lost(self, text: str) -> None:
        """The card went away under the load."""
        self.say("lost", text=text)

    def wrong(self, mismatch: Mismatch) -> None:
        """Count a mismatch and tell it."""
        self.errors += 1
        if self._told < MOST_MISMATCHES_TOLD:
            self._told += 1
            self.say("mismatch", **asdict(mismatch))


def load_of(kind: LoadKind) -> "Callable[[Spec, Line], float]":
    """What runs a kind of load: given spec and line, it gives the laps done. Only what is asked for is imported."""
    module = importlib.import_module(f"tenaz.loads.kinds.{kind.declared.runs_in}")
    run: Callable[[Spec, Line], float] = module.run
    return run


def main() -> None:
    """Run the load named on the command line."""
    spec = Spec.from_json(sys.argv[1])
    # An interrupt typed at the terminal reaches the whole group; the parent answers it, and tells us to stop.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    # A terminal that closes hangs up on the whole group; the end of the input tells us, in time to end in order.
    signal.signal(signal.SIGHUP, signal.SIG_IGN)
    # Whoever feeds a card needs little, and soon: beside loads of all cores it would wait for each of them.
    be_considerate() if spec.card is None else be_considerate(FEEDS_NICE)
    if spec.card is None:
        os.sched_setaffinity(0, {spec.core})
    line = Line(spec)
    line.done(load_of(spec.plan.kind)(spec, line))
    # Memory goes back with the process; tearing down gigabytes politely would only delay the parent.
    os._exit(0)


if __name__ == "__main__":
    main()
