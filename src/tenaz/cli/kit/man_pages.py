"""Man pages, of the same words as help and guide: ``python -m tenaz.cli.kit.man_pages FOLDER``."""

import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import typer

from tenaz import __version__
from tenaz.cli.kit.statuses import STATUSES

CODE = "        "
"""How examples are indented in help."""


def write_man_pages(app: typer.Typer, folder: Path) -> None:
    """A page of the whole, and one of each command."""
    whole: Any = typer.main.get_command(app)
    folder.mkdir(parents=True, exist_ok=True)
    for name, command in _commands(whole, ("tenaz",)):
        (folder / f"{'-'.join(name)}.1").write_text(_page(name, command), encoding="utf-8")
    (folder / "tenaz.1").write_text(_page(("tenaz",), whole), encoding="utf-8")


def _commands(command: Any, name: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], Any]]:
    for part, inner in command.commands.items():
        if hasattr(inner, "commands"):
            yield from _commands(inner, (*name, part))
        elif not inner.hidden:
            yield (*name, part), inner


def _page(name: tuple[str, ...], command: Any) -> str:
    told, _, statuses = (command.help or "").replace("\f", "").partition("Exit status:")
    first, _, rest = told.strip().partition("\n")
    context = command.make_context(" ".join(name), [], resilient_parsing=True)
    usage = command.get_usage(context).partition(":")[2].strip()
    lines = [
        f'.TH "{_plain("-".join(name).upper())}" 1 "" "tenaz {__version__}" "Tenaz"',
        ".SH NAME",
        f"{_plain('-'.join(name))} \\- {_plain(first)}",
        ".SH SYNOPSIS",
        _plain(" ".join(usage.split())),
        ".SH DESCRIPTION",
        *_paragraphs(rest or first),
        ".SH OPTIONS",
    ]
    for parameter in command.get_params(context):
        record = parameter.get_help_record(context)
        if record is not None:
            lines += [".TP", f"\\fB{_plain(record[0])}\\fR", _plain(" ".join(record[1].split()))]
    if hasattr(command, "commands"):
        lines.append(".SH COMMANDS")
        for below, one in _commands(command, name):
            words = (one.help or "").strip().partition("\n")[0]
            lines += [".TP", f"\\fB{_plain('-'.join(below))}\\fR(1)", _plain(words)]
    lines.append(".SH EXIT STATUS")
    if statuses.strip():
        lines.append(_plain(" ".join(statuses.split())))
    else:
        for number, words in STATUSES.items():
            lines += [".TP", str(number), _plain(words)]
    return "\n".join((*lines, ""))


def _paragraphs(text: str) -> list[str]:
    """Help's paragraphs; what is indented is an example, as it stands."""
    lines, quoted = [], False
    for line in text.splitlines():
        is_code = line.startswith("    ")
        if is_code != quoted and line.strip():
            lines.append(".nf" if is_code else ".fi")
            quoted = is_code
        lines.append(_plain(line.strip("\n")) if line.strip() else ".PP" if not quoted else "")
    return [*lines, ".fi"] if quoted else lines


def _plain(text: str) -> str:
    """As it stands, whatever it begins with."""
    text = text.replace("**", "").replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{text}" if text.startswith((".", "'")) else text


if __name__ == "__main__":
    from tenaz.cli.app import app

    write_man_pages(app, Path(sys.argv[1]))
