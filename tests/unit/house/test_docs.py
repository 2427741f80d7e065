"""Files that the docs name are there, and no file has a name that a command would take for an option."""

import re
import subprocess
import textwrap
from pathlib import Path

import pytest

import tenaz
from tenaz.catalogues.reading import parse_toml
from tenaz.settings.model import Settings

ROOT, SOURCE = Path(__file__).parents[3], Path(tenaz.__file__).parent
DOCS = [
    ROOT / "README.md",
    ROOT / "CONTRIBUTING.md",
    *sorted((ROOT / "docs").glob("*.md")),
    *sorted((ROOT / "docs/guide").glob("*.md")),
]
PLACEHOLDERS = re.compile(r"[A-Z]{3,}|…|\\*")
OF_THE_HOUSE = re.compile(r"`((?:src|tests|docs|[a-z_]+)/[A-Za-z0-9_./-]*)`")


def _there(name: str, room: Path) -> bool:
    """A path from the root or from the source, with or without its ending, perhaps with a name within it."""
    for base in (ROOT, SOURCE, room):
        whole = base / name
        if whole.exists() or whole.with_suffix(".py").exists() or (base / f"{name}.py").exists():
            return True
    return False


@pytest.mark.parametrize("doc", DOCS, ids=lambda path: path.name)
def test_what_is_named_is_there(doc: Path) -> None:
    text = doc.read_text(encoding="utf-8")
    links = [link for link in re.findall(r"\]\(([^)#\s]+)", text) if "://" not in link]
    assert [link for link in links if not (doc.parent / link).exists()] == []
    rooms = {path.name for path in SOURCE.iterdir() if path.is_dir()} | {"src", "tests", "docs"}
    named = [
        name for name in OF_THE_HOUSE.findall(text) if name.split("/")[0] in rooms and not PLACEHOLDERS.search(name)
    ]
    assert [name for name in named if not _there(name.rstrip("/"), doc.parent)] == []


EXAMPLES = [
    (path.name, block)
    for path in DOCS
    for block in re.findall(r"(?m)^    \[[a-z]+\]\n(?:    .*\n|\n(?=    ))*", path.read_text("utf-8"))
]


@pytest.mark.parametrize(("name", "block"), EXAMPLES, ids=[f"{name}-{at}" for at, (name, _) in enumerate(EXAMPLES)])
def test_settings_that_the_guide_shows_can_be_set(name: str, block: str) -> None:
    text = textwrap.dedent(block)
    if set(re.findall(r"(?m)^\[([a-z]+)\]", text)) <= set(Settings.model_fields):
        assert parse_toml(Settings, text, name)


def test_versions_with_hashes_are_those_of_the_constraints() -> None:
    def pinned(name: str) -> dict[str, str]:
        text = (ROOT / name).read_text("utf-8")
        assert "://" not in text
        return dict(re.findall(r"(?m)^([A-Za-z0-9_.-]+)==([^\s;\\]+)", text.replace("_", "-").lower()))

    wanted = pinned("constraints.txt")
    names = ("", "-server", "-graphics", "-development")
    sets = [pinned(f"requirements{name}.txt") for name in names]
    for one in sets:
        assert {name: version for name, version in one.items() if name != "colorama"}.items() <= wanted.items()
    assert all(set(sets[0]) < set(one) < set(sets[-1]) for one in sets[1:-1])
    assert set(wanted) <= set(sets[-1])


def test_no_name_begins_like_an_option() -> None:
    files = subprocess.run(
        ["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.splitlines()
    assert files
    assert [file for file in files if any(part.startswith("-") for part in Path(file).parts)] == []
