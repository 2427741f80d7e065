"""A rig's trials that count together, found by setpoint and by line without going over all of them."""

from collections.abc import Iterable, Iterator

from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.machine.parts_told import same_parts
from tenaz.core.trials.alike import Alike
from tenaz.core.trials.in_force import set_by, setpoint_in_force
from tenaz.core.trials.trial import Trial


class TrialIndex:
    """Trials in the order of their numbers, kept up to date one by one.

    ``fitted`` names the parts and the firmware of now: trials that ran on others are among ``trials`` and ``before``,
    and are found neither by setpoint nor by line. One thread writes, any may read: what is read is copied, and nothing
    that was found is ever taken away.
    """

    def __init__(self, trials: Iterable[Trial] = (), fitted: str = "") -> None:
        self.fitted = fitted
        self.cleared_after = 0
        """The number of the last trial before its firmware was cleared by hand: its values are in the rig no more."""
        self.alike = Alike()
        """What the workshop's rigs that are like this one have shown."""
        self.version = 0
        """Counts what was put in: what follows from the trials is known to stand while it is the same."""
        self._known_parts: dict[str, bool] = {}
        self._before: dict[int, Trial] = {}
        self._trials: list[Trial] = []
        self._place: dict[int, int] = {}
        self._at: dict[int, list[int]] = {}
        self._along: dict[str, dict[int, list[int]]] = {}
        """Keys of the setpoints on a line, by knob and line: far fewer than there are trials."""
        self._keys: dict[int, int] = {}
        for trial in trials:
            self.put(trial)

    def __len__(self) -> int:
        return len(self._trials)

    def put(self, trial: Trial) -> None:
        """Take a new trial, or a known one as it stands now."""
        self.version += 1
        place = self._place.get(trial.id)
        if place is None:
            place = len(self._trials)
            self._trials.append(trial)
            self._place[trial.id] = place
        else:
            self._trials[place] = trial
        if not self._same_parts(trial.fitted):
            self._before[trial.id] = trial
            return
        if self._keys.get(place) != trial.setpoint.key:
            # What was in force is known only once it was read: the trial is then found where it really ran.
            self._keys[place] = trial.setpoint.key
            if trial.setpoint.key not in self._at:
                for knob, line in trial.setpoint.line_keys():
                    self._along.setdefault(knob, {}).setdefault(line, []).append(trial.setpoint.key)
            self._at.setdefault(trial.setpoint.key, []).append(place)

    def _same_parts(self, fitted: str) -> bool:
        if fitted not in self._known_parts:
            self._known_parts[fitted] = same_parts(fitted, self.fitted)
        return self._known_parts[fitted]

    @property
    def trials(self) -> tuple[Trial, ...]:
        """All of them, oldest first."""
        return tuple(self._trials)

    @property
    def before(self) -> tuple[Trial, ...]:
        """Trials on other parts, or under another firmware."""
        return tuple(self._before.values())

    def latest(self, count: int) -> list[Trial]:
        """The newest ones, oldest first."""
        return self._trials[-count:]

    @property
    def newest(self) -> Trial | None:
        """The last one."""
        return self._trials[-1] if self._trials else None

    def one(self, trial_id: int) -> Trial | None:
        """A trial by its id."""
        place = self._place.get(trial_id)
        return None if place is None else self._trials[place]

    def at(self, setpoint: Setpoint) -> tuple[Trial, ...]:
        """Trials that ran at exactly this setpoint, oldest first."""
        found = (self._trials[place] for place in sorted(set(self._at.get(setpoint.key, ()))))
        return tuple(trial for trial in found if trial.setpoint == setpoint)

    def along(self, setpoint: Setpoint, knob: str) -> tuple[Trial, ...]:
        """Trials on the line through a setpoint: those that differ from it in this knob alone, or in nothing; the knob
        is a number in each. Oldest first.
        """
        return self._on_line(knob, setpoint.line_key(knob))

    def lines(self, knob: str) -> Iterator[tuple[Trial, ...]]:
        """Of each line of a knob on which more than one setpoint was tried, its trials, oldest first; the line worked
        on last comes first. Only those that are taken are put together.
        """
        known = ((key, tuple(on_it)) for key, on_it in tuple(self._along.get(knob, {}).items()))
        last = [(max(self._at[at][-1] for at in on_it), key) for key, on_it in known if len(on_it) > 1]
        for _, key in sorted(last, reverse=True):
            line = self._on_line(knob, key)
            if line:
                yield line

    def _on_line(self, knob: str, key: int) -> tuple[Trial, ...]:
        on_it = tuple(self._along.get(knob, {}).get(key, ()))
        places = {place for at in on_it for place in tuple(self._at.get(at, ()))}
        found = (self._trials[place] for place in sorted(places))
        return tuple(
            trial
            for trial in found
            if not isinstance(trial.setpoint[knob], Auto) and trial.setpoint.line_key(knob) == key
        )

    @property
    def set_by(self) -> Trial | None:
        """The trial whose values are in the rig now; None: those of stock are."""
        return set_by(self._since_cleared())

    def _since_cleared(self) -> list[Trial]:
        if not self.cleared_after:
            return self._trials
        return [one for one in self._trials if one.number > self.cleared_after]

    def in_force(self, stock: Setpoint) -> Setpoint:
        """What the rig was last set to; see :func:`tenaz.core.trials.in_force.setpoint_in_force`."""
        return setpoint_in_force(self._since_cleared(), stock)
