"""What was seen of a trial, in one line: ``held 1h``, ``erred 12m 3 errors``, ``froze about 2h``, ``no boot``."""

import re
from dataclasses import dataclass

from tenaz.core.base.errors import Refused
from tenaz.core.base.limits import checked_line
from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.core.base.typed import parse_elapsed_s, told_beside
from tenaz.core.loads.plan import show_duration
from tenaz.core.trials.facts import TOLD, TOLD_AT_THE_WALL, TOLD_HOTTEST
from tenaz.core.trials.trial import Trial
from tenaz.core.words.finding import near_it, phrases
from tenaz.core.words.word import About

WORDS = {
    **{phrase: Outcome(name) for phrase, name in phrases(About.OUTCOME)},
    **{outcome.value: outcome for outcome in Outcome},
}
"""What people write for an outcome."""
_LONGEST_FIRST = sorted(WORDS, key=len, reverse=True)

TIMELESS = (Outcome.NO_BOOT, Outcome.LOST)
"""Outcomes to which no time under load belongs, or none that anybody knows."""

EXAMPLES = "held 1h 412 W · erred 12m 3 errors · froze about 2h · no boot"
MOST_ERRORS = 10**9


@dataclass(frozen=True, slots=True)
class SeenRecord:
    """How a trial ended, its time under load in seconds, and how many errors it had. ``about`` says that nobody looked
    at a clock; ``hottest_c`` is the highest temperature that somebody read off, ``code`` the stop code that was shown,
    ``wall_w`` what a meter at the wall showed.
    """

    outcome: Outcome
    elapsed_s: float = 0.0
    errors: int = 0
    about: bool = False
    hottest_c: float | None = None
    code: str = ""
    wall_w: float | None = None

    @property
    def failed_after_s(self) -> float | None:
        """The time to failure; None where it did not fail."""
        return self.elapsed_s if self.outcome.verdict is Verdict.FAIL else None

    def exact(self) -> str:
        """The line with its time to the hundredth of a second, for files."""
        words = self.show().split()
        if self.elapsed_s:
            words[words.index(show_duration(self.elapsed_s))] = f"{self.elapsed_s:.2f}s"
        return " ".join(words)

    def show(self) -> str:
        """The line that :func:`parse_record` reads as this."""
        words = [self.outcome.value]
        if self.elapsed_s:
            words.append(f"{'about ' if self.about else ''}{show_duration(self.elapsed_s)}")
        if self.errors:
            words.append(f"{self.errors} error{'s' if self.errors != 1 else ''}")
        if self.hottest_c is not None:
            words.append(f"{self.hottest_c:g}C")
        if self.wall_w is not None:
            words.append(f"{self.wall_w:g}W")
        if self.code:
            words.append(self.code)
        return " ".join(words)


def parse_record(text: str) -> SeenRecord:
    """Read what was seen.

    Raises:
        Refused: no outcome, a word that is not understood, or a time that cannot be.
    """
    left = " ".join(checked_line(text).lower().replace(",", " ").split())
    outcome = None
    for word in _LONGEST_FIRST:
        if re.match(rf"{re.escape(word)}\b", left):
            outcome, left = WORDS[word], left[len(word) :].strip()
            break
    if outcome is None:
        raise Refused(
            f"{text[:40]!r} names no outcome; begin with one of {', '.join(Outcome)}, like: {EXAMPLES}."
            + near_it(text[:40], About.OUTCOME)
        )
    errors, elapsed_s, about = (1 if outcome is Outcome.ERRED else 0), 0.0, False
    if found := re.search(r"\b(\d{1,12})\s+(errors?|wrong)\b", left):
        errors = min(MOST_ERRORS, int(found[1]))
        left = f"{left[: found.start()]} {left[found.end() :]}".strip()
    left, hottest_c, code, wall_w = told_beside(left)
    left = re.sub(r"^(after|for)\s+", "", left)
    if found := re.match(r"(about|~|around|some)\s*", left):
        about, left = True, left[found.end() :]
    if left:
        elapsed_s = parse_elapsed_s(left)
    if outcome is Outcome.HELD and elapsed_s <= 0:
        raise Refused("nothing can have held for no time at all; say how long it ran, like: held 1h.")
    if outcome in TIMELESS:
        elapsed_s = 0.0
    return SeenRecord(outcome, elapsed_s, errors, about, hottest_c, code, wall_w)


def record_of(trial: Trial) -> SeenRecord | None:
    """A trial's record as it could be typed; None where it has none."""
    if trial.outcome is None:
        return None
    told = {one.id: one.peak for one in trial.facts.sensors if one.id.startswith(TOLD)}
    hottest_c, wall_w = told.get(TOLD_HOTTEST), told.get(TOLD_AT_THE_WALL)
    return SeenRecord(trial.outcome, trial.clean_s, trial.errors, hottest_c=hottest_c, wall_w=wall_w)
