"""Every action, declared once: keys, footer, menus and help are all made from this list."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum


class Need(StrEnum):
    """What must be so for a command to make sense; see :mod:`tenaz.tui.session.needs` for how that is told."""

    IDLE = "nothing runs"
    RUNNING = "something runs"
    WRITABLE = "the book may be written"
    SIMULATED = "time can be paced"
    SEARCHING = "a climb is under way"
    TRIALS = "there are trials"
    PLANNED = "something is planned"
    CLIMBS = "the knob in hand was climbed"
    SAVED = "setpoints are saved"
    TYPING_IN = "values are being typed in"
    OPEN_NOTE = "the value in hand has an open note"
    DIFFERING = "a value read otherwise than asked"


STARTS = (Need.IDLE, Need.WRITABLE)
"""Of whatever begins or changes something in the book."""


@dataclass(frozen=True, slots=True)
class Command:
    """One action: its key as Textual names it (empty: it has none, and stands in a menu), how the key is shown, a word
    for the bar, a line for the help. ``pages`` are those on which its key acts; none named: on all.
    """

    action: str
    key: str
    shown: str
    word: str
    help: str
    needs: tuple[Need, ...] = STARTS
    group: str = "everywhere"
    of_app: bool = False
    usual: str | None = None
    """Its usual key where another one was set."""
    pages: tuple[str, ...] = ()

    @property
    def name(self) -> str:
        """What it is called where another key is set for it."""
        return self.action

    @property
    def usual_key(self) -> str:
        """Its key when nothing else was set."""
        return self.key if self.usual is None else self.usual

    @property
    def binding(self) -> str:
        """The action as Textual runs it: the session's orders, or one of the application itself."""
        if self.of_app:
            return self.action
        name, _, argument = self.action.partition("(")
        return f"order('{name}'{f', {argument}' if argument else ')'}"

    @property
    def order(self) -> tuple[str, tuple[int, ...]]:
        """The name of what it does, and by how much where it steps."""
        name, _, argument = self.action.partition("(")
        return name, (int(argument.rstrip(")")),) if argument else ()

    @property
    def by_name(self) -> bool:
        """Whether it can be found by name; steps to and fro are for keys only."""
        return "(" not in self.action

    def acts_on(self, page: str) -> bool:
        """Whether its key acts where this page is in sight."""
        return not self.pages or page in self.pages


WITHOUT_KEY = ("show_page", "take_named", "take_load", "take_rig", "restore_named", "open_trial", "tell_word")
"""Actions that what is found by its name does."""

DIALS = ("tune", "sheet", "timings", "field")
"""Pages on which arrows take knobs in hand and dial them."""
POINTS = ("day", "load", "errors", "find", "plan", "book")
"""Pages on which arrows up and down point at what is listed."""
SCROLLS = ("margins", "scores", "rig", "find")
"""Pages of which there can be more than fits."""
_LEFT_RIGHT = {-1: ("left", "←"), 1: ("right", "→"), -5: ("shift+left", "⇧←"), 5: ("shift+right", "⇧→")}


def _menu(action: str, help: str, *needs: Need) -> Command:
    """A command that stands in a menu and has no key of its own."""
    return Command(action, "", "", "", help, needs, "in menus")


def _on(pages: Sequence[str], action: str, key: str, shown: str, word: str, help: str, *needs: Need) -> Command:
    """A key of some pages, that acts only there."""
    return Command(action, key, shown, word, help, needs, "on pages", pages=tuple(pages))


