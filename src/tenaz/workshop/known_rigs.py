"""What is known of rigs: which is worked on and how it is reached, taking in, filling in, correcting."""

from collections.abc import Callable
from dataclasses import replace

from tenaz.core.errors import Refused
from tenaz.core.goldens import Goldens
from tenaz.core.ports import Clock
from tenaz.core.rigs import BenchKind, Rig
from tenaz.workshop.at_work import AtWork
from tenaz.workshop.running import Running


class KnownRigs:
    """Rigs chosen and changed; never while something runs."""

    def __init__(self, at_work: AtWork, running: Running, clock: Clock) -> None:
        self._at = at_work
        self._running = running
        self._clock = clock
        self.changed: Callable[[Rig], None] = lambda _: None
        """Told of the rig as it was, when its form was kept."""

    def choose_rig(self, name: str | None = None) -> None:
        """Work on another rig (None: the next of the book), on the bench that it was last worked on, or its first."""
        self._running.refuse_while("switch rigs")
        if name is None:
            names = self._at.store.rigs.names()
            name = names[(names.index(self._at.rig.name) + 1) % len(names)]
        self._at.rig = self._at.store.rigs.one(name)
        last = self._at.store.trials.newest_of(name)
        self._at.bench = last.bench if last else self._at.rig.benches[0]

    def choose_bench(self, bench: BenchKind | None = None) -> None:
        """Reach the rig another way (None: the next that it has).

        Raises:
            Refused: when the rig cannot be reached that way; names the ways that it can.
        """
        self._running.refuse_while("switch benches")
        ways = self._at.rig.benches
        if bench is None:
            bench = ways[(ways.index(self._at.bench) + 1) % len(ways)]
        if bench not in ways:
            raise Refused(f"{self._at.rig.name} cannot be reached on bench {bench}; it has: {', '.join(ways)}.")
        self._at.bench = bench

    def take_in(self) -> str:
        """Fill the rig in anew from this machine; what was typed in and what it was set to stay."""
        self._running.refuse_while("take a machine in")
        rig = self._at.rig
        if not any(way.traits.restarts_us for way in rig.benches):
            raise Refused(f"{rig.name} is not this machine: read it there with tenaz probe --save, and bring the file.")
        from tenaz.intake.new_rigs import this_machine  # noqa: PLC0415 - catalogues are read where they are needed

        fresh = this_machine()
        self._remember(rig, "taken in anew")
        tried = self._at.store.trials.newest_of(rig.name) is not None
        self._put(
            replace(
                rig,
                machine=fresh.machine,
                processor=fresh.processor,
                cores=fresh.cores,
                memory_bytes=fresh.memory_bytes,
                parts=fresh.parts,
                # Trials are measured from stock: once there are any, it stands.
                knobs=rig.knobs if tried else fresh.knobs,
                stock=rig.stock if tried else fresh.stock,
            )
        )
        self.changed(rig)
        return f"{rig.name} taken in"

    def keep(self, rig: Rig) -> str:
        """Keep a rig as it was filled in by hand: the one at work, or a new one, which is then worked on.

        Raises:
            Refused: while something runs.
        """
        self._running.refuse_while("change a rig")
        fresh = rig.name not in self._at.store.rigs.names()
        if not fresh:
            self._remember(self._at.store.rigs.one(rig.name), "changed")
        self._at.store.rigs.put(rig)
        if fresh:
            self.choose_rig(rig.name)
        elif rig.name == self._at.rig.name:
            before, self._at.rig = self._at.rig, rig
            self.changed(before)
        return f"{rig.name} {'added' if fresh else 'kept'}"

    def know(self, knob: str, value: int) -> None:
        """What a value of the rig stands at that nobody could read: part of its stock from now on."""
        self._put(self._at.rig.knowing(knob, value))
        known = self._at.rig.knob(knob)
        self._at.log("rig", f"{known.label} stands at {known.show(value)}, as typed in")

    def correct_grid(self, knob: str, values: tuple[int, ...]) -> str:
        """Take values off a knob's grid, because the firmware makes others of them.

        Raises:
            Refused: stock stands there.
        """
        self._running.refuse_while("change a grid")
        before = self._at.rig
        self._put(self._at.rig.without_values(knob, values))
        self._remember(before, "without some values of a grid")
        known = self._at.rig.knob(knob)
        gone = ", ".join(known.show(value) for value in values)
        self._at.log("rig", f"{known.label} has no {gone} any more: the firmware makes another value of it")
        return f"{gone} taken off the grid of {known.label}"

    def keep_goldens(self, goldens: Goldens) -> None:
        """Keep goldens of the rig."""
        self._at.store.goldens.put(self._at.rig.name, goldens, self._clock)

    def _remember(self, before: Rig, what: str) -> None:
        """A rig as it was before it was changed can be put back."""

        def back() -> None:
            self._at.store.rigs.put(before)
            if before.name == self._at.rig.name:
                now, self._at.rig = self._at.rig, before
                self.changed(now)

        self._at.undoing.push(f"{before.name} {what}", back)

    def _put(self, rig: Rig) -> None:
        self._at.rig = rig
        self._at.store.rigs.put(rig)
