"""What is told when a trial is over: a record corrected, and trials that were made elsewhere or before."""

from dataclasses import replace
from typing import TYPE_CHECKING

from tenaz.core.base.errors import Refused
from tenaz.core.knobs.setpoint import Setpoint
from tenaz.core.ports.events import TrialMoved
from tenaz.core.rigs.rig import BenchKind, Rig
from tenaz.core.searches.search import Proposal
from tenaz.core.trials.facts import LoadFacts, facts_by_lanes, read_off
from tenaz.core.trials.record_text import SeenRecord, record_of
from tenaz.core.trials.trial import Trial
from tenaz.engine.runner import BY_TECHNICIAN
from tenaz.orders import Correct, EnterPast
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out

if TYPE_CHECKING:
    from tenaz.core.trials.past_trials import PastTrial


class Afterwards:
    """Every call is in the book when it returns, and can be taken back."""

    def __init__(self, at_work: AtWork) -> None:
        self._at = at_work

    @carries_out(Correct)
    def correct(self, order: Correct) -> str:
        """Another record in place of a closed trial's; the one before stays in the book.

        Raises:
            Refused: the trial is open, or a value is none of its knob's.
        """
        store, trial = self._at.store, self._at.store.trials.one(order.trial_id)
        before = record_of(trial)
        if before is None or trial.open:
            raise Refused(f"Trial {trial.number} has no record yet to correct: say first what was seen of it.")
        rig = self._at.rig_named(trial.rig)
        in_force = trial.setpoint
        for name, value in order.values.items():
            in_force = in_force.replacing(rig.knob(name).name, value)
        self._rewrite(trial, order.record, in_force, rig)
        words = f"trial {trial.number}: corrected from '{before.show()}' to '{order.record.show()}'"
        moved = [
            f"{rig.knob(one.knob).label} {one.before} to {one.after}" for one in in_force.changes_from(trial.setpoint)
        ]
        words += f", {', '.join(moved)}" if moved else ""
        self._at.log("loop", words, trial.id)

        def back() -> None:
            now = store.trials.one(trial.id)
            self._rewrite(now, before, trial.setpoint, rig, trial.facts)
            self._at.log("loop", f"trial {trial.number}: correction taken back", trial.id)

        self._at.undoing.push(f"correction of trial {trial.number}", back)
        return words

    def _rewrite(
        self, trial: Trial, record: SeenRecord, in_force: Setpoint, rig: Rig, facts: LoadFacts | None = None
    ) -> None:
        """The record anew; what the load really did is told by hand, unless it only ended otherwise."""
        if facts is None:
            facts = trial.facts
            if record.elapsed_s != trial.elapsed_s or not facts.loads:
                cores, memory = rig.cores_known, rig.memory_bytes
                loads = facts_by_lanes(trial.plan, record.elapsed_s, (), cores, memory, by_hand=True)
                facts = replace(facts, loads=loads if record.elapsed_s else ())
            if record.hottest_c is not None or record.wall_w is not None:
                facts = replace(facts, sensors=read_off(record.hottest_c, record.wall_w))
        written = self._at.store.afterwards.correct(trial, record, in_force, facts, BY_TECHNICIAN, self._at.clock)
        self._at.publish(TrialMoved(written))
        self._reopen(trial)

    def _reopen(self, trial: Trial) -> None:
        """A climb that had come to its advice goes on where the correction takes that away, and none is under way."""
        search = None if trial.search_id is None else self._at.store.searches.one(trial.search_id)
        mine = search is not None and search.rig == self._at.rig.name and search.bench is self._at.bench
        if search is None or not mine or not search.ended or self._at.search() is not None:
            return
        if isinstance(self._at.standing(search), Proposal):
            self._at.store.searches.reopen(search.id)

    @carries_out(EnterPast)
    def enter_past(self, order: EnterPast) -> str:
        """Trials that were made elsewhere or before, all or none; those that the book has already are passed over.

        Raises:
            Refused: something runs, or all of them are in the book.
        """
        self._at.refuse_while("enter other trials")
        store = self._at.store
        there = store.afterwards.known([one.uid for one in order.trials if one.uid])
        fresh: dict[tuple[str, BenchKind], list[PastTrial]] = {}
        for one in order.trials:
            if not one.uid or one.uid not in there:
                there |= {one.uid} if one.uid else set()
                name = one.rig or order.rig or self._at.rig.name
                fresh.setdefault((name, one.bench or self._bench_of(self._at.rig_named(name))), []).append(one)
        if not fresh:
            raise Refused(f"All {len(order.trials)} are in the book already: nothing was entered.")
        batches = [(self._at.rig_named(name), bench, past) for (name, bench), past in fresh.items()]
        entered = store.afterwards.enter(batches, self._at.clock)
        self._at.hold(entered)
        said = []
        for name in dict.fromkeys(name for name, _ in fresh):
            mine = sorted(one.number for one in entered if one.rig == name)
            told = f"trial {mine[0]}" if len(mine) == 1 else f"trials {mine[0]} to {mine[-1]}"
            said.append(told if name == self._at.rig.name else f"{told} of {name}")
            store.log.write(name, None, "book", f"{told} entered later", self._at.clock)

        def back() -> None:
            store.afterwards.take_out(entered)
            self._at.put_away()

        numbers, known = ", ".join(said), len(order.trials) - len(entered)
        self._at.undoing.push(f"{numbers} entered", back)
        return f"{numbers} entered" + (f"; {known} passed over, the book has them" if known else "")

    def _bench_of(self, rig: Rig) -> BenchKind:
        return self._at.bench if rig is self._at.rig else rig.benches[0]