_USUAL = (
    _on(DIALS, "select_knob(-1)", "up", "↑", "knob", "take the knob above in hand"),
    _on(DIALS, "select_knob(1)", "down", "↓", "knob", "take the knob below in hand"),
    _on(DIALS, "turn_knob(-1)", "left", "←", "dial", "dial one step down"),
    _on(DIALS, "turn_knob(1)", "right", "→", "dial", "dial one step up"),
    _on(DIALS, "turn_knob(-5)", "shift+left", "⇧←", "five steps", "dial five steps down"),
    _on(DIALS, "turn_knob(5)", "shift+right", "⇧→", "five steps", "dial five steps up"),
    _on(DIALS, "turn_group(-1)", "pageup", "PgUp", "group", "the group of knobs before: a page of the firmware"),
    _on(DIALS, "turn_group(1)", "pagedown", "PgDn", "group", "the next group of knobs"),
    _on(("tune",), "point_at(-1)", "left_square_bracket", "[", "trial", "point at the trial before", Need.TRIALS),
    _on(("tune",), "point_at(1)", "right_square_bracket", "]", "trial", "point at the trial after", Need.TRIALS),
    _on(
        ("sheet", "timings"),
        "compare_next",
        "equals_sign",
        "=",
        "compare",
        "compare with the next saved setpoint",
        Need.SAVED,
    ),
    _on(("sheet",), "tick_line", "space", "␣", "tick", "tick the next line that is typed in", Need.TYPING_IN),
    _on(("sheet",), "untick_line", "backspace", "⌫", "untick", "take the last tick back"),
    _on(POINTS, "point_up(1)", "up", "↑", "point", "point at what stands above"),
    _on(POINTS, "point_up(-1)", "down", "↓", "point", "point at what stands below"),
    _on(("book",), "point_up(10)", "pageup", "PgUp", "ten", "point ten further up"),
    _on(("book",), "point_up(-10)", "pagedown", "PgDn", "ten", "point ten further down"),
    _on(("load",), "move_time(-1)", "left", "←", "time", "time cursor back"),
    _on(("load",), "move_time(1)", "right", "→", "time", "time cursor on"),
    _on(("load",), "zoom_time(50)", "plus", "+", "zoom", "show half the time"),
    _on(("load",), "zoom_time(200)", "minus", "-", "zoom", "show twice the time"),
    _on(("margins", "scores", "rig"), "move_time(-1)", "up", "↑", "scroll", "show what lies above"),
    _on(("margins", "scores", "rig"), "move_time(1)", "down", "↓", "scroll", "show what lies below"),
    _on(SCROLLS, "move_time(-5)", "pageup", "PgUp", "scroll", "show what lies further above"),
    _on(SCROLLS, "move_time(5)", "pagedown", "PgDn", "scroll", "show what lies further below"),
    _on(
        ("plan",),
        "move_planned(-1)",
        "less_than_sign",
        "<",
        "earlier, later",
        "the trial pointed at: earlier",
        Need.PLANNED,
    ),
    _on(
        ("plan",),
        "move_planned(1)",
        "greater_than_sign",
        ">",
        "earlier, later",
        "the trial pointed at: later",
        Need.PLANNED,
    ),
    _on(
        ("plan",),
        "skip_planned",
        "delete",
        "Del",
        "skip",
        "the planned trial pointed at: skip it",
        Need.WRITABLE,
        Need.PLANNED,
    ),
    Command("follow_next", "enter", "⏎", "", "do what the line next says"),
    Command("start_trial", "t", "t", "trial", "start one trial at the dialled values"),
    Command("climb", "c", "c", "climb", "begin a climb along the knob in hand, or go on with the one begun"),
    Command("stop_run", "s", "s", "stop", "stop what runs; it is recorded as stopped by hand", (Need.RUNNING,)),
    Command("undo", "u", "u", "undo", "take back what you did last, step by step: dialled, noted, recorded …", ()),
    Command("redo", "ctrl+y", "^y", "", "do again what was taken back last", ()),
    Command(
        "find_anything", "slash", "/", "find", "find anything: knobs, pages, actions, rigs, loads, trials, words", ()
    ),
    Command("show_menu", "semicolon", ";", "menus", "all that can be done, in menus", ()),
    Command("next_page", "tab", "⇥", "next page", "the next page", ()),
    Command("next_page(-1)", "shift+tab", "⇧⇥", "", "the page before", ()),
    Command("fold", "f6", "F6", "panel", "the next panel of a small screen", (), of_app=True),
    Command("page_back", "escape", "Esc", "", "what was complained of was read; else back to the page before", ()),
    Command("help", "question_mark", "?", "help", "what the page in sight shows, and all keys", (), of_app=True),
    Command("quit", "q", "q", "quit", "leave; asks while something runs", (), of_app=True),
    _menu("find_knob", "take a knob in hand by its name"),
    _menu("type_value", "type a value for the knob in hand (or just type its digits), or a whole line"),
    _menu("keep_in_force", "dial everything back to what is set now"),
    _menu("dial_stock", "dial everything to stock"),
    _menu("carry_sheet", "rescale the whole sheet to another data rate, times kept"),
    _menu("show_differing", "the sheet: all lines, or only those that differ"),
    _menu("note_value", "note on the value in hand: floor, loose, inert …", Need.WRITABLE),
    _menu("settle_note", "the note on the value in hand is followed up", Need.WRITABLE, Need.OPEN_NOTE),
    _menu("save_setpoint", "save what is dialled under a name", Need.WRITABLE),
    _menu("dial_profile", "a memory profile: one that the modules store, or as their label says"),
    _menu("restore_setpoint", "dial a saved setpoint, or one from a file"),
    _menu(
        "correct_grid", "take the value that the firmware made another of off its knob's grid", *STARTS, Need.DIFFERING
    ),
    _menu("run_routine", "loads in turn at the dialled values, composed in place", *STARTS),
    _menu("end_climb", "end the climb under way; its trials stay", *STARTS, Need.SEARCHING),
    _menu("measure", "measure how fast it is, or type a figure of your own", *STARTS),
    _menu("begin_field", "a field over two knobs: which pairs hold; or go on with it", *STARTS),
    _menu("begin_night", "a night: the whole rig tuned alone, from stock; or go on with it", *STARTS),
    _menu("tell_against", "scores: tell them against another setpoint"),
    _menu("choose_load", "choose the load of the next trial or climb"),
    _menu("choose_strategy", "choose how climbs search: adapt, stride, halve, retreat, hold", *STARTS),
    _menu("next_pace", "how fast simulated time passes", Need.SIMULATED),
    _menu("work_on_parts", "work on the parts: modules, cores, cooler, supply", *STARTS),
    _menu("label_part", "a label on the part pointed at: good, bad, suspect …", Need.WRITABLE),
    _menu("tick_symptom", "tick what was noticed of the rig", Need.WRITABLE),
    _menu("write_claim", "write what to order or claim, of the part pointed at or likeliest"),
    _menu("next_bench", "reach the rig another way", Need.IDLE),
    _menu("choose_rig", "the list of rigs: whose, what for, where it stands; what runs goes on"),
    _menu("take_in", "fill the rig in anew from this machine (bench here), or across its wire", *STARTS),
    _menu("edit_rig", "fill in by hand what is known of the rig, its purpose and ceilings", *STARTS),
    _menu("new_rig", "add a rig to the book by hand", *STARTS),
    _menu("filter_lines", "show only log lines and sensors that hold a text"),
    _menu("put_on_plan", "put the dialled values, or the climb under way, on the plan", Need.WRITABLE),
    _menu("run_plan", "make all that is planned, by itself", *STARTS, Need.PLANNED),
    _menu("search_book", "look for trials by rig, knob, value, outcome, date, note"),
    _menu("mark_trial", "compare other trials with the opened one"),
    _menu("correct_trial", "correct how the trial pointed at ended, or what it ran at", *STARTS),
    _menu("enter_past", "enter trials made elsewhere or before: a line, or a whole file", *STARTS),
    _menu("look_back", "look at a climb of before along the knob in hand", Need.CLIMBS),
    _menu("note_trial", "put a note on the trial pointed at", Need.WRITABLE, Need.TRIALS),
    _menu("export_page", "write what the page shows: pictures as SVG or PDF, the sheet also as TOML, CSV or text"),
    _menu("show_follow_ups", "what is to be come back to, on all rigs: done or dropped from there"),
    _menu("make_report", "the report: a page for the client, or all of it for the archive", Need.IDLE),
    _menu("show_stick", "the stick: make one; aboard it, its standing order, restart, off"),
    _menu("edit_settings", "settings: how it looks, what is usual, who is told, which keys"),
    _menu("show_day", "show day"),
    _menu("show_find", "show find"),
    Command("theme", "", "", "", "dark or light", (), "in menus", of_app=True),
)

