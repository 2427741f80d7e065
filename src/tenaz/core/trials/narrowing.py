"""What a book can tell of words by itself, so that of a large one little need be read: what must be so of a trial that
is looked for. It never leaves out what the words fit; more may come, and is looked at one by one.
"""

import re
from dataclasses import dataclass, replace
from datetime import date

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.loads.kinds import LoadKind
from tenaz.core.trials.trial import Trial

PLAIN = re.compile(r"[a-z0-9 .:/+-]+")
"""Words that a database compares as we do, whatever its language."""


@dataclass(frozen=True, slots=True)
class Narrow:
    """All must be so: one of these ``outcomes`` (None: any, or none yet), this ``number``, begun from one day to
    another (either may be open), loads of these ``kinds``, a note, each of ``texts`` somewhere in what is written.
    """

    outcomes: frozenset[Outcome] | None = None
    number: int | None = None
    first: date | None = None
    last: date | None = None
    kinds: frozenset[LoadKind] = frozenset()
    noted: bool = False
    texts: tuple[str, ...] = ()

    def of(self, outcomes: frozenset[Outcome]) -> "Narrow":
        """One of these outcomes too."""
        return replace(self, outcomes=outcomes if self.outcomes is None else self.outcomes & outcomes)

    def between(self, first: date | None, last: date | None) -> "Narrow":
        """Begun between these days too."""
        later = max((day for day in (self.first, first) if day is not None), default=None)
        earlier = min((day for day in (self.last, last) if day is not None), default=None)
        return replace(self, first=later, last=earlier)

    def fits(self, trial: Trial) -> bool:
        """Whether outcome, number, loads and note are so; the day and what is written are looked at apart."""
        return (
            (self.outcomes is None or trial.outcome in self.outcomes)
            and self.number in (None, trial.number)
            and self.kinds <= set(trial.plan.kinds)
            and (bool(trial.note) or not self.noted)
        )


VERDICTS = {
    "passed": Verdict.PASS, "pass": Verdict.PASS, "failed": Verdict.FAIL, "fail": Verdict.FAIL,
    "void": Verdict.VOID, "uncounted": Verdict.VOID,
}  # fmt: skip


def with_word(narrow: Narrow, low: str) -> Narrow:
    """A word in small letters narrows further, where it is one of those that a book can tell."""
    if low in VERDICTS:
        return narrow.of(frozenset(one for one in Outcome if one.verdict is VERDICTS[low]))
    if low.replace("-", " ") in tuple(Outcome):
        return narrow.of(frozenset((Outcome(low.replace("-", " ")),)))
    if low in tuple(LoadKind):
        return replace(narrow, kinds=narrow.kinds | {LoadKind(low)})
    if found := re.fullmatch(r"#(\d{1,9})", low):
        return replace(narrow, number=int(found[1]))
    return replace(narrow, noted=True) if low == "noted" else narrow


def with_text(narrow: Narrow, low: str) -> Narrow:
    """Words that are looked for in what is written, where a database compares them as we do."""
    return replace(narrow, texts=(*narrow.texts, low)) if PLAIN.fullmatch(low) else narrow
