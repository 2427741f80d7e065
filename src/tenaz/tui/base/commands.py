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
    TIME = "the canvas has a time axis"
    SCROLLS = "the canvas can be moved over"
    SAVED = "setpoints are saved"
    TYPING_IN = "values are being typed in"
    OPEN_NOTE = "the value in hand has an open note"
    DIFFERING = "a value read otherwise than asked"


STARTS = (Need.IDLE, Need.WRITABLE)
"""Of whatever begins or changes something in the book."""


@dataclass(frozen=True, slots=True)
class Command:
    """One action: its key as Textual names it, how the key is shown, a word for the footer, a line for the help."""

    action: str
    key: str
    shown: str
    word: str
    help: str
    needs: tuple[Need, ...] = STARTS
    group: str = "loop"
    footer: bool = True
    of_app: bool = False
    usual: str = ""
    """Its key where another one was set; empty: it is as usual."""

    @property
    def name(self) -> str:
        """What it is called where another key is set for it."""
        return self.action

    @property
    def usual_key(self) -> str:
        """Its key when nothing else was set."""
        return self.usual or self.key

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


def _key(action: str, key: str, shown: str, group: str, help: str, *needs: Need) -> Command:
    """A command that is not in the bar."""
    return Command(action, key, shown, "", help, needs, group, footer=False)


WITHOUT_KEY = ("show_canvas", "take_named", "take_load", "take_rig", "restore_named", "open_trial", "tell_word")
"""Actions that what is found by its name does."""

