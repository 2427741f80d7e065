"""The guide's page of commands, made of what they tell of themselves."""

from typing import Any

import typer

from tenaz.cli.kit.as_json import FORMATS
from tenaz.cli.kit.statuses import statuses_text

FORMS = "\n".join(f"- [{name}](../schemas/told/{name}.schema.json): {told}" for name, told in FORMATS.items())

HEAD = f"""# Commands of the shell

`tenaz COMMAND --help` tells all options. `--book FILE` before the command uses another book than the usual one in your
data folder, `--book postgresql://…` one on a server. A command that needs a rig and is told none works on the one
worked on last, and says which that is. Whoever reads the output and has had enough, like `head`, makes no error of it.

With `--json` a command prints one object with the name of its form and a version, which is raised where a form changes
otherwise than by a field more; `load` and `watch` print one such object a line. Every form has a schema:

{FORMS}
"""


def commands_text(app: typer.Typer) -> str:
    """The page as Markdown: by group, each command with what it does, its examples and its exit status."""
    group: Any = typer.main.get_command(app)
    parts, shown = [HEAD, f"## Exit statuses\n\n{statuses_text()}\n"], ""
    for name, command in group.commands.items():
        if command.hidden:
            continue
        panel = str(getattr(command, "rich_help_panel", "") or "")
        if panel != shown:
            parts.append(f"## {panel}\n")
            shown = panel
        parts.append(f"### tenaz {name}\n\n{_told(command.help or '')}\n")
        if hasattr(command, "commands"):
            for below, one in command.commands.items():
                parts.append(f"- `tenaz {name} {below}`: {(one.help or '').strip().splitlines()[0]}")
            parts.append("")
    return "\n".join(parts)


def _told(text: str) -> str:
    lines = [line.rstrip() for line in text.replace("\f", "").strip().splitlines()]
    return "\n".join(lines)
