"""The Night picture: the legs of a route, what each cost and what it gained, and what the morning finds."""

from dataclasses import dataclass

from tenaz.core.base.outcomes import Outcome, Verdict
from tenaz.search.night.ground import Aim


@dataclass(frozen=True, slots=True)
class LegDrawn:
    """One leg: what it is called, the hours that it took and might take, the part of the score that it is expected to
    have gained, its trials (number and end), what it moved in words, why it ended; ``now``: it goes on.
    """

    name: str
    hours: float
    budget_h: float
    gained: float
    trials: tuple[tuple[int, Outcome], ...]
    moved: tuple[str, ...]
    why: str
    now: bool = False

    @property
    def failed(self) -> int:
        """Trials that failed."""
        return sum(outcome.verdict is Verdict.FAIL for _, outcome in self.trials)


@dataclass(frozen=True, slots=True)
class NightPicture:
    """``to_come`` are legs that have not begun. ``over``: nothing more is proposed; ``proven``: what it ended at was
    shown to be what the purpose asks. ``words`` say where it stands; ``shown`` is what the proof's loads have come to
    (kind, hours, hours asked), ``measured`` what was measured before and after in words.
    """

    rig: str
    purpose: str
    legs: tuple[LegDrawn, ...]
    to_come: tuple[str, ...]
    over: bool
    proven: bool
    words: str
    shown: tuple[tuple[str, float, float], ...]
    measured: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()
    """Legs that there were no hours for."""
    safe: str = ""
    """How safe where it has come to is, in words."""
    door: str = ""
    """Through which door of the rig's own it was set; empty: by a hand, or on a simulated rig."""
    quiet: bool = False
    """Whether heat is saved instead of speed gained."""

    @property
    def hours(self) -> float:
        """Spent so far."""
        return sum(leg.hours for leg in self.legs)

    @property
    def gained(self) -> float:
        """Of the score, as far as is expected."""
        return sum(leg.gained for leg in self.legs)

    @property
    def expected(self) -> str:
        """The gain in words."""
        return (Aim.QUIET if self.quiet else Aim.FAST).gained(self.gained)

    @property
    def trials(self) -> int:
        """Made for it."""
        return sum(len(leg.trials) for leg in self.legs)

    @property
    def failed(self) -> int:
        """Of its trials those that failed."""
        return sum(leg.failed for leg in self.legs)


def morning(picture: NightPicture) -> tuple[tuple[str, str], ...]:
    """What the morning asks: what was gained, what failed, what is shown, what is left; each as a word and a line."""
    hours = f"{picture.hours:.1f} h and {picture.trials} trial{'s' if picture.trials != 1 else ''}"
    gained = [f"about {picture.expected} expected, in {hours}", *picture.measured]
    beyond = [f"{leg.name} {leg.failed}" for leg in picture.legs if leg.failed]
    trials = f"{picture.failed} trial{'s' if picture.failed != 1 else ''}"
    failed = f"{trials}, beyond where it stands: {', '.join(beyond)}" if beyond else "nothing"
    told = [f"{kind} {min(hours, asked):.3g} of {asked:.3g} h" for kind, hours, asked in picture.shown]
    shown = f"{', '.join(told) or 'nothing yet'}, as its purpose asks: {picture.purpose}"
    if picture.over and not picture.proven:
        left = picture.words
    elif picture.over:
        short = f"{', '.join(picture.left_out)}: the night was too short for them"
        left = short if picture.left_out else "nothing"
    else:
        left = f"{', '.join(picture.to_come)}, then the proof" if picture.to_come else "the proof"
    found = [("gained", "; ".join(gained)), ("failed", failed), ("tested", shown)]
    found += [("verdict", picture.safe)] if picture.safe and picture.over else []
    found += [("set", f"without hands, through {picture.door}")] if picture.door else []
    found.append(("left", left))
    return tuple(found)