COMMANDS = list(_USUAL)
"""All of them, with their keys as they are now."""

BY_ACTION = {command.action.partition("(")[0]: command for command in COMMANDS}
"""One command an action; those that differ only in how far they step have the same needs."""

LOOKS = (
    "select_knob", "point_at", "point_up", "move_time", "zoom_time", "tick_line", "untick_line", "next_page",
    "page_back", "fold", "help", "stop_run", "quit",
)  # fmt: skip
"""What can be done while a question stands: nothing but looking, ticking what was typed in, stopping and leaving."""


def command_of(key: str, page: str) -> Command | None:
    """The command of a key where this page is in sight; its own come before those that act everywhere."""
    found = [one for one in COMMANDS if one.key == key and one.acts_on(page)]
    return max(found, key=lambda one: bool(one.pages), default=None)


def foot_of(page: str) -> tuple[tuple[str, str], ...]:
    """The keys of a page, those to and fro together, with a word for each pair."""
    found: dict[str, list[str]] = {}
    for one in COMMANDS:
        if one.pages and page in one.pages and one.key:
            found.setdefault(one.word, []).append(one.shown)
    return tuple((" ".join(keys), word) for word, keys in found.items())


FIXED = ("follow_next", "fold", "page_back")
"""Commands whose keys mean something in every line that is typed, or in every program."""

