"""The guide's page of commands, made of what they tell of themselves."""

import re
from collections.abc import Iterator
from typing import Any

import typer

from tenaz.cli.kit.as_json import FORMATS, FORMS_OF
from tenaz.cli.kit.statuses import STATUSES, statuses_text

FORMS = "\n".join(f"- [{name}](../schemas/told/{name}.schema.json): {told}" for name, told in FORMATS.items())

HEAD = f"""# Commands of the shell

`tenaz COMMAND --help` tells all options. `--book FILE` before the command uses another book than the usual one in your
data folder, `--book postgresql://…` one on a server. A command that needs a rig and is told none works on the one
worked on last, and says which that is. Whoever reads the output and has had enough, like `head`, makes no error of it.

With `--json` a command prints one object with the name of its form and a version, which is raised where a form changes
otherwise than by a field more; `load` and `watch` print one such object a line. Commands that only do something have no
`--json`: they say that they did. Every form has a schema:

{FORMS}

`-q` tells nothing but the result and errors, `-v` also which book, rig, bench and settings are worked on, all of the
log, and what an error rests on.
"""


def commands_text(app: typer.Typer) -> str:
    """The page as Markdown: by group, each command with what it does, its examples and its exit status."""
    group: Any = typer.main.get_command(app)
    parts, shown = [HEAD, f"## Exit statuses\n\n{statuses_text()}\n", _table(group)], ""
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


def _table(group: Any) -> str:
    """Every command: what it prints as JSON, which of its words a shell completes, how it can end."""
    rows = ["| command | `--json` | completes | exit statuses |", "|---|---|---|---|"]
    for name, command in _leaves(group, ""):
        forms = ", ".join(f"[{one}](../schemas/told/{one}.schema.json)" for one in FORMS_OF.get(name, ()))
        completed = [one for one in command.params if getattr(one, "_custom_shell_complete", None)]
        words = ", ".join(f"`{one.opts[0]}`" if one.opts[0].startswith("-") else one.opts[0] for one in completed)
        told = " ".join((command.help or "").split()).partition("Exit status:")[2]
        statuses = [one for one in map(str, STATUSES) if re.search(rf"\b{one}\b (?=[a-z])", told)]
        rows.append(f"| `{name}` | {forms} | {words} | {', '.join(statuses)} |")
    return "\n".join(rows) + "\n"


def _leaves(group: Any, before: str) -> Iterator[tuple[str, Any]]:
    for name, command in group.commands.items():
        if hasattr(command, "commands"):
            yield from _leaves(command, f"{name} ")
        elif not command.hidden:
            yield before + name, command


def _told(text: str) -> str:
    lines = [line.rstrip() for line in text.replace("\f", "").strip().splitlines()]
    return "\n".join(lines)
