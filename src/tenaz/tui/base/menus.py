"""The map of all that can be done: a few menus, each entry with a letter, made of the commands."""

from collections.abc import Iterable
from dataclasses import dataclass

from tenaz.tui.base.commands import COMMANDS


@dataclass(frozen=True, slots=True)
class Entry:
    """One line of a menu: its letter, what it does as a sentence, its action with arguments, and its own key."""

    letter: str
    words: str
    action: str
    arguments: tuple[object, ...] = ()
    key: str = ""


@dataclass(frozen=True, slots=True)
class Menu:
    """A menu: its letter, its name, what lies behind it, and its commands by letter."""

    letter: str
    name: str
    about: str
    commands: tuple[tuple[str, str], ...]

    def entries(self) -> tuple[Entry, ...]:
        """Its lines, with the keys as they are set now."""
        found, commands = [], {command.action: command for command in COMMANDS}
        for letter, action in self.commands:
            if action.startswith(PAGE):
                page = action.removeprefix(PAGE)
                found.append(Entry(letter, f"show {page}", "show_page", (page,)))
            else:
                command = commands[action]
                found.append(Entry(letter, command.help, action, (), command.shown))
        return tuple(found)


PAGE = "page "
"""Before the name of a page that is shown."""


def _menu(letter: str, name: str, about: str, **commands: str) -> Menu:
    return Menu(letter, name, about, tuple(commands.items()))


MENUS = (
    _menu(
        "d", "dial", "values: typed, taken back, rescaled, saved, noted on",
        v="type_value", f="find_knob", k="keep_in_force", s="dial_stock", r="carry_sheet", p="dial_profile",
        w="save_setpoint", o="restore_setpoint", c="compare_next", d="show_differing", t="note_value",
        x="settle_note", g="correct_grid",
    ),
    _menu(
        "a", "automatic", "loads and trials: one, in turn, a climb, two knobs, a night, the plan",
        l="choose_load", t="start_trial", r="run_routine", c="climb", s="choose_strategy", e="end_climb",
        f="begin_field", n="begin_night", p="put_on_plan", g="run_plan", d="skip_planned", x="stop_run",
    ),
    _menu(
        "r", "rig", "which rig, what it is, what is wrong with it, work on its parts",
        l="choose_rig", n="new_rig", e="edit_rig", i="take_in", b="next_bench", f="page find", w="work_on_parts",
        p="label_part", s="tick_symptom", c="write_claim", u="show_stick",
    ),
    _menu(
        "b", "book", "trials: looked for, corrected, entered, noted on, taken back",
        l="search_book", e="enter_past", c="correct_trial", n="note_trial", m="mark_trial", h="look_back",
        f="show_follow_ups", u="undo", r="redo",
    ),
    _menu("m", "measure", "how fast it is, and what a step gained", m="measure", a="tell_against"),
    _menu("o", "output", "pictures, sheets, reports", x="export_page", r="make_report"),
    _menu(
        "p", "page", "what is in sight",
        d="page day", t="page tune", m="page margins", s="page sheet", i="page timings", l="page load",
        e="page errors", f="page find", g="page field", n="page night", o="page memory", c="page scores",
        p="page plan", b="page book", r="page rig", a="page alike", w="next_page", h="filter_lines", x="fold",
    ),
    _menu(
        "e", "settings", "how it looks, how fast simulated time passes, all keys",
        s="edit_settings", t="theme", p="next_pace", k="help", q="quit",
    ),
)  # fmt: skip

NO_MENU = (
    "tick_line",
    "untick_line",
    "follow_next",
    "show_menu",
    "find_anything",
    "page_back",
    "show_day",
    "show_find",
)
"""Commands that stand in no menu: keys of what is in sight, and pages that somebody has set a key for."""

PATH = "›"
"""Between a menu's letter and its entry's."""


def menu_of(key: str, keys: Iterable[str]) -> "Menu | None":
    """The menu that a key opens; None where it opens none, or was set for something else."""
    return None if key in keys else next((menu for menu in MENUS if menu.letter == key), None)


def keys_of(action: str) -> str:
    """The keys of an action as they are shown: its own, else a menu's letter and its entry's."""
    own = next((command.shown for command in COMMANDS if command.action == action and command.key), "")
    return own or path_of(action)


def path_of(action: str) -> str:
    """The menu's letter and the entry's; empty for what stands in none."""
    return next(
        (f"{menu.letter}{PATH}{letter}" for menu in MENUS for letter, one in menu.commands if one == action), ""
    )
