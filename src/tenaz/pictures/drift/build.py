"""The Drift picture of a rig, from its trials of all times."""

from collections import Counter
from collections.abc import Iterable, Sequence

from tenaz.core.knobs.knob import Knob
from tenaz.core.knobs.setpoint import Auto, Setpoint
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.rigs.rig import Rig
from tenaz.core.searches.search import facts_of
from tenaz.core.trials.along import lines_of, on_line
from tenaz.core.trials.epochs import Epoch, epochs_of
from tenaz.core.trials.trial import Trial
from tenaz.margins.drift import moved_between
from tenaz.margins.judging import Judgement, judge
from tenaz.margins.priors import prior_for
from tenaz.pictures.drift.model import DriftPicture, DriftRow

ONE_TIME = (
    "All was tried in one time. An edge is compared with itself when the same values are tried again: after a month or "
    "more, on other parts, or under another firmware."
)
NOT_THE_SAME = "There are several times, but no knob was tried along the same line in two of them."


def drift_picture(
    rig: Rig, trials: Iterable[Trial], in_force: Setpoint, elsewhere: tuple[str, Sequence[Trial]] | None = None
) -> DriftPicture:
    """Of every knob the line that was tried in the newest time and in an earlier one, then against now; or what was
    tried ``elsewhere``, on another rig by its name, against here.
    """
    epochs = epochs_of(trials)
    if elsewhere is not None:
        name, others = elsewhere
        told = [one for one in others if one.outcome is not None]
        epochs = (Epoch(tuple(told), f"on {name}"), *epochs[-1:]) if told else epochs[-1:]
    labels = tuple(epoch.label for epoch in epochs)
    if len(epochs) < 2:
        return DriftPicture(rig.name, (), labels, ONE_TIME)
    rows = [row for knob in rig.knobs if (row := _row(rig, knob, epochs, in_force)) is not None]
    rows.sort(key=lambda row: -row.moved.differs)
    return DriftPicture(rig.name, tuple(rows), labels, "" if rows else NOT_THE_SAME)


def _row(rig: Rig, knob: Knob, epochs: Sequence[Epoch], in_force: Setpoint) -> DriftRow | None:
    now = epochs[-1]
    for then in epochs[:-1]:
        shared = lines_of(then.trials, knob) & lines_of(now.trials, knob)
        # The line that most was tried along tells most.
        for key, _ in shared.most_common():
            pair = [tuple(t for t in epoch.trials if on_line(t, knob, key)) for epoch in (then, now)]
            kind = _kind(pair)
            judged = None if kind is None else [_judged(rig, knob, some, kind) for some in pair]
            if kind is None or judged is None or judged[0] is None or judged[1] is None:
                continue
            before, after = judged[0], judged[1]
            moved = moved_between(before.posterior, after.posterior, kind, prior_for(knob))
            value = in_force[knob.name]
            through = in_force.line_key(knob.name) == key
            in_use = value if through and not isinstance(value, Auto) else None
            return DriftRow(
                knob, kind, then.label, now.label, before.edge, after.edge, moved,
                tuple(t.number for t in pair[0]), tuple(t.number for t in pair[1]), in_use,
            )  # fmt: skip
    return None


def _kind(pair: Sequence[Sequence[Trial]]) -> LoadKind | None:
    """The kind of load that ran most in both."""
    both = [Counter(kind for trial in some for kind in trial.plan.kinds) for some in pair]
    shared = both[0] & both[1]
    return shared.most_common(1)[0][0] if shared else None


def _judged(rig: Rig, knob: Knob, trials: Sequence[Trial], kind: LoadKind) -> Judgement | None:
    # A line on which nothing was moved tells of one value only, and its edge would be all prior.
    if len({trial.setpoint[knob.name] for trial in trials}) < 2:
        return None
    return judge(knob, rig.purpose, [facts_of(trial) for trial in trials], kind)
