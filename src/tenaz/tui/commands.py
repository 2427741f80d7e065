"""Every action, declared once: keys, footer, palette and help are all made from this list."""

from dataclasses import dataclass
from enum import StrEnum


class When(StrEnum):
    """In which state of the workbench a command makes sense."""

    ALWAYS = "always"
    IDLE = "idle"
    RUNNING = "running"


@dataclass(frozen=True, slots=True)
class Command:
    """One action: its key as Textual names it, how the key is shown, a word for the footer, a line for the help."""

    action: str
    key: str
    shown: str
    word: str
    help: str
    when: When = When.IDLE
    group: str = "loop"
    footer: bool = True
    of_app: bool = False

    @property
    def binding(self) -> str:
        """The action as Textual runs it: the session's orders, or one of the application itself."""
        if self.of_app:
            return self.action
        name, _, argument = self.action.partition("(")
        return f"order('{name}'{f', {argument}' if argument else ')'}"

    @property
    def in_palette(self) -> bool:
        """Whether it can be found by name; steps to and fro are for keys only."""
        return "(" not in self.action


COMMANDS = (
    Command("dial(-1)", "left", "←", "", "dial the selected knob one grid step down", When.ALWAYS, "knobs", False),
    Command("dial(1)", "right", "→", "", "dial the selected knob one grid step up", When.ALWAYS, "knobs", False),
    Command("dial(-5)", "shift+left", "⇧←", "", "dial five steps down", When.ALWAYS, "knobs", False),
    Command("dial(5)", "shift+right", "⇧→", "", "dial five steps up", When.ALWAYS, "knobs", False),
    Command("select(-1)", "up", "↑", "", "select the knob above", When.ALWAYS, "knobs", False),
    Command("select(1)", "down", "↓", "", "select the knob below", When.ALWAYS, "knobs", False),
    Command("group(-1)", "pageup", "PgUp", "", "the page of the firmware before", When.ALWAYS, "knobs", False),
    Command("group(1)", "pagedown", "PgDn", "", "the next page of the firmware", When.ALWAYS, "knobs", False),
    Command("find", "f", "f", "find", "take a knob in hand by its name", When.ALWAYS, "knobs", False),
    Command(
        "type_value",
        "v",
        "v",
        "value",
        "type a value for the selected knob (or just type its digits)",
        When.ALWAYS,
        "knobs",
    ),
    Command("undial", "k", "k", "keep", "dial everything back to what is in force", When.ALWAYS, "knobs"),
    Command("stock", "0", "0", "stock", "dial everything to stock", When.ALWAYS, "knobs", False),
    Command("carry", "r", "r", "carry", "carry the whole sheet to another data rate, times kept", When.ALWAYS, "sheet"),
    Command(
        "compare", "equals_sign", "=", "compare", "compare with the next saved setpoint", When.ALWAYS, "sheet", False
    ),
    Command("differing", "d", "d", "", "the sheet: all lines, or only those that differ", When.ALWAYS, "sheet", False),
    Command("tick", "space", "␣", "", "tick the next line that is typed in", When.ALWAYS, "sheet", False),
    Command("untick", "backspace", "⌫", "", "take the last tick back", When.ALWAYS, "sheet", False),
    Command(
        "note_value", "o", "o", "", "note on the value in hand: floor, loose, inert …", When.ALWAYS, "sheet", False
    ),
    Command("settle", "O", "O", "", "the note on the value in hand is followed up", When.ALWAYS, "sheet", False),
    Command("save", "S", "S", "", "save what is dialled under a name", When.ALWAYS, "sheet", False),
    Command("restore", "R", "R", "", "dial a saved setpoint, or one from a file", When.ALWAYS, "sheet", False),
    Command("climb", "c", "c", "climb", "begin a climb along the selected knob, or go on with the one begun"),
    Command("trial", "t", "t", "trial", "start one trial at the dialled values"),
    Command("follow", "enter", "⏎", "", "do what the line next says", footer=False),
    Command(
        "routine",
        "T",
        "T",
        "routine",
        "loads in turn at the dialled values: sift, prove, soak, or your own",
        When.IDLE,
        "loop",
        False,
    ),
    Command(
        "abandon",
        "a",
        "a",
        "end climb",
        "end the climb under way where it stands; its trials stay",
        footer=False,
    ),
    Command("stop", "s", "s", "stop", "stop what runs; it is recorded as stopped by hand", When.RUNNING),
    Command("load", "l", "l", "load", "choose the load of the next trial or climb"),
    Command("pace", "p", "p", "pace", "how fast simulated time passes", When.IDLE, "bench"),
    Command("bench", "b", "b", "bench", "reach the rig another way", When.IDLE, "bench"),
    Command("rig", "g", "g", "rig", "work on the next rig of the book", When.IDLE, "bench"),
    Command(
        "intake",
        "i",
        "i",
        "take in",
        "fill the rig in anew from this machine (bench here)",
        footer=False,
        group="bench",
    ),
    Command(
        "edit_rig",
        "e",
        "e",
        "edit",
        "fill in by hand what is known of the rig, its purpose and ceilings",
        group="bench",
    ),
    Command("new_rig", "n", "n", "new rig", "add a rig to the book by hand", footer=False, group="bench"),
    Command(
        "canvas", "w", "w", "canvas", "the next canvas: climb, cycle, sheet, load, prints, rig", When.ALWAYS, "canvas"
    ),
    Command("canvas(-1)", "W", "W", "", "the canvas before", When.ALWAYS, "canvas", False),
    Command(
        "time_cursor(-1)",
        "left_square_bracket",
        "[",
        "",
        "time cursor back (load); scroll up (rig)",
        When.ALWAYS,
        "canvas",
        False,
    ),
    Command(
        "time_cursor(1)",
        "right_square_bracket",
        "]",
        "",
        "time cursor on (load); scroll down (rig)",
        When.ALWAYS,
        "canvas",
        False,
    ),
    Command("zoom(50)", "plus", "+", "", "load: show half the time", When.ALWAYS, "canvas", False),
    Command("zoom(200)", "minus", "-", "", "load: show twice the time", When.ALWAYS, "canvas", False),
    Command(
        "filter", "slash", "/", "filter", "show only log lines and sensors that hold a text", When.ALWAYS, "canvas"
    ),
    Command("cursor(-1)", "comma", ",", "", "point at the trial before", When.ALWAYS, "book", False),
    Command("cursor(1)", "full_stop", ".", "", "point at the trial after", When.ALWAYS, "book", False),
    Command(
        "undo",
        "u",
        "u",
        "undo",
        "take back the newest record; the trial then waits for another",
        When.IDLE,
        "book",
    ),
    Command("note", "m", "m", "note", "put a note on the trial pointed at", When.ALWAYS, "book"),
    Command(
        "export",
        "x",
        "x",
        "export",
        "write what the canvas shows: pictures as SVG or PDF, the sheet also as TOML, CSV or text",
        When.ALWAYS,
        "book",
    ),
    Command(
        "fold", "tab", "⇥", "panel", "show the next panel (small screen)", When.ALWAYS, "screen", False, of_app=True
    ),
    Command(
        "theme",
        "f2",
        "F2",
        "light",
        "soot or chalk: the dark and the light theme",
        When.ALWAYS,
        "screen",
        False,
        of_app=True,
    ),
    Command("help", "question_mark", "?", "help", "all keys", When.ALWAYS, "screen", of_app=True),
    Command("quit", "q", "q", "quit", "leave; asks while something runs", When.ALWAYS, "screen", of_app=True),
)
