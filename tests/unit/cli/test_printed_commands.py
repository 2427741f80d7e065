"""Every command that the README, the guide and the help print is one: its words are taken, and the quick ones run."""

import re
import shlex
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
import typer
from typer.testing import CliRunner

from tenaz.cli.app import app
from tenaz.workshop.errands.demo_book import make_demo_book

ROOT = Path(__file__).parents[3]
PLACEHOLDERS = re.compile(r"\b(FILE|NAME|DIR|FOLDER|WORDS|COMMAND|sdX)\b|…")
MENTION = re.compile(r"tenaz [a-z-]+( [a-z]+)?( --[a-z-]+)?")
"""A command that is only spoken of, perhaps with an option whose value is not named."""
QUICK = (
    "book", "chart", "drift", "end", "enter", "find", "follow-ups", "margins", "plan", "probe", "report", "rig",
    "scores", "seen", "session", "sheet", "sim", "trial", "words",
)  # fmt: skip
SLOW = ("--go", "--run")


def commands() -> Iterator[tuple[tuple[str, ...], Any]]:
    def walk(command: Any, name: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], Any]]:
        if hasattr(command, "commands"):
            for part, inner in command.commands.items():
                yield from walk(inner, (*name, part))
        else:
            yield name, command

    yield from walk(typer.main.get_command(app), ())


def printed() -> list[str]:
    found = [line for _, command in commands() for line in (command.help or "").splitlines()]
    for path in (ROOT / "README.md", *sorted((ROOT / "docs" / "guide").glob("*.md"))):
        text = path.read_text(encoding="utf-8")
        found += [*re.findall(r"`((?:sudo )?tenaz [^`\n]+)`", text), *text.splitlines()]
    lines = (line.strip().removeprefix("sudo ") for line in found)
    told = {line for line in lines if line.startswith("tenaz ") and not PLACEHOLDERS.search(line)}
    return sorted(line for line in told if not MENTION.fullmatch(line))


LINES = [line for line in printed() if not line.startswith("tenaz --")]


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    place = tmp_path_factory.mktemp("printed") / "demo.db"
    make_demo_book(place)
    return place


def test_there_are_many() -> None:
    assert len(LINES) > 120


@pytest.mark.parametrize("line", LINES)
def test_a_printed_command_is_one(line: str, demo: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    words = shlex.split(line, comments=True)[1:]
    known = dict(commands())
    name = next((tuple(words[:count]) for count in (2, 1) if tuple(words[:count]) in known), None)
    assert name is not None, f"there is no such command: {line}"
    monkeypatch.chdir(tmp_path)
    arguments = words[len(name) :]
    if words[0] not in QUICK or any(word in SLOW for word in words):
        known[name].make_context(" ".join(name), list(arguments), resilient_parsing=False)
        return
    book = tmp_path / "book.db"
    shutil.copy(demo, book)
    found = CliRunner().invoke(app, ["--book", str(book), *words])
    assert found.exception is None or isinstance(found.exception, SystemExit), found.output
    assert found.exit_code in (0, 1, 2), found.output
    assert "No such option" not in found.output, found.output
    assert "Usage:" not in found.output, found.output
