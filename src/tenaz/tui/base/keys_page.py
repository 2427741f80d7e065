"""The guide's page of keys and menus, made of the commands."""

from itertools import groupby

from tenaz.tui.base.commands import COMMANDS
from tenaz.tui.base.menus import MENUS, PATH

HEAD = f"""# Keys and menus

A dozen keys act everywhere. All else stands in eight menus, each opened by its letter: `p{PATH}b` is `p` and then `b`,
and shows the book. What makes no sense now is faint there, with the reason. `;` shows all menus, `/` and `ctrl+p` find
anything by our words and by the trade's. A letter typed by mistake starts, ends and discards nothing that costs time on
a real machine: that says what it costs, and takes Enter. Every command can have [a key of your own](settings.md).
"""


def keys_text() -> str:
    """The page as Markdown."""
    parts = [HEAD]
    by_group = {group: list(found) for group, found in groupby(sorted(COMMANDS, key=_group), key=_group)}
    parts += ["## Everywhere\n", "| | |\n|---|---|"]
    parts += [f"| `{one.shown}` | {one.help} |" for one in by_group["everywhere"]]
    parts.append("| digits, `-`, `.` | type a value of the knob in hand, or a whole line: `6000 30-38-38-96 1.35V` |\n")
    parts.append("## Menus\n")
    for menu in MENUS:
        parts.append(f"**`{menu.letter}` {menu.name}**: {menu.about}\n\n| | | own key |\n|---|---|---|")
        parts += [
            f"| `{menu.letter}{PATH}{one.letter}` | {one.words} | {_shown(one.key)} |".replace(" |  |", " | |")
            for one in menu.entries()
        ]
        parts.append("")
    parts += ["## On some pages only\n", "They stand at the foot of their pages.\n", "| page | | |\n|---|---|---|"]
    parts += [f"| {', '.join(one.pages)} | `{one.shown}` | {one.help} |" for one in by_group["on pages"]]
    return "\n".join((*parts, ""))


def _group(command: object) -> str:
    return str(getattr(command, "group", ""))


def _shown(key: str) -> str:
    return f"`{key}`" if key else ""
