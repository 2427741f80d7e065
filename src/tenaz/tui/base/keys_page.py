"""The guide's page of keys and menus, made of the commands."""

from itertools import groupby

from tenaz.tui.base.commands import COMMANDS
from tenaz.tui.base.menus import MENUS

HEAD = """# Keys and menus

`;` opens the menus: a letter opens one, another does what stands beside it; what makes no sense now is faint, with the
reason. Typed in one go they work too: `;pb` shows the book. Every command has a key of its own besides, which can be
[another one](settings.md). `/` and `ctrl+p` find anything by our words and by the trade's.
"""


def keys_text() -> str:
    """The page as Markdown."""
    parts = [HEAD, "## Menus\n"]
    for menu in MENUS:
        parts.append(f"**`{menu.letter}` {menu.name}**: {menu.about}\n\n| | | key |\n|---|---|---|")
        parts += [
            f"| `;{menu.letter}{one.letter}` | {one.words} | {_shown(one.key)} |".replace(" |  |", " | |")
            for one in menu.entries()
        ]
        parts.append("")
    parts.append("## Keys\n")
    for group, commands in groupby(COMMANDS, key=lambda command: command.group):
        parts.append(f"| {group} | |\n|---|---|")
        parts += [f"| {_shown(command.shown)} | {command.help} |" for command in commands]
        parts.append("")
    return "\n".join(parts)


def _shown(key: str) -> str:
    return f"`{key}`" if key else ""
