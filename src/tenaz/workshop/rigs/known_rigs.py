"""What is known of rigs: which is worked on and how it is reached, taking in, filling in, correcting."""

from dataclasses import replace

from tenaz.core.base.errors import Refused
from tenaz.core.rigs.rig import Rig
from tenaz.core.rigs.rig_line import RigLine
from tenaz.finding.symptoms import left_open
from tenaz.orders import BringRigs, ChooseBench, ChooseRig, CorrectGrid, KeepGoldens, KeepRig, Know, TakeIn
from tenaz.wire.ways import way_of
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out
from tenaz.workshop.rigs.across import machine_across
from tenaz.workshop.rigs.parts import Parts
from tenaz.workshop.rigs.rig_list import rig_lines


class KnownRigs:
    """Rigs chosen and changed; never while something runs."""

    def __init__(self, at_work: AtWork, parts: Parts) -> None:
        self._at = at_work
        self._parts = parts

    @carries_out(BringRigs)
    def lines(self, _: BringRigs) -> tuple[RigLine, ...]:
        """All rigs of the book, each with where it stands."""
        return rig_lines(self._at.store, self._at.runs_on, self._at.holder, self._at.clock.utc())

    @carries_out(ChooseRig)
    def choose_rig(self, order: ChooseRig) -> None:
        """Work on another rig (None: the next of the book), on the bench that it was last worked on, or its first."""
        self._at.refuse_while("switch rigs")
        name = order.name
        if name is None:
            names = self._at.store.rigs.names()
            name = names[(names.index(self._at.rig.name) + 1) % len(names)]
        self._at.rig = self._at.store.rigs.one(name)
        last = self._at.store.trials.newest_of(name)
        self._at.bench = last.bench if last else self._at.rig.benches[0]

    @carries_out(ChooseBench)
    def choose_bench(self, order: ChooseBench) -> None:
        """Reach the rig another way (None: the next that it has).

        Raises:
            Refused: when the rig cannot be reached that way; names the ways that it can.
        """
        self._at.refuse_while("switch benches")
        ways, bench = self._at.rig.benches, order.bench
        if bench is None:
            bench = ways[(ways.index(self._at.bench) + 1) % len(ways)]
        if bench not in ways:
            raise Refused(f"{self._at.rig.name} cannot be reached on bench {bench}; it has: {', '.join(ways)}.")
        self._at.bench = bench

    @carries_out(TakeIn)
    def take_in(self, _: TakeIn) -> str:
        """Fill the rig in anew from this machine, or across its wire; what was typed in and what it was set to stay.

        Raises:
            Refused: something runs, or the rig is neither this machine nor reached now.
        """
        self._at.refuse_while("take a machine in")
        rig = self._at.rig
        from tenaz.intake.new_rigs import rig_from, this_machine  # noqa: PLC0415 - catalogues are read where needed
        from tenaz.intake.rig_knobs import with_more_of  # noqa: PLC0415 - the same

        if any(way.traits.restarts_us for way in rig.benches):
            fresh = this_machine()
        elif rig.wire:
            self._at.reach_by()
            machine = machine_across(way_of(rig.wire), rig)
            fresh = rig_from(machine, rig.name, rig.benches)
        else:
            raise Refused(f"{rig.name} is not this machine: read it there with tenaz probe --save, and bring the file.")
        self._remember(rig, "taken in anew")
        tried = self._at.store.trials.newest_of(rig.name) is not None
        # Trials are measured from stock: once there are any, it stands.
        known = with_more_of(rig, fresh) if tried else replace(rig, knobs=fresh.knobs, stock=fresh.stock)
        self._at.put(
            replace(
                known,
                machine=fresh.machine,
                processor=fresh.processor,
                cores=fresh.cores,
                memory_bytes=fresh.memory_bytes,
                parts=fresh.parts,
                memory=rig.memory if tried else fresh.memory,
            )
        )
        self._parts.typed_in(rig)
        return f"{rig.name} taken in"

    @carries_out(KeepRig)
    def keep(self, order: KeepRig) -> str:
        """Keep a rig as it was filled in by hand: the one at work, or a new one, which is then worked on.

        Raises:
            Refused: while something runs.
        """
        self._at.refuse_while("change a rig")
        rig = order.rig
        fresh = rig.name not in self._at.store.rigs.names()
        if not fresh:
            self._remember(self._at.store.rigs.one(rig.name), "changed")
        self._at.store.rigs.put(rig)
        if fresh:
            self.choose_rig(ChooseRig(rig.name))
        elif rig.name == self._at.rig.name:
            before, self._at.rig = self._at.rig, rig
            self._parts.typed_in(before)
        words = left_open(rig)
        told = f"; in the complaint not understood: {', '.join(words)} (r›s ticks what was noticed)" if words else ""
        return f"{rig.name} {'added' if fresh else 'kept'}{told}"

    @carries_out(Know)
    def know(self, order: Know) -> None:
        """What a value of the rig stands at that nobody could read: part of its stock from now on."""
        self._at.put(self._at.rig.knowing(order.knob, order.value))
        known = self._at.rig.knob(order.knob)
        self._at.log("rig", f"{known.label} stands at {known.show(order.value)}, as typed in")

    @carries_out(CorrectGrid)
    def correct_grid(self, order: CorrectGrid) -> str:
        """Take values off a knob's grid, because the firmware makes others of them.

        Raises:
            Refused: stock stands there.
        """
        self._at.refuse_while("change a grid")
        before = self._at.rig
        self._at.put(before.without_values(order.knob, order.values))
        self._remember(before, "without some values of a grid")
        known = self._at.rig.knob(order.knob)
        gone = ", ".join(known.show(value) for value in order.values)
        self._at.log("rig", f"{known.label} has no {gone} any more: the firmware makes another value of it")
        return f"{gone} taken off the grid of {known.label}"

    @carries_out(KeepGoldens)
    def keep_goldens(self, order: KeepGoldens) -> None:
        """Keep goldens of the rig."""
        self._at.store.goldens.put(self._at.rig.name, order.goldens, self._at.clock)

    def _remember(self, before: Rig, what: str) -> None:
        """A rig as it was before it was changed can be put back."""

        def back() -> None:
            self._at.store.rigs.put(before)
            if before.name == self._at.rig.name:
                now, self._at.rig = self._at.rig, before
                self._parts.typed_in(now)

        self._at.undoing.push(f"{before.name} {what}", back)
