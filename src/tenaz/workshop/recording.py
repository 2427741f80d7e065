"""What is recorded beside what runs: explanations, records taken back, notes, saved setpoints."""

from functools import partial

from tenaz.core.errors import Refused
from tenaz.core.events import TrialMoved
from tenaz.core.notes import ValueNote
from tenaz.core.outcomes import Outcome
from tenaz.core.past_trials import ENTERED_LATER
from tenaz.core.ports import Clock
from tenaz.core.setpoints import Setpoint
from tenaz.core.trials import Trial
from tenaz.engine import recovery
from tenaz.engine.runner import verified
from tenaz.workshop.at_work import AtWork
from tenaz.workshop.running import Running


class Recording:
    """Every call is in the book when it returns."""

    def __init__(self, at_work: AtWork, running: Running, clock: Clock) -> None:
        self._at = at_work
        self._running = running
        self._clock = clock

    def explain(
        self, trial_id: int, outcome: Outcome, elapsed_s: float | None = None, errors: int | None = None
    ) -> Trial:
        """Record what was seen of a trial that nothing runs; without a time, its last heartbeat's.

        Raises:
            Refused: held, without any time under load.
        """
        trial, store = self._at.store.trials.one(trial_id), self._at.store
        rig = self._at.rig if trial.rig == self._at.rig.name else store.rigs.one(trial.rig)
        explained = recovery.explain(trial, outcome, store, self._clock, elapsed_s, rig, errors)
        if rig.name == self._at.rig.name:
            self._at.keep_snapshot(explained)
        self._at.undoing.push(f"record of trial {explained.number}", partial(self.undo_record, explained.id))
        self._at.publish(TrialMoved(explained))
        return explained

    def undo(self) -> str:
        """Take back what was done last; where nothing was done since the book was opened, the newest record."""
        return self._at.undoing.back() if self._at.undoing.next else self.undo_record()

    def undo_record(self, trial_id: int | None = None) -> str:
        """Take back the newest record on this bench, which must be that of ``trial_id`` where one is meant; the trial
        then waits for another one.
        """
        self._running.refuse_while("undo a record")
        trial = self._at.trials.newest
        if trial is None:
            raise Refused(f"There is no record on {self._at.rig.name} to undo yet.")
        if trial.open:
            raise Refused(f"Trial {trial.number} has no record to undo: say first what was seen of it.")
        if trial_id is not None and trial_id != trial.id:
            one = self._at.store.trials.one(trial_id)
            raise Refused(
                f"The record of trial {one.number} of {one.rig} comes next, and is not the newest here: go to that rig "
                f"first, or correct it with X."
            )
        if verified(trial):
            raise Refused(
                f"Trial {trial.number} {trial.outcome} by what its own load verified: that is no slip. "
                f"X corrects how it ended, where something else was seen."
            )
        if trial.seen_by == ENTERED_LATER:
            self._at.store.afterwards.take_out((trial,))
            self._at.put_away()
            return f"trial {trial.number}, entered later, taken out"
        undone = self._at.store.trials.undo(trial, self._clock)
        if trial.search_id is not None:
            self._at.store.searches.reopen(trial.search_id)
        self._at.log("loop", f"trial {trial.number}: record '{trial.outcome}' undone", trial.id)
        self._at.publish(TrialMoved(undone))
        return f"record of trial {trial.number} taken back: it waits for another"

    def note(self, trial_id: int, text: str) -> None:
        """Put a note on a trial."""
        before = self._at.store.trials.one(trial_id)
        self._put_note(before, text)
        self._at.undoing.push(f"note on trial {before.number}", lambda: self._put_note(before, before.note))

    def _put_note(self, trial: Trial, text: str) -> None:
        self._at.store.trials.note(trial.id, text.strip())
        self._at.log("note", f"trial {trial.number}: {text.strip() or 'note taken off'}", trial.id)

    def note_values(self, notes: tuple[ValueNote, ...]) -> str:
        """Keep notes on values of the rig."""
        rig, said = self._at.rig, []
        for note in notes:
            key = self._at.store.sheets.note(rig.name, note, self._clock)
            self._at.undoing.push(f"note on {rig.knob(note.knob).label}", partial(self._at.store.sheets.drop_note, key))
            said.append(f"noted on {rig.knob(note.knob).label} {rig.knob(note.knob).show(note.value)}")
        return said[0] if len(said) == 1 else ""

    def settle(self, note_id: int, dropped: bool = False) -> str:
        """A note needs no coming back to any more: it was done, or is dropped."""
        self._at.store.sheets.settle(note_id)
        if dropped:
            self._at.log("notes", f"follow-up {note_id} dropped")
        self._at.undoing.push("a note settled", lambda: self._at.store.sheets.settle(note_id, False))
        return "dropped" if dropped else "settled"

    def save_setpoint(self, name: str, setpoint: Setpoint, text: str = "") -> str:
        """Keep a setpoint of the rig under a name.

        Raises:
            Refused: a name that is taken or is none.
        """
        rig, sheets = self._at.rig.name, self._at.store.sheets
        sheets.save(rig, name, setpoint, text, self._clock)
        self._at.undoing.push(f"setpoint saved as {name.strip()}", lambda: sheets.drop(rig, name.strip()))
        return f"saved as {name.strip()}"
