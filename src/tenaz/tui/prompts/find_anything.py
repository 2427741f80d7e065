"""One line that finds all there is: knobs, pages, actions, rigs, loads, trials, words; by ours and the trade's."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from tenaz.core.base.errors import Refused
from tenaz.core.words.finding import ALL, PART, find
from tenaz.core.words.word import About, Word, bare
from tenaz.tui.base.commands import COMMANDS
from tenaz.tui.base.menus import NO_MENU, keys_of, path_of
from tenaz.tui.pages.strip import BY_NAME
from tenaz.tui.screens.picks import Pick
from tenaz.tui.screens.prompt import Prompt

if TYPE_CHECKING:
    from tenaz.tui.session.workspace import Workspace

Do = tuple[str, tuple[object, ...]]
"""A command, and what it is given."""

NEWEST_TRIALS = 20
LEAST = 0.5
"""How well a thing must fit; once one is called so, those that hardly do are left out."""


@dataclass(frozen=True, slots=True)
class Thing:
    """One that can be found: its name, what Enter does with it, what it is; ``word`` is what it is also called."""

    name: str
    does: str
    about: str
    do: Do
    word: Word | None = None
    why_not: str = ""

    def pick(self) -> Pick:
        """As a line of the list."""
        return Pick(self.name, self.why_not or self.does, self.about)


def things_of(work: "Workspace", why_not: Callable[[str], str]) -> tuple[Thing, ...]:
    """All that there is now."""
    words = {(word.about, word.name): word for word in ALL}
    rig, dialled = work.view.rig, work.dial.setpoint
    found = [*_actions(words, why_not)]
    for name, page in BY_NAME.items():
        word = words.get((About.ACTION, f"page {name}"))
        called, keys = word.ours if word else f"page {name}", path_of(f"page {name}")
        found.append(Thing(called, f"{keys}: shows the page", page.help.shows, ("show_page", (name,)), word))
    for knob in rig.knobs:
        word = words.get((About.KNOB, knob.name))
        does = f"takes it in hand, now {knob.show(dialled[knob.name])}"
        found.append(Thing(knob.label, does, word.means if word else knob.affects, ("take_named", (knob.name,)), word))
    for word in ALL:
        if word.about is About.LOAD:
            load = ("take_load", (word.name,))
            found.append(Thing(f"load {word.ours}", "is the next load", word.means, load, word, why_not("take_load")))
        elif word.about in (About.OUTCOME, About.SYMPTOM):
            found.append(Thing(f"word {word.ours}", "says what it is", word.means, ("tell_word", (word.means,)), word))
    for name in work.view.book.rigs:
        found.append(Thing(f"rig {name}", "works on it", "", ("take_rig", (name,)), why_not=why_not("take_rig")))
    for saved in work.view.kept.saved:
        found.append(Thing(f"setpoint {saved.name}", "dials it", "", ("restore_named", (saved.name,))))
    for trial in reversed(work.view.trials[-NEWEST_TRIALS:]):
        found.append(_trial(trial.number, str(trial.outcome or "open")))
    return tuple(found)


def _trial(number: int, about: str) -> Thing:
    return Thing(f"trial {number}", "opens it in the book", about, ("open_trial", (number,)))


def _actions(words: dict[tuple[About, str], Word], why_not: Callable[[str], str]) -> list[Thing]:
    found = []
    for command in COMMANDS:
        if command.by_name and command.action not in NO_MENU:
            word = words.get((About.ACTION, command.action))
            name = word.ours if word else command.help
            key, why = f"{keys_of(command.action)}: {command.help}", why_not(command.action)
            found.append(Thing(name, key, command.help, (command.action, ()), word, f"not now: {why}" if why else ""))
    return found


def fitting(things: Sequence[Thing], typed: str) -> tuple[Thing, ...]:
    """Those that a text can mean, the likeliest first; what is near where none is meant."""
    wanted = bare(typed)
    if not wanted:
        return tuple(things)
    meant = {(one.word.about, one.word.name): one.fits for one in find(typed)}
    scored = [(_fits(thing, wanted, meant), thing) for thing in things]
    most = max((fits for fits, _ in scored), default=0.0)
    least = PART if most >= PART else LEAST
    best = sorted((pair for pair in scored if pair[0] >= least), key=lambda pair: -pair[0])
    return tuple(thing for _, thing in best)


def _fits(thing: Thing, wanted: str, meant: dict[tuple[About, str], float]) -> float:
    name, behind = bare(thing.name), bare(thing.name.partition(" ")[2])
    by_word = meant.get((thing.word.about, thing.word.name), 0.0) if thing.word else 0.0
    if wanted in (name, behind):
        return 1.0
    if name.startswith(wanted) or behind.startswith(wanted):
        return max(by_word, 0.95)
    if wanted in name:
        return max(by_word, PART)
    return max(by_word, 0.6 if wanted in bare(thing.does + thing.about) else 0.0)


def the_one(things: Sequence[Thing], typed: str) -> Thing:
    """What is called so; a trial by its number, however long ago it was.

    Raises:
        Refused: nothing is, or what is makes no sense now.
    """
    called, _, number = typed.strip().rpartition(" ")
    thing = next((one for one in things if one.name == typed.strip()), None)
    if thing is None and called in ("trial", "") and number.lstrip("#").isdecimal() and len(number) < 9:
        thing = _trial(int(number.lstrip("#")), "")
    if thing is None:
        near = ", ".join(dict.fromkeys(one.word.ours for one in find(typed)))
        raise Refused(f"nothing here is called {typed.strip()[:40]!r}" + (f"; near it: {near}." if near else "."))
    if thing.why_not:
        raise Refused(thing.why_not)
    return thing


def anything_prompt(things: Sequence[Thing]) -> Prompt:
    """What is looked for: a name or a part of it, ours or the trade's."""
    by_pick = {thing.pick(): thing for thing in things}

    def narrow(picks: Sequence[Pick], typed: str) -> tuple[Pick, ...]:
        return tuple(thing.pick() for thing in fitting([by_pick[pick] for pick in picks], typed))

    return Prompt(
        "find anything",
        "a knob, page, action, rig, load, trial, setpoint, or a word of the trade; Enter does what stands beside it",
        "",
        lambda text: the_one(things, text),
        picks=list(by_pick),
        narrow=narrow,
    )
