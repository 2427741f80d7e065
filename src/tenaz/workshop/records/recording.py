"""What is recorded beside what runs: explanations, records taken back, notes, saved setpoints."""

from functools import partial

from tenaz.core.base.errors import Refused
from tenaz.core.base.outcomes import Outcome
from tenaz.core.ports.events import TrialMoved
from tenaz.core.trials.past_trials import ENTERED_LATER
from tenaz.core.trials.trial import Trial
from tenaz.engine import recovery
from tenaz.engine.runner import BY_TENAZ, verified
from tenaz.orders import Explain, NoteTrial, NoteValues, Redo, SaveSetpoint, SettleNote, Undo
from tenaz.workshop.bench.at_work import AtWork
from tenaz.workshop.bench.doing import carries_out


class Recording:
    """Every call is in the book when it returns."""

    def __init__(self, at_work: AtWork) -> None:
        self._at = at_work

    @carries_out(Explain)
    def explain(self, order: Explain) -> Trial:
        """Record what was seen of a trial that nothing runs; without a time, its last heartbeat's.

        Raises:
            Refused: held, without any time under load.
        """
        trial, store = self._at.store.trials.one(order.trial_id), self._at.store
        rig = self._at.rig_named(trial.rig)
        explained = recovery.explain(trial, order.outcome, store, self._at.clock, order.elapsed_s, rig, order.told)
        self.ended(explained)
        self._at.publish(TrialMoved(explained))
        return explained

    def unseen(self, trial: Trial, outcome: Outcome) -> None:
        """Record the end of a trial that nobody saw, with nobody there to be asked."""
        rig = self._at.store.rigs.one(trial.rig)
        self.ended(
            recovery.explain(
                trial, outcome, self._at.store, self._at.clock, rig=rig, seen_by=BY_TENAZ, detail=recovery.UNSEEN
            )
        )

    def ended(self, trial: Trial) -> None:
        """What goes with the end of every trial, however it came: its record can be taken back where a person can have
        been wrong, and what there was to see is kept.
        """
        if not verified(trial):
            back, again = partial(self.undo_record, trial.id), partial(self._record_again, trial)
            self._at.undoing.push(f"record of trial {trial.number}", back, again)
        if trial.rig == self._at.rig.name:
            self._keep_snapshot(trial)

    def _keep_snapshot(self, trial: Trial) -> None:
        from tenaz.pictures.status.build import keep_snapshot  # noqa: PLC0415 - only the end of a trial needs it

        at = self._at
        plan = None if trial.search_id is None else at.store.searches.one(trial.search_id)
        # A search over several knobs has no picture along one.
        along = plan.on_rig_of(at.rig.stock) if plan is not None and len(plan.knobs) == 1 else None
        keep_snapshot(at.store, at.rig, trial, at.clock, at.climb(along) if along else None)

    @carries_out(Undo)
    def undo(self, _: Undo) -> str:
        """Take back what was done last; where nothing was done since the book was opened, the newest record."""
        if self._at.undoing.next:
            return self._at.undoing.back()
        trial = self._at.trials.newest
        said = self.undo_record()
        if trial is not None and trial.seen_by != ENTERED_LATER:
            self._at.undoing.taken_back(f"record of trial {trial.number}", partial(self._record_again, trial))
        return said

    @carries_out(Redo)
    def redo(self, _: Redo) -> str:
        """Do again what was taken back last."""
        return self._at.undoing.forth()

    def _record_again(self, trial: Trial) -> None:
        """What a trial came to, as it was before it was taken back.

        Raises:
            Refused: it has another record by now.
        """
        self._at.refuse_while("record a trial")
        store, clock = self._at.store, self._at.clock
        now = store.trials.one(trial.id)
        if not now.open:
            raise Refused(f"Trial {trial.number} has another record by now.")
        again = store.trials.record_again(now, clock)
        self._at.log("loop", f"trial {trial.number}: record '{trial.outcome}' as before", trial.id)
        self.ended(again)
        self._at.publish(TrialMoved(again))

    def undo_record(self, trial_id: int | None = None) -> str:
        """Take back the newest record on this bench, which must be that of ``trial_id`` where one is meant; the trial
        then waits for another one.

        Raises:
            Refused: there is none, another one comes next, or a load verified it.
        """
        self._at.refuse_while("undo a record")
        trial = self._at.trials.newest
        if trial is None:
            raise Refused(f"There is no record on {self._at.rig.name} to undo yet.")
        if trial.open:
            raise Refused(f"Trial {trial.number} has no record to undo: say first what was seen of it.")
        if trial_id is not None and trial_id != trial.id:
            one = self._at.store.trials.one(trial_id)
            raise Refused(
                f"The record of trial {one.number} of {one.rig} comes next, and is not the newest here: go to that rig "
                f"first, or correct it with b›c."
            )
        if verified(trial):
            raise Refused(
                f"Trial {trial.number} {trial.outcome} by what its own load verified: that is no slip. "
                f"b›c corrects how it ended, where something else was seen."
            )
        if trial.seen_by == ENTERED_LATER:
            self._at.store.afterwards.take_out((trial,))
            self._at.put_away()
            return f"trial {trial.number}, entered later, taken out"
        undone = self._at.store.trials.undo(trial, self._at.clock)
        if trial.search_id is not None:
            self._at.store.searches.reopen(trial.search_id)
        self._at.log("loop", f"trial {trial.number}: record '{trial.outcome}' undone", trial.id)
        self._at.publish(TrialMoved(undone))
        return f"record of trial {trial.number} taken back: it waits for another"

    @carries_out(NoteTrial)
    def note(self, order: NoteTrial) -> None:
        """Put a note on a trial."""
        before = self._at.store.trials.one(order.trial_id)
        self._put_note(before, order.text)
        self._at.undoing.push(f"note on trial {before.number}", lambda: self._put_note(before, before.note))

    def _put_note(self, trial: Trial, text: str) -> None:
        self._at.store.trials.note(trial.id, text.strip())
        self._at.log("note", f"trial {trial.number}: {text.strip() or 'note taken off'}", trial.id)

    @carries_out(NoteValues)
    def note_values(self, order: NoteValues) -> str:
        """Keep notes on values of the rig."""
        rig, said = self._at.rig, []
        for note in order.notes:
            key = self._at.store.sheets.note(rig.name, note, self._at.clock)
            self._at.undoing.push(f"note on {rig.knob(note.knob).label}", partial(self._at.store.sheets.drop_note, key))
            said.append(f"noted on {rig.knob(note.knob).label} {rig.knob(note.knob).show(note.value)}")
        return said[0] if len(said) == 1 else ""

    @carries_out(SettleNote)
    def settle(self, order: SettleNote) -> str:
        """A note needs no coming back to any more: it was done, or is dropped."""
        sheets = self._at.store.sheets
        sheets.settle(order.note_id)
        if order.dropped:
            self._at.log("notes", f"follow-up {order.note_id} dropped")
        self._at.undoing.push("a note settled", lambda: sheets.settle(order.note_id, False))
        return "dropped" if order.dropped else "settled"

    @carries_out(SaveSetpoint)
    def save_setpoint(self, order: SaveSetpoint) -> str:
        """Keep a setpoint of the rig under a name.

        Raises:
            Refused: a name that is taken or is none.
        """
        rig, sheets, name = self._at.rig.name, self._at.store.sheets, order.name.strip()
        sheets.save(rig, order.name, order.setpoint, order.text, self._at.clock)
        self._at.undoing.push(f"setpoint saved as {name}", lambda: sheets.drop(rig, name))
        return f"saved as {name}"
