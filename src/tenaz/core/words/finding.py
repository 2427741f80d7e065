"""Finding what a word means: ours or the trade's, spelled as it may be; where nothing is meant, what is near."""

from collections.abc import Iterable
from dataclasses import dataclass
from difflib import SequenceMatcher
from functools import cache

from tenaz.core.words.actions import ACTIONS, ACTS
from tenaz.core.words.knobs import KNOBS
from tenaz.core.words.loads import LOADS, OUTCOMES, SYMPTOMS
from tenaz.core.words.things import THINGS
from tenaz.core.words.word import About, Word, bare

ALL = (*KNOBS, *LOADS, *OUTCOMES, *SYMPTOMS, *ACTIONS, *ACTS, *THINGS)
NEAR = 0.72
"""How alike two spellings are that one may be a slip of the other."""
MOST = 8
PART = 0.9
"""How well a text fits that is a part of a spelling, at least."""
LEAST_PART = 3
"""Letters of a part of a word that is looked for within words."""


@dataclass(frozen=True, slots=True)
class Meant:
    """A word that was found, and how well it fits: 1 is what was typed."""

    word: Word
    fits: float

    @property
    def called(self) -> bool:
        """Whether it is called so, or what was typed is a part of that: not only near it."""
        return self.fits >= PART


def find(text: str, among: Iterable[Word] = ALL) -> tuple[Meant, ...]:
    """The words that a text can mean, the likeliest first; those that are only near it where none fits. Empty: nothing
    is near.
    """
    wanted = bare(text[:80])
    if not wanted:
        return ()
    found = [Meant(word, fits) for word in among if (fits := _fits(wanted, word)) >= NEAR]
    found.sort(key=lambda one: -one.fits)
    return tuple(([one for one in found if one.called] or found)[:MOST])


def _fits(wanted: str, word: Word) -> float:
    best = 0.0
    for one in word.spellings:
        if one == wanted:
            return 1.0
        if len(wanted) >= LEAST_PART and wanted in one:
            best = max(best, PART + 0.09 * len(wanted) / len(one))
        elif len(wanted) > LEAST_PART and abs(len(one) - len(wanted)) <= len(wanted) // 2:
            best = max(best, min(0.89, SequenceMatcher(None, wanted, one).ratio()))
    return best


@cache
def _by_spelling(about: About) -> dict[str, tuple[str, ...]]:
    found: dict[str, tuple[str, ...]] = {}
    for word in ALL:
        if word.about is about:
            for one in word.spellings:
                found[one] = (*found.get(one, ()), word.name)
    return found


def names_for(about: About, text: str) -> tuple[str, ...]:
    """The names of what a text is called so, exactly; of some kind of thing."""
    return _by_spelling(about).get(bare(text[:80]), ())


@cache
def phrases(about: About) -> tuple[tuple[str, str], ...]:
    """What things of some kind are called, in words, each with the name that it stands for; the longest first."""
    pairs = {
        one.lower(): word.name for word in ALL if word.about is about for one in (*word.trade, word.ours, word.name)
    }
    return tuple(sorted(pairs.items(), key=lambda pair: (-len(pair[0]), pair[0])))


def near_it(text: str, about: About) -> str:
    """What is near a text that means nothing, to stand behind a refusal: `` Near it: march, copy.``; or empty."""
    near = find(text, (word for word in ALL if word.about is about))
    return f" Near it: {', '.join(dict.fromkeys(one.word.ours for one in near))}." if near else ""