_USUAL = (
    _key("turn_knob(-1)", "left", "←", "knobs", "dial the selected knob one grid step down"),
    _key("turn_knob(1)", "right", "→", "knobs", "dial the selected knob one grid step up"),
    _key("turn_knob(-5)", "shift+left", "⇧←", "knobs", "dial five steps down"),
    _key("turn_knob(5)", "shift+right", "⇧→", "knobs", "dial five steps up"),
    _key("select_knob(-1)", "up", "↑", "knobs", "select the knob above"),
    _key("select_knob(1)", "down", "↓", "knobs", "select the knob below"),
    _key("turn_page(-1)", "pageup", "PgUp", "knobs", "the page of the firmware before"),
    _key("turn_page(1)", "pagedown", "PgDn", "knobs", "the next page of the firmware"),
    _key("find_knob", "f", "f", "knobs", "take a knob in hand by its name"),
    Command(
        "type_value", "v", "v", "value", "type a value for the selected knob (or just type its digits)", (), "knobs"
    ),
    Command("keep_in_force", "k", "k", "keep", "dial everything back to what is in force", (), "knobs"),
    _key("dial_stock", "0", "0", "knobs", "dial everything to stock"),
    _key("dial_back", "z", "z", "knobs", "what was dialled before, several steps back"),
    _key("dial_forth", "Z", "Z", "knobs", "what was dialled before going back"),
    Command("carry_sheet", "r", "r", "carry", "carry the whole sheet to another data rate, times kept", (), "sheet"),
    _key("compare_next", "equals_sign", "=", "sheet", "compare with the next saved setpoint", Need.SAVED),
    _key("show_differing", "d", "d", "sheet", "the sheet: all lines, or only those that differ"),
    _key("tick_line", "space", "␣", "sheet", "tick the next line that is typed in", Need.TYPING_IN),
    _key("untick_line", "backspace", "⌫", "sheet", "take the last tick back"),
    _key("note_value", "o", "o", "sheet", "note on the value in hand: floor, loose, inert …", Need.WRITABLE),
    _key(
        "settle_note", "O", "O", "sheet", "the note on the value in hand is followed up", Need.WRITABLE, Need.OPEN_NOTE
    ),
    _key("save_setpoint", "S", "S", "sheet", "save what is dialled under a name", Need.WRITABLE),
    _key("dial_profile", "at", "@", "sheet", "a memory profile: one that the modules store, or as their label says"),
    _key("restore_setpoint", "R", "R", "sheet", "dial a saved setpoint, or one from a file"),
    _key(
        "correct_grid",
        "G",
        "G",
        "sheet",
        "take the value that the firmware made another of off its knob's grid",
        *STARTS,
        Need.DIFFERING,
    ),
    Command("climb", "c", "c", "climb", "begin a climb along the selected knob, or go on with the one begun"),
    Command("start_trial", "t", "t", "trial", "start one trial at the dialled values"),
    _key("follow_next", "enter", "⏎", "loop", "do what the line next says", *STARTS),
    _key("run_routine", "T", "T", "loop", "a routine at the dialled values: loads in turn, composed in place", *STARTS),
    _key("end_climb", "a", "a", "loop", "end the climb under way; its trials stay", *STARTS, Need.SEARCHING),
    _key("measure", "j", "j", "loop", "measure how fast it is, or type a figure of your own", *STARTS),
    _key("begin_field", "h", "h", "loop", "a field over two knobs: which pairs hold; or go on with it", *STARTS),
    _key("begin_night", "U", "U", "loop", "a night: the whole rig tuned alone, from stock; or go on with it", *STARTS),
    _key("tell_against", "J", "J", "canvas", "scores: tell them against another setpoint"),
    Command("stop_run", "s", "s", "stop", "stop what runs; it is recorded as stopped by hand", (Need.RUNNING,)),
    Command("choose_load", "l", "l", "load", "choose the load of the next trial or climb", ()),
    _key("choose_strategy", "C", "C", "loop", "choose how climbs search: adapt, stride, halve, retreat, hold", *STARTS),
    Command("next_pace", "p", "p", "pace", "how fast simulated time passes", (Need.SIMULATED,), "bench"),
    Command("show_find", "F", "F", "fault", "what is wrong with it: the question path on the Rig canvas", (), "find"),
    _key("work_on_parts", "P", "P", "find", "work on the parts: modules, cores, cooler, supply", *STARTS),
    _key("label_part", "L", "L", "find", "a label on the part pointed at: good, bad, suspect …", Need.WRITABLE),
    _key("tick_symptom", "y", "y", "find", "tick what was noticed of the rig", Need.WRITABLE),
    _key("write_claim", "K", "K", "find", "write what to order or claim, of the part pointed at or likeliest"),
    Command("next_bench", "b", "b", "bench", "reach the rig another way", (Need.IDLE,), "bench"),
    Command("choose_rig", "g", "g", "rig", "the list of rigs: whose, what for, where it stands", (Need.IDLE,), "bench"),
    _key("take_in", "i", "i", "bench", "fill the rig in anew from this machine (bench here)", *STARTS),
    Command(
        "edit_rig",
        "e",
        "e",
        "edit",
        "fill in by hand what is known of the rig, its purpose and ceilings",
        group="bench",
    ),
    _key("new_rig", "n", "n", "bench", "add a rig to the book by hand", *STARTS),
    Command(
        "turn_canvas",
        "w",
        "w",
        "canvas",
        "the next canvas: climb, margins, cycle, sheet, load … plan, book, day",
        (),
        "canvas",
    ),
    Command("show_menu", "semicolon", ";", "menu", "all that can be done, in menus", (), "screen"),
    _key("turn_canvas(-1)", "W", "W", "canvas", "the canvas before"),
    _key(
        "move_time(-1)",
        "left_square_bracket",
        "[",
        "canvas",
        "time cursor back (load); else scroll up",
        Need.SCROLLS,
    ),
    _key(
        "move_time(1)",
        "right_square_bracket",
        "]",
        "canvas",
        "time cursor on (load); else scroll down",
        Need.SCROLLS,
    ),
    _key("zoom_time(50)", "plus", "+", "canvas", "load: show half the time", Need.TIME),
    _key("zoom_time(200)", "underscore", "_", "canvas", "load: show twice the time (or -)", Need.TIME),
    Command(
        "find_anything", "slash", "/", "find", "find anything: knobs, pages, actions, rigs, loads, trials", (), "screen"
    ),
    _key("filter_lines", "ampersand", "&", "canvas", "show only log lines and sensors that hold a text"),
    Command("show_day", "D", "D", "day", "the day: how far the work has come, where all stands", (), "canvas"),
    _key("put_on_plan", "Q", "Q", "plan", "put the dialled values, or the climb under way, on the plan", Need.WRITABLE),
    _key("run_plan", "N", "N", "plan", "make all that is planned, by itself", *STARTS, Need.PLANNED),
    _key("move_planned(-1)", "less_than_sign", "<", "plan", "the planned trial pointed at: earlier", Need.PLANNED),
    _key("move_planned(1)", "greater_than_sign", ">", "plan", "the planned trial pointed at: later", Need.PLANNED),
    _key("skip_planned", "delete", "Del", "plan", "the planned trial pointed at: skip it", Need.WRITABLE, Need.PLANNED),
    _key("search_book", "B", "B", "book", "look for trials by rig, knob, value, outcome, date, note"),
    _key("mark_trial", "M", "M", "book", "compare other trials with the opened one"),
    _key("correct_trial", "X", "X", "book", "correct how the trial pointed at ended, or what it ran at", *STARTS),
    _key("enter_past", "E", "E", "book", "enter trials made elsewhere or before: a line, or a whole file", *STARTS),
    _key("look_back", "H", "H", "book", "look at a climb of before along the knob in hand", Need.CLIMBS),
    _key("point_at(-1)", "comma", ",", "book", "point at the trial, or the part, before", Need.TRIALS),
    _key("point_at(1)", "full_stop", ".", "book", "point at the trial, or the part, after", Need.TRIALS),
    Command(
        "undo_record",
        "u",
        "u",
        "undo",
        "take back what was done last, step by step: records, notes, rigs …",
        group="book",
    ),
    Command("note_trial", "m", "m", "note", "put a note on the trial pointed at", (Need.WRITABLE, Need.TRIALS), "book"),
    Command(
        "export_canvas",
        "x",
        "x",
        "export",
        "write what the canvas shows: pictures as SVG or PDF, the sheet also as TOML, CSV or text",
        (),
        "book",
    ),
    _key("show_follow_ups", "I", "I", "book", "what is to be come back to, on all rigs: done or dropped from there"),
    _key("make_report", "V", "V", "book", "the report: a page for the client, or all of it for the shelf", Need.IDLE),
    Command("fold", "tab", "⇥", "panel", "show the next panel (small screen)", (), "screen", False, of_app=True),
    _key("show_stick", "A", "A", "screen", "the stick: make one; aboard it, its standing order, restart, off"),
    _key("edit_settings", "Y", "Y", "screen", "settings: how it looks, what is usual, who is told, which keys"),
    Command("theme", "f2", "F2", "light", "soot or chalk: the dark and the light theme", (), "screen", False, True),
    Command(
        "help", "question_mark", "?", "help", "what the canvas in sight shows, and all keys", (), "screen", of_app=True
    ),
    Command("quit", "q", "q", "quit", "leave; asks while something runs", (), "screen", of_app=True),
)

COMMANDS = list(_USUAL)
"""All of them, with their keys as they are now."""

BY_ACTION = {command.action.partition("(")[0]: command for command in COMMANDS}
"""One command an action; those that differ only in how far they step have the same needs."""

FIXED = ("fold", "follow_next", "dial_stock")
"""Commands whose keys mean something in every line that is typed."""


def rebindable() -> list[Command]:
    """Commands that may have another key: those without steps, and not those whose keys also belong to typing."""
    return [command for command in COMMANDS if "(" not in command.action and command.action not in FIXED]


def keys_clash(
    commands: Sequence[Command], keys: Mapping[str, str], beside: Mapping[str, str] | None = None
) -> Command | None:
    """A command whose key one of these would take away, with others given ``beside``; None where none would."""
    others = {**(beside or {}), **keys}
    for name, key in keys.items():
        for command in commands:
            bound = others.get(command.name, command.key)
            if command.name != name and bound in (key, CALLED.get(key, key)):
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
    taken = {name: str(key) for name, key in keys.items() if isinstance(key, str) and key}
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