FORMER = {
    "turn_canvas": "next_page", "export_canvas": "export_page", "undo_record": "undo", "dial_back": "undo",
    "dial_forth": "redo",
}  # fmt: skip
"""What commands were called in settings that were written before."""


def rebindable() -> list[Command]:
    """Commands that may have another key: those without steps, and not those whose keys also belong to typing."""
    return [command for command in COMMANDS if "(" not in command.action and command.action not in FIXED]


def keys_clash(
    commands: Sequence[Command], keys: Mapping[str, str], beside: Mapping[str, str] | None = None
) -> Command | None:
    """A command whose key one of these would take away, with others given ``beside``; None where none would. Letters of
    menus can be taken: their menus are behind the key of all menus then.
    """
    others = {**(beside or {}), **keys}
    for name, key in keys.items():
        for command in commands:
            bound = others.get(command.name, command.key)
            if command.name != name and bound and bound in (key, CALLED.get(key, key)):
                return command
    return None


CALLED = {
    "?": "question_mark", "=": "equals_sign", "/": "slash", ",": "comma", ".": "full_stop", "+": "plus", "-": "minus",
    "_": "underscore", "@": "at", ";": "semicolon", "&": "ampersand",
    "[": "left_square_bracket", "]": "right_square_bracket", "<": "less_than_sign", ">": "greater_than_sign",
}  # fmt: skip
"""Keys as the terminal's driver calls them, by the sign on them."""


def rebind(keys: Mapping[str, str]) -> tuple[str, ...]:
    """Give commands other keys, by their names; those that are not named have their usual ones. What clashes, or is no
    command, is left out, and told: all others stand.
    """
    known = {command.name for command in rebindable()}
    taken = {FORMER.get(name, name): str(key) for name, key in keys.items() if isinstance(key, str) and key}
    refused = [f"keys.{name}: there is no such command" for name in taken if name not in known]
    taken = {name: key for name, key in taken.items() if name in known}
    for name in list(taken):
        other = keys_clash(_USUAL, {name: taken[name]}, {**taken})
        if other is not None:
            refused.append(f"keys.{name}: {taken.pop(name)} is the key of '{other.help}' already")
    for place, command in enumerate(_USUAL):
        if command.name in taken:
            key = taken[command.name]
            COMMANDS[place] = replace(command, key=CALLED.get(key, key), shown=key, usual=command.key)
        else:
            COMMANDS[place] = command
    BY_ACTION.update({command.action.partition("(")[0]: command for command in COMMANDS})
    return tuple(refused)
